// What connectors share that ask again and again what is new.
import { setTimeout as wait } from 'node:timers/promises';
import type { RequestOptions } from './connector';

/** Waits, or until `signal` says that nobody needs it any more. */
export const pause = (ms: number, signal: AbortSignal): Promise<void> => wait(ms, undefined, { signal }).catch(() => undefined);

/** Whoever follows asks again by themselves; `waitMs`: how long the network may let them wait on purpose. */
export const following = (signal: AbortSignal, waitMs = 0): Pick<RequestOptions, 'signal' | 'tries' | 'timeoutMs'> => ({
  ...{ signal, tries: 1, timeoutMs: waitMs + 8_000 },
});
