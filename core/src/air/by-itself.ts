// A show that goes on air at its time without a press at that moment.
import { MINUTE_MS, type Instant } from '../time/instant';

/** Where nobody could begin it for longer, as while the machine was off, it is left to people. */
export const LATEST_BY_ITSELF_MS = 10 * MINUTE_MS;

/** Whether a show that was told to begin by itself at `startsAt` does so now. */
export function beginsByItself(startsAt: Instant, now: Instant): 'not yet' | 'now' | 'too late' {
  if (now < startsAt) return 'not yet';
  return now - startsAt <= LATEST_BY_ITSELF_MS ? 'now' : 'too late';
}
