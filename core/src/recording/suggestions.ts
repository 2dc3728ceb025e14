// What of a recording is better left out, by what was on and what is heard: each with its reason, for a person to take or to leave.
import { sayLength } from '../time/zones';
import type { Passage } from './parts';

/** How loud a recording is over its time. `levels`: dB relative to full scale plus 100, one byte each, at least 0. */
export interface SoundShape {
  everyMs: number;
  levels: ArrayLike<number>;
}

/** What one sees from `atMs` on, in ms of the recording. `break card`: what viewers see when there is no stage. */
export interface SeenFrom {
  atMs: number;
  what: 'show' | 'holding' | 'closing' | 'break card';
}

/** A passage to leave out. */
export interface Suggestion extends Passage {
  kind: 'begin' | 'break' | 'end' | 'silence';
  why: string;
}

/** Speech in a room is louder, and a room without it is not, in dB relative to full scale. */
const SPOKEN_DB = -42;
/** A knock or a click is shorter. */
const SPOKEN_MS = 400;
const SILENT_DB = -52;
/** A breath and a pause for thought are shorter. */
const SILENCE_MS = 4_000;
/** Left standing around what is said, so that no word begins or ends with the picture. */
const BEFORE_WORDS_MS = 600;
const AFTER_WORDS_MS = 1_500;
/** Less is not worth a cut. */
const LEAST_MS = 1_500;
const MOST_SILENCES = 40;

/** In order of time, silences after what was on. None overlaps another. */
export function suggestionsFor(lengthMs: number, seen: readonly SeenFrom[], sound: SoundShape): Suggestion[] {
  const passages = seen
    .map(({ atMs, what }, at) => ({ what, fromMs: at === 0 ? 0 : atMs, toMs: Math.min(lengthMs, seen[at + 1]?.atMs ?? lengthMs) }))
    .filter(({ fromMs, toMs }) => toMs > fromMs);
  const shown = passages.filter(({ what }) => what === 'show');
  const spoken = runs(sound, (db) => db >= SPOKEN_DB, SPOKEN_MS).filter(({ fromMs, toMs }) =>
    shown.some((each) => Math.min(toMs, each.toMs) - Math.max(fromMs, each.fromMs) >= SPOKEN_MS),
  );
  const found: Suggestion[] = [];
  const shownFrom = shown[0]?.fromMs ?? 0;
  const shownTo = shown.at(-1)?.toMs ?? lengthMs;
  const first = spoken[0];
  const last = spoken.at(-1);
  const begin = first ? Math.max(shownFrom, Math.max(first.fromMs, shownFrom) - BEFORE_WORDS_MS) : shownFrom;
  const end = last ? Math.min(lengthMs, Math.min(last.toMs, shownTo) + AFTER_WORDS_MS) : shownTo;
  if (begin >= LEAST_MS)
    found.push({ kind: 'begin', fromMs: 0, toMs: begin, why: shownFrom > 0 ? 'The holding card stands there, and nobody speaks yet.' : 'Nobody speaks yet.' });
  for (const { what, fromMs, toMs } of passages) {
    // Cards at both ends belong to those.
    const [from, to] = [Math.max(fromMs, begin), Math.min(toMs, end)];
    if (what === 'show' || to - from < LEAST_MS) continue;
    found.push({
      kind: 'break',
      fromMs: from,
      toMs: to,
      why: `Viewers saw ${what === 'break card' ? 'the break card' : `the ${what} card`} for ${sayLength(to - from)}.`,
    });
  }
  if (lengthMs - end >= LEAST_MS) found.push({ kind: 'end', fromMs: end, toMs: lengthMs, why: 'After the last words nothing more is said.' });
  const taken = [...found];
  const silences = runs(sound, (db) => db < SILENT_DB, SILENCE_MS)
    .flatMap(({ fromMs, toMs }) => outside({ fromMs, toMs }, taken))
    .filter(({ fromMs, toMs }) => toMs - fromMs >= SILENCE_MS)
    .map((each): Suggestion => ({ ...each, kind: 'silence', why: `Nothing is heard for ${sayLength(each.toMs - each.fromMs)}.` }));
  return [...found.sort((a, b) => a.fromMs - b.fromMs), ...silences.slice(0, MOST_SILENCES)];
}

/** The passages of at least `leastMs` in which all levels are as `is` says. */
function runs({ everyMs, levels }: SoundShape, is: (db: number) => boolean, leastMs: number): Passage[] {
  const found: Passage[] = [];
  let from: number | null = null;
  for (let at = 0; at <= levels.length; at += 1) {
    const within = at < levels.length && is(levels[at]! - 100);
    if (within) from ??= at;
    else if (from !== null) {
      if ((at - from) * everyMs >= leastMs) found.push({ fromMs: from * everyMs, toMs: at * everyMs });
      from = null;
    }
  }
  return found;
}

function outside(passage: Passage, taken: readonly Passage[]): Passage[] {
  return taken.reduce<Passage[]>(
    (left, out) =>
      left.flatMap(({ fromMs, toMs }) =>
        [
          { fromMs, toMs: Math.min(toMs, out.fromMs) },
          { fromMs: Math.max(fromMs, out.toMs), toMs },
        ].filter((each) => each.toMs > each.fromMs),
      ),
    [passage],
  );
}
