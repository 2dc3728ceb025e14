// The stage's keys: one for each thing, and another of the host's own, as of a key pad or a foot switch. Ending is never one of them.
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
  question: () => void;
  poll: () => void;
  clip: () => void;
  stopClip: () => void;
  sting: () => void;
  help: () => void;
  /** A guest by their place on the bench, from 1. */
  guest: (place: number) => void;
}

/** `key`: as browsers name it (UI Events KeyboardEvent key Values), letters small, with “Shift ” before one that is held with it. */
export const STAGE_KEYS = [
  { does: 'take', key: ' ', words: 'Take: the next scene goes out' },
  { does: 'microphone', key: 'm', words: 'Own microphone on or off' },
  { does: 'break', key: 'b', words: 'Break: viewers see the break card; once more to resume' },
  { does: 'earlier', key: 'ArrowUp', words: 'The scene before is next' },
  { does: 'later', key: 'ArrowDown', words: 'The scene after is next' },
  { does: 'cue', key: 'c', words: 'The next cue of the running order is next again' },
  { does: 'graphic', key: 'g', words: 'Show the next graphic' },
  { does: 'hideGraphic', key: 'Shift g', words: 'Hide the graphic' },
  { does: 'question', key: 'q', words: 'Put the oldest question on the picture, or take it off' },
  { does: 'poll', key: 'v', words: 'Put the poll on the picture, or take it off' },
  { does: 'clip', key: 'p', words: 'Play the next clip, or show the next picture' },
  { does: 'stopClip', key: 'Shift p', words: 'Stop the clip, or take the picture away' },
  { does: 'sting', key: 'i', words: 'Play the sting of the look' },
  { does: 'share', key: 's', words: 'Share a screen, or stop sharing' },
  { does: 'help', key: '?', words: 'All keys' },
] as const;
export type StageDeed = (typeof STAGE_KEYS)[number]['does'];

/** The host's own keys, beside those that are always there. */
export type OwnKeys = Partial<Record<StageDeed, string>>;

const OWN_KEYS = 'lantern-stage-keys';
/** Keys with which pages are moved in, and what is never a press of its own. */
const NOT_TAKEN = ['Tab', 'Shift Tab', 'Enter', 'Shift Enter', 'Escape', 'Shift', 'Control', 'Alt', 'Meta', 'Dead', 'Unidentified', 'Process'];

/** A press by its name; null: it is nobody's on the stage. */
export function keyOf({ key, shiftKey, ctrlKey, metaKey, altKey }: Pick<KeyboardEvent, 'key' | 'shiftKey' | 'ctrlKey' | 'metaKey' | 'altKey'>): string | null {
  if (ctrlKey || metaKey || altKey) return null;
  // What Shift makes of a sign is in the sign itself; a letter is the same one, held or not.
  const letter = key.length === 1 && key.toLowerCase() !== key.toUpperCase();
  const named = letter ? key.toLowerCase() : key;
  return shiftKey && (letter || key.length > 1) ? `Shift ${named}` : named;
}

export const deedOf = (key: string, own: OwnKeys): StageDeed | null =>
  STAGE_KEYS.find((each) => each.key === key)?.does ?? STAGE_KEYS.find(({ does }) => own[does] === key)?.does ?? null;

/** Gives a deed another key; a string says why it cannot be. */
export function withKey(own: OwnKeys, deed: StageDeed, key: string): OwnKeys | string {
  if (NOT_TAKEN.includes(key)) return `${sayKey(key)} moves about the page, and stays what it is.`;
  const taken = deedOf(key, own);
  if (taken === deed) return own;
  if (taken) return `${sayKey(key)} is taken: ${STAGE_KEYS.find(({ does }) => does === taken)!.words.toLowerCase()}.`;
  return { ...own, [deed]: key };
}

const SIGNS: Record<string, string> = { ' ': 'Space', ArrowUp: '↑', ArrowDown: '↓', ArrowLeft: '←', ArrowRight: '→' };

/** As it stands on the stage: “⇧ G”, “Space”, “F13”. */
export function sayKey(key: string): string {
  const [held, plain] = key.startsWith('Shift ') ? ['⇧ ', key.slice(6)] : ['', key];
  return held + (SIGNS[plain] ?? (plain.length === 1 ? plain.toUpperCase() : plain));
}

export function ownKeys(): OwnKeys {
  try {
    return JSON.parse(localStorage.getItem(OWN_KEYS) ?? '{}') as OwnKeys;
  } catch {
    return {};
  }
}

export const keepOwnKeys = (own: OwnKeys): void => localStorage.setItem(OWN_KEYS, JSON.stringify(own));

/** Listens while `actions` is not null. Space takes whatever has the focus, except where one types; Enter presses what has it. */
export function useStageKeys(actions: StageActions | null): void {
  const latest = useRef(actions);
  useEffect(() => {
    latest.current = actions;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.closest('input, textarea, [contenteditable]');
      const key = keyOf(event);
      if (!latest.current || typing || key === null) return;
      if (/^[1-9]$/.test(key) && deedOf(key, ownKeys()) === null) {
        if (!event.repeat) latest.current.guest(Number(key));
        return event.preventDefault();
      }
      const deed = deedOf(key, ownKeys());
      if (deed === null) return;
      if (deed === 'earlier' || deed === 'later') {
        // Lists and sliders have arrows of their own.
        if (event.target instanceof HTMLElement && event.target.closest('select, input, [role=radiogroup], [role=slider]')) return;
        latest.current.next(deed === 'earlier' ? -1 : 1);
      } else if (!event.repeat) latest.current[deed]();
      // Held down it does it once; a take never presses what has the focus.
      else if (deed !== 'take') return;
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
