// What a network will do by itself to a show that goes on: end it, or keep no more of it. Told an hour before, and once more ten minutes before, in words that
// do not change in between.
import type { RuleSheet } from '../channels/rules';
import { HOUR_MS, instant, MINUTE_MS, type Instant } from '../time/instant';
import { sayTime } from '../time/zones';

const NOTICE_MS = HOUR_MS;
const SOON_MS = 10 * MINUTE_MS;

export interface LimitAhead {
  what: 'ends' | 'keeps no more';
  /** When it does. */
  at: Instant;
  /** How near that is. */
  near: 'within the hour' | 'within ten minutes' | 'now';
}

/** The limits that a show comes to, the nearest first. `publicSince`: since when it has been public there, in ms; null: it has not, and nothing counts yet. */
export function limitsAhead(
  { longestMs, recordingStopsMs }: Pick<RuleSheet, 'longestMs' | 'recordingStopsMs'>,
  publicSince: number | null,
  now: Instant,
): LimitAhead[] {
  if (publicSince === null) return [];
  const ahead = (what: LimitAhead['what'], afterMs: number | null): LimitAhead[] => {
    const leftMs = afterMs === null ? Infinity : publicSince + afterMs - now;
    if (leftMs > NOTICE_MS) return [];
    return [{ what, at: instant(publicSince + afterMs!), near: leftMs <= 0 ? 'now' : leftMs <= SOON_MS ? 'within ten minutes' : 'within the hour' }];
  };
  return [...ahead('ends', longestMs), ...ahead('keeps no more', recordingStopsMs)].sort((a, b) => a.at - b.at);
}

/** To whoever has the stage. `place`: the network by name; `zone`: the show's. */
export function sayLimitAhead({ what, at, near }: LimitAhead, place: string, zone: string): string {
  const time = sayTime(at, zone);
  if (what === 'keeps no more')
    return near === 'now' ? `${place} has kept no recording since ${time}.` : `From ${time} on, ${near}, ${place} keeps no recording.`;
  return near === 'now' ? `${place} may end the show at any moment: its longest time was over at ${time}.` : `${place} ends the show at ${time}, ${near}.`;
}
