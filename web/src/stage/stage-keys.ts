// The stage's keys. Ending is never one of them.
import { useEffect, useRef } from 'react';

export interface StageActions {
  take: () => void;
  microphone: () => void;
  help: () => void;
}

export const STAGE_KEYS: { key: string; does: string }[] = [
  { key: 'Space', does: 'Take: the next scene goes out' },
  { key: 'M', does: 'Own microphone on or off' },
  { key: '?', does: 'All keys' },
];

/** Listens while `actions` is not null. A focused button keeps its own Space and Enter. */
export function useStageKeys(actions: StageActions | null): void {
  const latest = useRef(actions);
  useEffect(() => {
    latest.current = actions;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const busy = event.target instanceof HTMLElement && event.target.closest('input, textarea, select, a, [contenteditable]');
      const onButton = event.target instanceof HTMLElement && event.target.closest('button');
      if (!latest.current || busy || event.repeat || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === ' ' && !onButton) latest.current.take();
      else if (event.key === 'm' || event.key === 'M') latest.current.microphone();
      else if (event.key === '?') latest.current.help();
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}
