// A cut of a recording: which passages of it are kept, where a moment of the one stands in the other, and what of it has to be encoded anew.
import type { Passage, RecordedPart } from './parts';

/** Nobody sees less. */
export const SHORTEST_PASSAGE_MS = 200;
export const MOST_PASSAGES = 200;

/** Stretches in order, within the recording, none touching another; what is too short to be seen is left out. */
export function tidyPassages(passages: readonly Passage[], lengthMs: number): Passage[] {
  const within = passages
    .map(({ fromMs, toMs }) => ({ fromMs: Math.max(0, Math.round(fromMs)), toMs: Math.min(Math.round(lengthMs), Math.round(toMs)) }))
    .filter(({ fromMs, toMs }) => toMs > fromMs)
    .sort((a, b) => a.fromMs - b.fromMs);
  const joined: Passage[] = [];
  for (const each of within) {
    const last = joined.at(-1);
    if (last && each.fromMs <= last.toMs) last.toMs = Math.max(last.toMs, each.toMs);
    else joined.push({ ...each });
  }
  return joined.filter(({ fromMs, toMs }) => toMs - fromMs >= SHORTEST_PASSAGE_MS);
}

/** What `passages`, in order, leave of a recording. */
export function between(passages: readonly Passage[], lengthMs: number): Passage[] {
  const edges = [0, ...passages.flatMap(({ fromMs, toMs }) => [fromMs, toMs]), lengthMs];
  const left: Passage[] = [];
  for (let at = 0; at < edges.length; at += 2) if (edges[at + 1]! > edges[at]!) left.push({ fromMs: edges[at]!, toMs: edges[at + 1]! });
  return left;
}

/** The same without `out`. */
export function without(passages: readonly Passage[], out: Passage, lengthMs: number): Passage[] {
  return tidyPassages(
    passages.flatMap(({ fromMs, toMs }) => [
      { fromMs, toMs: Math.min(toMs, out.fromMs) },
      { fromMs: Math.max(fromMs, out.toMs), toMs },
    ]),
    lengthMs,
  );
}

/** Where the passages of a recording stand in the cut that keeps them, one after the other from `leadMs` on. */
export function partsOfCut(passages: readonly Passage[], leadMs = 0): RecordedPart[] {
  let atMs = leadMs;
  return passages.map(({ fromMs, toMs }) => {
    const part = { fromMs, atMs, lengthMs: toMs - fromMs };
    atMs += part.lengthMs;
    return part;
  });
}

export const lengthOfParts = (parts: readonly RecordedPart[]): number => parts.reduce((sum, { lengthMs }) => sum + lengthMs, 0);

/** Where a moment of the recording stands in the cut; null: it is left out. */
export function keptAt(parts: readonly RecordedPart[], recordingMs: number): number | null {
  const part = parts.find(({ fromMs, lengthMs }) => recordingMs >= fromMs && recordingMs < fromMs + lengthMs);
  return part ? part.atMs + recordingMs - part.fromMs : null;
}

/** Which moment of the recording is seen at a moment of the cut; null: it is before or after all of it. */
export function recordedAt(parts: readonly RecordedPart[], cutMs: number): number | null {
  const part = parts.find(({ atMs, lengthMs }) => cutMs >= atMs && cutMs < atMs + lengthMs);
  return part ? part.fromMs + cutMs - part.atMs : null;
}

/** Something that stands over a passage of a recording, as its captions do, moved along with the cut; what is left out is taken off it. */
export function keptOver<Timed extends Passage>(parts: readonly RecordedPart[], all: readonly Timed[]): Timed[] {
  return all.flatMap((each) => {
    const pieces = parts.flatMap(({ fromMs, atMs, lengthMs }) => {
      const from = Math.max(each.fromMs, fromMs);
      const to = Math.min(each.toMs, fromMs + lengthMs);
      return to > from ? [{ fromMs: atMs + from - fromMs, toMs: atMs + to - fromMs }] : [];
    });
    // What was cut in its middle is read once, over both of its halves: parts stand one right after the other.
    const [first] = pieces;
    return first ? [{ ...each, fromMs: first.fromMs, toMs: pieces.at(-1)!.toMs }] : [];
  });
}

// ---- what is copied and what is encoded

/** A passage whose pictures are taken as they are, or encoded anew. From its first picture up to, and without, that at `toMs`. */
export interface CutPiece extends Passage {
  how: 'copy' | 'encode';
}

/** When the pictures of a recording are shown, in ms and in order, and which of them need no other. */
export interface PictureTimes {
  atMs: ArrayLike<number>;
  keysAtMs: ArrayLike<number>;
  /** Whether some are decoded earlier than in the order in which they are shown: then a group of them cannot be cut off in its middle. */
  reordered: boolean;
}

/**
 * The pieces that make up one passage: from a key frame on everything can be copied, and what stands before the first one is encoded. Nothing
 * where no picture is shown in it.
 */
export function piecesOf({ fromMs, toMs }: Passage, { atMs, keysAtMs, reordered }: PictureTimes): CutPiece[] {
  const first = atMs[firstFrom(atMs, fromMs)] ?? Infinity;
  if (first >= toMs) return [];
  const from = keysAtMs[firstFrom(keysAtMs, first)] ?? Infinity;
  if (from >= toMs) return [{ how: 'encode', fromMs: first, toMs }];
  const head: CutPiece[] = from > first ? [{ how: 'encode', fromMs: first, toMs: from }] : [];
  if (!reordered) return [...head, { how: 'copy', fromMs: from, toMs }];
  const next = firstFrom(keysAtMs, toMs);
  const until = keysAtMs[next] === toMs || firstFrom(atMs, toMs) >= atMs.length ? toMs : keysAtMs[next - 1]!;
  return [
    ...head,
    ...(until > from ? [{ how: 'copy' as const, fromMs: from, toMs: until }] : []),
    ...(until < toMs ? [{ how: 'encode' as const, fromMs: until, toMs }] : []),
  ];
}

/** The place of the first that is not before `ms`; as many as there are where all are. */
export function firstFrom(sorted: ArrayLike<number>, ms: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle]! < ms) low = middle + 1;
    else high = middle;
  }
  return low;
}
