// Quiet hours fold: where no show is for hours, time is drawn so much narrower that the shows have room. All is still in its order,
// and every place stands for one moment.
import { DAY_MS, HOUR_MS, MINUTE_MS } from '@lantern/core';

/** A stretch in which no show is, ms since the epoch. */
export interface Fold {
  from: number;
  to: number;
}

/** So much before and after a show is drawn as wide as the show, up to full half hours. */
const AROUND_MS = 30 * MINUTE_MS;
const ROUND_MS = 30 * MINUTE_MS;
/** What is quiet for less is not folded: the mark would take as much room. */
const LEAST_MS = 4 * HOUR_MS;
/** Of a stretch that is folded half an hour stays, and of the rest one part in so many. */
const STAYS_MS = 30 * MINUTE_MS;
const NARROWER = 48;

/** As far before the first and after the last show as anybody looks. */
const BEYOND_MS = 500 * DAY_MS;

/** The quiet stretches between shows of whatever length, before them and after them, in the order of time. */
export function quietStretches(shows: readonly { startsAt: number; lengthMs: number }[]): Fold[] {
  const busy = shows
    .map(({ startsAt, lengthMs }) => ({ from: halfHour(startsAt - AROUND_MS, Math.floor), to: halfHour(startsAt + lengthMs + AROUND_MS, Math.ceil) }))
    .sort((a, b) => a.from - b.from);
  const folds: Fold[] = [];
  if (!busy.length) return [];
  let end = busy[0]!.from - BEYOND_MS;
  for (const { from, to } of busy) {
    if (from - end >= LEAST_MS) folds.push({ from: end, to: from });
    end = Math.max(end, to);
  }
  folds.push({ from: end, to: end + BEYOND_MS });
  return folds;
}

const halfHour = (at: number, round: (halves: number) => number): number => round(at / ROUND_MS) * ROUND_MS;

/** Time as it is drawn: ms that are shown, of which a folded stretch has fewer. */
export interface DrawnTime {
  /** Where a moment is drawn. */
  drawn(at: number): number;
  /** Which moment is drawn at a place. */
  at(drawn: number): number;
  /** The stretch that is folded there; null: none is. */
  foldAt(at: number): Fold | null;
  folds: readonly Fold[];
}

/** `origin` is drawn where it is; `folds` do not overlap and are in order. Both ways take the logarithm of their number. */
export function drawnTime(origin: number, folds: readonly Fold[]): DrawnTime {
  // Bends: at each, a moment and where it is drawn, counted from the first fold on.
  const times: number[] = [];
  const places: number[] = [];
  let saved = 0;
  for (const { from, to } of folds) {
    times.push(from, to);
    places.push(from - saved);
    saved += to - from - Math.min(to - from, STAYS_MS + (to - from - STAYS_MS) / NARROWER);
    places.push(to - saved);
  }
  const along = (known: readonly number[], other: readonly number[], value: number): number => {
    const bend = lastUpTo(known, value);
    if (bend < 0) return value - (known[0] ?? 0) + (other[0] ?? 0);
    if (bend === known.length - 1) return value - known[bend]! + other[bend]!;
    const part = (value - known[bend]!) / (known[bend + 1]! - known[bend]!);
    return other[bend]! + part * (other[bend + 1]! - other[bend]!);
  };
  const shift = origin - along(times, places, origin);
  return {
    drawn: (at) => along(times, places, at) + shift,
    // Whole ms: a hair before midnight is another day.
    at: (drawn) => Math.round(along(places, times, drawn - shift)),
    foldAt: (at) => {
      const bend = lastUpTo(times, at);
      return bend >= 0 && bend % 2 === 0 && at < times[bend + 1]! ? folds[bend / 2]! : null;
    },
    folds,
  };
}

/** The last index whose value is not above `value`; -1: all are. */
function lastUpTo(values: readonly number[], value: number): number {
  let [low, high] = [0, values.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (values[middle]! <= value) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}
