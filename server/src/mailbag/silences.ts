// For how long somebody writes nothing more, as it is kept.
import type { Silence } from '@lantern/contract';
import { WRITER_SILENT_MS } from '@lantern/core';

/** The end of a silence that ends with the show. */
export const FOR_GOOD = Number.MAX_SAFE_INTEGER;

/** Until when somebody is silent from now on; null: they write. */
export const silentFor = (silence: Silence, now: number): number | null =>
  ({ no: null, 'ten minutes': now + WRITER_SILENT_MS, 'this show': FOR_GOOD })[silence];

/** The same as the team sees it. */
export const saySilence = (until: number | null, now: number): Silence =>
  until === null || until <= now ? 'no' : until === FOR_GOOD ? 'this show' : 'ten minutes';

/** What was done, for the record. */
export const SILENCE_WORDS: Record<Silence, string> = { no: 'let write again', 'ten minutes': 'silenced for ten minutes', 'this show': 'shut out' };
