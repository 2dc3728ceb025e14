// What is chosen on a page and not kept yet, and what comes of keeping it.
import { useState } from 'react';
import { ServerError, wordsOf } from './server';

/** What was chosen and not kept yet, of each thing by its name: going from one to another loses nothing. */
export function useDrafts<Draft>() {
  const [drafts, setDrafts] = useState<Readonly<Record<string, Draft>>>({});
  const setDraft = (id: string) => (draft: Draft | null) =>
    setDrafts((before) => {
      const after = { ...before };
      if (draft) after[id] = draft;
      else delete after[id];
      return after;
    });
  return { drafts, setDraft };
}

export interface Trouble {
  words: string;
  fields: Partial<Record<string, string>>;
  /** Somebody else was first. */
  theirs: boolean;
}

/** Does one thing after the other, and says what went wrong; `after`: whatever came of it. */
export function useActs(after: () => Promise<unknown>) {
  const [trouble, setTrouble] = useState<Trouble | null>(null);
  const [busy, setBusy] = useState(false);
  const act = async (work: () => Promise<unknown>) => {
    setBusy(true);
    setTrouble(null);
    try {
      await work();
    } catch (error) {
      const { fields = {}, status = 0 } = error instanceof ServerError ? error : {};
      setTrouble({ words: wordsOf(error), fields, theirs: status === 409 });
    } finally {
      // Where somebody else was first, theirs is what the next press is over.
      await after();
      setBusy(false);
    }
  };
  return { trouble, setTrouble, busy, act };
}
