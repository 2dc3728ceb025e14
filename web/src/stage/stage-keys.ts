// The stage's keys. Ending is never one of them.
import { useEffect, useRef } from 'react';

export interface StageActions {
  take: () => void;
  microphone: () => void;
  break: () => void;
  /** The scene before or after the one that is next, in the station's order. */
  next: (by: 1 | -1) => void;
  share: () => void;
  cue: () => void;
  graphic: () => void;
  hideGraphic: () => void;
  clip: () => void;
  stopClip: () => void;
  help: () => void;
}

export const STAGE_KEYS: { key: string; does: string }[] = [
  { key: 'Space', does: 'Take: the next scene goes out' },
  { key: 'M', does: 'Own microphone on or off' },
  { key: 'B', does: 'Break: viewers see the break card; once more to resume' },
  { key: '↑ ↓', does: 'Another scene is next' },
  { key: 'C', does: 'The next cue of the running order is next again' },
  { key: 'G', does: 'Show the next graphic' },
  { key: '⇧ G', does: 'Hide the graphic' },
  { key: 'P', does: 'Play the next clip, or show the next picture' },
  { key: '⇧ P', does: 'Stop the clip, or take the picture away' },
  { key: 'S', does: 'Share a screen, or stop sharing' },
  { key: '?', does: 'All keys' },
];

/** Listens while `actions` is not null. Space takes whatever has the focus, except where one types; Enter presses what has it. */
export function useStageKeys(actions: StageActions | null): void {
  const latest = useRef(actions);
  useEffect(() => {
    latest.current = actions;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.closest('input, textarea, [contenteditable]');
      if (!latest.current || typing || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === ' ') {
        // Held down it takes once, and never presses what has the focus.
        if (!event.repeat) latest.current.take();
      } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
        // Lists and sliders have arrows of their own.
        if (event.target instanceof HTMLElement && event.target.closest('select, [role=radiogroup], [role=slider]')) return;
        latest.current.next(event.key === 'ArrowUp' ? -1 : 1);
      } else if (event.repeat) return;
      else if (event.key === 'm' || event.key === 'M') latest.current.microphone();
      else if (event.key === 'b' || event.key === 'B') latest.current.break();
      else if (event.key === 'g' || event.key === 'G') latest.current[event.shiftKey ? 'hideGraphic' : 'graphic']();
      else if (event.key === 'p' || event.key === 'P') latest.current[event.shiftKey ? 'stopClip' : 'clip']();
      else if (event.key === 'c' || event.key === 'C') latest.current.cue();
      else if (event.key === 's' || event.key === 'S') latest.current.share();
      else if (event.key === '?') latest.current.help();
      else return;
      event.preventDefault();
    };
    // A button is pressed when Space is let go: that press was a take.
    const onUp = (event: KeyboardEvent) => {
      if (latest.current && event.key === ' ' && event.target instanceof HTMLElement && event.target.closest('button, a, select')) event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    window.addEventListener('keyup', onUp);
    return () => {
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('keyup', onUp);
    };
  }, []);
}
