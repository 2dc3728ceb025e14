// A cut as it stands on the page: each change is kept at once, one after the other, and what could not be kept stays here until it is.
import type { CutsView, CutView } from '@lantern/contract';
import { tidyPassages, type Passage } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { server, ServerError, wordsOf } from '../app/server';

export const cutsKey = (showId: string) => ['report', showId, 'cuts'] as const;
const MOST_STEPS_BACK = 100;

export interface Draft {
  name: string;
  kept: Passage[];
  levelled: boolean;
  cardMs: number;
}

/** What is to be written next, and over which state. */
interface Writing {
  waiting: Draft | null;
  base: number;
  busy: boolean;
}

const draftOf = ({ name, kept, levelled, cardMs }: CutView): Draft => ({ name, kept, levelled, cardMs });

export function useCut(showId: string, cut: CutView, lengthMs: number) {
  const queries = useQueryClient();
  /** Null: as it is kept. */
  const [own, setOwn] = useState<Draft | null>(null);
  const [before, setBefore] = useState<Draft[]>([]);
  const [trouble, setTrouble] = useState<{ words: string; theirs: boolean } | null>(null);
  const writing = useRef<Writing>({ waiting: null, base: cut.revision, busy: false });
  const draft = own ?? draftOf(cut);

  const write = async () => {
    const state = writing.current;
    if (state.busy) return;
    state.busy = true;
    try {
      while (state.waiting) {
        const sent = state.waiting;
        const after = await server.put<CutsView>(`/api/shows/${showId}/cuts/${cut.id}`, { ...sent, base: state.base });
        state.base = after.cuts.find(({ id }) => id === cut.id)?.revision ?? state.base;
        if (state.waiting === sent) state.waiting = null;
        queries.setQueryData(cutsKey(showId), after);
      }
      setOwn(null);
      setTrouble(null);
    } catch (error) {
      setTrouble({ words: wordsOf(error), theirs: error instanceof ServerError && error.status === 409 });
    } finally {
      state.busy = false;
    }
  };

  useEffect(() => {
    // What somebody else has kept is what the next change is over, unless something of ours waits.
    if (!writing.current.waiting) writing.current.base = cut.revision;
  }, [cut.revision]);

  const take = (next: Draft) => {
    setOwn(next);
    writing.current.waiting = next;
    void write();
  };
  const change = (part: Partial<Draft>) => {
    const next = { ...draft, ...part };
    if (part.kept) next.kept = tidyPassages(part.kept, lengthMs);
    // Nothing of a recording is no cut; what is typed on the way there is not kept.
    if (!next.kept.length || !next.name.trim()) return;
    setBefore([...before.slice(-MOST_STEPS_BACK), draft]);
    take(next);
  };
  return {
    draft,
    change,
    trouble,
    kept: own === null,
    back: before.length
      ? () => {
          setBefore(before.slice(0, -1));
          take(before.at(-1)!);
        }
      : null,
    again: () => void write(),
    /** Over what somebody else has kept meanwhile. */
    over: async () => {
      const now = await server.get<CutsView>(`/api/shows/${showId}/cuts`);
      writing.current.base = now.cuts.find(({ id }) => id === cut.id)?.revision ?? 0;
      await write();
    },
    theirs: async () => {
      writing.current.waiting = null;
      setOwn(null);
      setTrouble(null);
      await queries.invalidateQueries({ queryKey: cutsKey(showId) });
    },
  };
}
