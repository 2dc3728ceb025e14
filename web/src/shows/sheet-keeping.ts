// Keeps a sheet while it is being typed: sends what changed, takes in what others changed, and never lets one
// overwrite the other unseen. Every kept change can be taken back.
import { tidied } from '@lantern/core';
import { ShowDraft, type DraftField, type SaveResult, type ShowView } from '@lantern/contract';
import { useQueryClient } from '@tanstack/react-query';
import { plainToInstance } from 'class-transformer';
import { validateSync } from 'class-validator';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { UseFormReturn } from 'react-hook-form';
import { server, ServerError, wordsOf } from '../app/server';
import { changesBetween, draftOf, same, withChanges } from './sheet-draft';
import { noteUnkept, sortedOut, unkeptOf } from './unkept';

/** Waits between tries where the server does not answer. */
const FIRST_WAIT_MS = 2_000;
const LONGEST_WAIT_MS = 30_000;

/** Long enough not to ask at each key, short enough that nothing is lost. */
const PAUSE_MS = 600;

export interface Conflict {
  field: DraftField;
  by: string;
  mine: Partial<ShowDraft>;
}

interface Kept {
  state: 'kept' | 'typing' | 'keeping' | 'not kept';
  trouble: string;
}

/** What is wrong with each field, by the rules of the class that the server goes by. */
export function troublesOf(draft: ShowDraft): Record<string, string> {
  const errors = validateSync(plainToInstance(ShowDraft, draft), { whitelist: true });
  return Object.fromEntries(errors.map((error) => [error.property, firstMessage(error)]));
}

function firstMessage({ constraints, children }: { constraints?: Record<string, string>; children?: object[] }): string {
  return Object.values(constraints ?? {})[0] ?? (children?.length ? firstMessage(children[0] as never) : 'This cannot be used.');
}

export function useSheetKeeping(form: UseFormReturn<ShowDraft>, show: ShowView, editable: boolean) {
  const queries = useQueryClient();
  const base = useRef({ version: show.version, draft: draftOf(show) });
  const sending = useRef<Promise<void> | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const undoing = useRef(false);
  const failures = useRef(0);
  const again = useRef<() => void>(() => undefined);
  /** Values that are put in at this moment come from the server: they are no change of somebody here. */
  const takingIn = useRef(false);
  const [waiting] = useState(() => {
    const copy = editable ? unkeptOf(show.id, Date.now()) : null;
    return copy && { at: copy.at, ...sortedOut(copy, draftOf(show)) };
  });
  const [broughtBack, setBroughtBack] = useState(waiting && Object.keys(waiting.putBack).length ? waiting.at : null);
  const [kept, setKept] = useState<Kept>({ state: 'kept', trouble: '' });
  const [conflicts, setConflicts] = useState<Conflict[]>(() =>
    (waiting?.crossed ?? []).map((mine) => ({ field: Object.keys(mine)[0] as DraftField, by: show.changedBy ?? 'Somebody else', mine })),
  );
  const [history, setHistory] = useState<Partial<ShowDraft>[]>([]);
  const { getValues, setValue, setError, clearErrors } = form;

  const put = useCallback(
    (changes: Partial<ShowDraft>) => {
      const next = withChanges(getValues(), changes);
      for (const field of Object.keys(changes) as DraftField[]) setValue(field, next[field] as never, { shouldDirty: true });
    },
    [getValues, setValue],
  );

  /** Takes in a newer state of the show: fields that nobody is typing in here follow it. */
  const takeIn = useCallback(
    (newer: ShowView) => {
      // An older answer that came late.
      if (newer.version < base.current.version) return;
      const theirs = draftOf(newer);
      takingIn.current = true;
      const untouched = changesBetween(base.current.draft, theirs);
      const typed = changesBetween(base.current.draft, getValues());
      for (const field of Object.keys(untouched) as DraftField[]) {
        if (field === 'variants') {
          const busy = new Set((typed.variants ?? []).map(({ channelId }) => channelId));
          put({ variants: untouched.variants!.filter(({ channelId }) => !busy.has(channelId)) });
        } else if (!(field in typed)) setValue(field, theirs[field] as never);
      }
      base.current = { version: newer.version, draft: theirs };
      takingIn.current = false;
    },
    [getValues, put, setValue],
  );

  const send = useCallback(async (): Promise<void> => {
    if (!editable) return;
    // The form's own lists change in place while the server answers: what was sent must stay what it was.
    const values = JSON.parse(JSON.stringify(getValues())) as ShowDraft;
    const troubles = troublesOf(values);
    clearErrors();
    for (const [field, message] of Object.entries(troubles)) setError(field as DraftField, { message });
    const changes = changesBetween(base.current.draft, values, new Set(Object.keys(troubles)));
    noteUnkept(show.id, changes, base.current.draft, Date.now());
    if (!Object.keys(changes).length) {
      const wrong = Object.values(troubles)[0];
      setKept(wrong ? { state: 'not kept', trouble: wrong } : { state: 'kept', trouble: '' });
      return;
    }
    setKept({ state: 'keeping', trouble: '' });
    const before = base.current.draft;
    try {
      const result = await server.patch<SaveResult>(`/api/shows/${show.id}`, { base: base.current.version, changes });
      const theirs = draftOf(result.show);
      // Variants that were not sent stay as they were; of those sent, what was there before.
      const undo = changesBetween(theirs, withChanges(before, {}));
      const own = Object.fromEntries(Object.entries(undo).filter(([field]) => field in changes)) as Partial<ShowDraft>;
      if (!undoing.current && Object.keys(own).length) setHistory((known) => [...known.slice(-49), own]);
      undoing.current = false;
      failures.current = 0;
      setBroughtBack(null);
      const lost = result.conflicts.map(({ field, by }) => ({ field, by, mine: { [field]: changes[field] } as Partial<ShowDraft> }));
      setConflicts((known) => [...known.filter(({ field }) => !(field in changes)), ...lost]);
      const now = getValues();
      base.current = { version: result.show.version, draft: theirs };
      // What was not typed on in the meantime is as the server has it: trimmed, or somebody else's.
      takingIn.current = true;
      for (const field of Object.keys(theirs) as DraftField[]) {
        const sent = same(now[field], values[field]);
        const trimmed = typeof theirs[field] === 'string' && (now[field] as string).trim() === theirs[field];
        if (sent && !trimmed && !(field in troubles) && !same(now[field], theirs[field])) setValue(field, theirs[field] as never);
      }
      takingIn.current = false;
      queries.setQueryData(['show', show.id], result.show);
      void queries.invalidateQueries({ queryKey: ['plan'] });
      void queries.invalidateQueries({ queryKey: ['shows'] });
      const typedOn = changesBetween(theirs, tidied(getValues()), new Set(Object.keys(troubles)));
      noteUnkept(show.id, typedOn, theirs, Date.now());
      const wrong = Object.values(troubles)[0];
      if (wrong) setKept({ state: 'not kept', trouble: wrong });
      else setKept({ state: Object.keys(typedOn).length ? 'typing' : 'kept', trouble: '' });
    } catch (error) {
      // Silence is tried again by itself; what was refused waits for whoever typed it.
      const silent = error instanceof ServerError && (error.status === 0 || error.status >= 500);
      setKept({ state: 'not kept', trouble: silent ? `${wordsOf(error)} It is tried again by itself, and this browser holds a copy.` : wordsOf(error) });
      if (silent) {
        if (timer.current) clearTimeout(timer.current);
        timer.current = setTimeout(() => again.current(), Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** failures.current++));
      }
      if (error instanceof ServerError) for (const [field, message] of Object.entries(error.fields)) setError(field as DraftField, { message });
    }
  }, [clearErrors, editable, getValues, queries, setError, setValue, show.id]);

  /** Keeps all that was typed so far; afterwards the server has it. Answers whether all of it could be kept. */
  const keepNow = useCallback(async (): Promise<boolean> => {
    if (timer.current) clearTimeout(timer.current);
    // One after the other: two at once would each find that the other had changed the same field.
    const mine = (sending.current ?? Promise.resolve()).then(send);
    sending.current = mine;
    await mine;
    if (sending.current === mine) sending.current = null;
    return Object.keys(changesBetween(base.current.draft, tidied(getValues()))).length === 0;
  }, [getValues, send]);

  useEffect(() => {
    again.current = () => void keepNow();
  }, [keepNow]);

  // What could not be kept the last time is put back, and kept.
  useEffect(() => {
    if (!waiting) return;
    put(waiting.putBack);
    void keepNow();
  }, []); // eslint-disable-line react-hooks/exhaustive-deps -- once, when the sheet is opened

  const { watch } = form;
  useEffect(() => {
    const listener = watch((_values, { type }) => {
      // What is put by a press has no type either; whether that is a change is told by what it changes.
      if (takingIn.current || (type === undefined && !Object.keys(changesBetween(base.current.draft, getValues())).length)) return;
      setKept((before) => (before.state === 'keeping' ? before : { state: 'typing', trouble: '' }));
      noteUnkept(show.id, changesBetween(base.current.draft, getValues()), base.current.draft, Date.now());
      if (timer.current) clearTimeout(timer.current);
      timer.current = setTimeout(() => void keepNow(), PAUSE_MS);
    });
    return () => listener.unsubscribe();
  }, [getValues, keepNow, show.id, watch]);

  // Whoever leaves the page keeps what was typed last.
  useEffect(() => {
    const leave = () => {
      if (timer.current && document.visibilityState === 'hidden') void keepNow();
    };
    document.addEventListener('visibilitychange', leave);
    return () => {
      document.removeEventListener('visibilitychange', leave);
      if (timer.current) void keepNow();
    };
  }, [keepNow]);

  useEffect(() => takeIn(show), [show, takeIn]);

  const undo = useCallback(() => {
    const last = history.at(-1);
    if (!last) return;
    setHistory(history.slice(0, -1));
    undoing.current = true;
    put(last);
    void keepNow();
  }, [history, keepNow, put]);

  return {
    kept,
    conflicts,
    /** When words were typed that could not be kept then, and were put back now; null: none were. */
    broughtBack,
    put,
    keepNow,
    takeIn,
    undo: history.length ? { undo, fields: Object.keys(history.at(-1)!) as DraftField[] } : null,
    /** Somebody else's value stays; mine is forgotten. */
    yieldTo: (conflict: Conflict) => setConflicts((known) => known.filter((each) => each !== conflict)),
    /** Mine goes over theirs, now that theirs was seen. */
    insist: (conflict: Conflict) => {
      setConflicts((known) => known.filter((each) => each !== conflict));
      put(conflict.mine);
      void keepNow();
    },
  };
}

export type SheetKeeping = ReturnType<typeof useSheetKeeping>;
