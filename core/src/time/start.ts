// The wall time of a start, and back.
import { instant, type Instant } from './instant';
import { readWallTime, wallTimeOf } from './zones';

/** A start as clocks show it. `fold`: which of two is meant, where they show that time twice; null otherwise. */
export interface When {
  date: string;
  time: string;
  fold: 'earlier' | 'later' | null;
}

/** The wall time of an instant (ms) in a zone. */
export function whenOf(startsAt: number, zone: string): When {
  const wall = wallTimeOf(instant(startsAt), zone);
  const reading = readWallTime(wall, zone);
  return { ...wall, fold: reading.kind !== 'twice' ? null : reading.later === startsAt ? 'later' : 'earlier' };
}

/** The start that date, time and zone stand for; null while they cannot be read or it was not said which of two is meant. */
export function startOf({ date, time, fold, zone }: Partial<When> & { zone?: string }): Instant | null {
  const reading = readWallTime({ date: date ?? '', time: time ?? '' }, zone ?? '');
  if (reading.kind === 'once') return reading.instant;
  if (reading.kind === 'twice' && fold) return fold === 'later' ? reading.later : reading.instant;
  return null;
}
