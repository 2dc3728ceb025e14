// Where the own sound of somebody, taken in their own browser by its own clock, stands in the recording in which they are heard: told by
// when they are loud and when they are not. Knows nothing of files.

import type { Passage } from './parts';

/** A level is told of each so many ms. */
export const LEVEL_MS = 10;
/** What is compared at once, in ms. */
const WINDOW_MS = 20_000;
/** A shorter one is like too many places. */
const LEAST_WINDOW_MS = 6_000;
/** Of one take, however long it is, so many are compared. */
const MOST_WINDOWS = 60;
/** A voice is heard in the recording so much earlier at the most than the clocks say, and so much later: it has been to the stage and through it. */
const EARLIER_MS = 2_000;
const LATER_MS = 6_000;
/** RMS, of full scale: quieter than this on the whole, nobody speaks. */
const SPEAKS = 0.003;
/** How alike both must be at the best place, and by how much less so at the best that is another. */
const ALIKE = 0.5;
const ALIKE_ELSEWHERE = 0.12;
const ANOTHER_PLACE_MS = 150;
/** By so many neighbours what is found is judged. */
const NEIGHBOURS = 5;
/** So often it is looked whether both clocks still go alike, and so far around is a quiet moment to set one right, in ms. */
const STRETCH_MS = 30_000;
const AROUND_MS = 2_000;
/** Nobody hears less than this between two sounds (ITU-R BT.1359-1 lets sound be 45 ms early). */
const LET_BE_MS = 25;
/** To this a break in the recording is found, in ms. */
const EDGE_MS = 20;

/** How loud a sound is, each LEVEL_MS: RMS of full scale, from 0 to 1. */
export class LevelsOfSound {
  private told = new Float32Array(4_096);
  private count = 0;
  private sum = 0;
  private samples = 0;
  private odd: number | null = null;
  private readonly perLevel: number;

  /** `rate`: samples a second, of one channel. */
  constructor(rate: number) {
    this.perLevel = Math.round((rate * LEVEL_MS) / 1_000);
  }

  /** Takes samples of 16 bits, the lower byte first, cut anywhere. */
  push(bytes: Uint8Array): void {
    for (const byte of bytes) {
      if (this.odd === null) {
        this.odd = byte;
        continue;
      }
      const sample = (((byte << 8) | this.odd) << 16) >> 16;
      this.odd = null;
      this.sum += sample * sample;
      if (++this.samples === this.perLevel) this.tell();
    }
  }

  get levels(): Float32Array {
    return this.told.subarray(0, this.count);
  }

  private tell(): void {
    if (this.count === this.told.length) {
      const longer = new Float32Array(this.count * 2);
      longer.set(this.told);
      this.told = longer;
    }
    this.told[this.count++] = Math.sqrt(this.sum / this.perLevel) / 32_768;
    this.sum = this.samples = 0;
  }
}

/** What stands at `atMs` of the own sound is heard `lagMs` later in the recording than the clocks say. */
export interface HeardThere {
  atMs: number;
  lagMs: number;
}

/** Where in the recording what stands at a moment of the own sound should be by the clocks, in ms; null: nowhere. */
export type ByTheClocks = (atMs: number) => number | null;

/**
 * Looks for one take of an own sound in a recording, window by window, so that others can have their turn between two; null: it cannot be told
 * there. `own` and `recording`: levels, as LevelsOfSound tells them.
 */
export function* heardThere(own: Float32Array, recording: Float32Array, byTheClocks: ByTheClocks): Generator<HeardThere | null> {
  const recorded = recording.map(Math.sqrt);
  const apart = (own.length * LEVEL_MS) / MOST_WINDOWS;
  for (const { fromMs, toMs } of unbroken(own, byTheClocks)) {
    const windowMs = Math.min(WINDOW_MS, toMs - fromMs);
    if (windowMs < LEAST_WINDOW_MS) continue;
    for (let atMs = fromMs; atMs + windowMs <= toMs; atMs += Math.ceil(Math.max(windowMs, apart) / LEVEL_MS) * LEVEL_MS) {
      const lag = lagOf(own.subarray(atMs / LEVEL_MS, (atMs + windowMs) / LEVEL_MS), recorded, Math.round(byTheClocks(atMs)! / LEVEL_MS));
      yield lag === null ? null : { atMs, lagMs: lag * LEVEL_MS };
    }
  }
}

/** What of a take stands in the recording without a break: where a server was gone, the recording goes on and nothing of the time between is in it. */
function unbroken(own: Float32Array, byTheClocks: ByTheClocks): Passage[] {
  const all: Passage[] = [];
  const endMs = own.length * LEVEL_MS;
  let [fromMs, shift] = [0, 0];
  let open = false;
  for (let ms = 0; ms < endMs; ms += EDGE_MS) {
    const at = byTheClocks(ms);
    const next = byTheClocks(ms + EDGE_MS);
    const goesOn = at !== null && next !== null && Math.abs(next - at - EDGE_MS) < 1;
    if (open && !(goesOn && Math.abs(at - ms - shift) < 1)) {
      all.push({ fromMs, toMs: ms });
      open = false;
    }
    if (goesOn && !open) [open, fromMs, shift] = [true, ms, at - ms];
  }
  if (open) all.push({ fromMs, toMs: endMs });
  return all;
}

/** By how many levels a window is heard later than `should`; null: nobody speaks, or it is like several places, or none. Pearson's coefficient of the roots. */
function lagOf(own: Float32Array, recorded: Float32Array, should: number): number | null {
  const { length } = own;
  if (own.reduce((sum, level) => sum + level, 0) / length < SPEAKS) return null;
  const mine = own.map(Math.sqrt);
  const mean = mine.reduce((sum, level) => sum + level, 0) / length;
  for (let at = 0; at < length; at++) mine[at]! -= mean;
  const power = mine.reduce((sum, level) => sum + level * level, 0);
  const from = Math.max(0, should - EARLIER_MS / LEVEL_MS);
  const to = Math.min(recorded.length - length, should + LATER_MS / LEVEL_MS);
  if (to < from || power === 0) return null;
  let [sum, squares] = [0, 0];
  for (let at = 0; at < length; at++) {
    sum += recorded[from + at]!;
    squares += recorded[from + at]! ** 2;
  }
  const alike = new Float32Array(to - from + 1);
  for (let place = from; place <= to; place++) {
    let both = 0;
    for (let at = 0; at < length; at++) both += mine[at]! * recorded[place + at]!;
    const theirs = squares - (sum * sum) / length;
    alike[place - from] = theirs > 1e-9 ? both / Math.sqrt(power * theirs) : 0;
    const [gone, next] = [recorded[place]!, recorded[place + length] ?? 0];
    sum += next - gone;
    squares += next * next - gone * gone;
  }
  let best = 0;
  for (let at = 1; at < alike.length; at++) if (alike[at]! > alike[best]!) best = at;
  let another = 0;
  for (let at = 0; at < alike.length; at++) if (Math.abs(at - best) > ANOTHER_PLACE_MS / LEVEL_MS) another = Math.max(another, alike[at]!);
  if (alike[best]! < ALIKE || alike[best]! - another < ALIKE_ELSEWHERE) return null;
  return from + best - should;
}

/** The lag at a moment, in ms: what most of those around it say. `otherwise`: where nothing was found. */
export function lagAt(heard: readonly HeardThere[], atMs: number, otherwise: number): number {
  const near = [...heard].sort((a, b) => Math.abs(a.atMs - atMs) - Math.abs(b.atMs - atMs)).slice(0, NEIGHBOURS);
  const lags = near.map(({ lagMs }) => lagMs).sort((a, b) => a - b);
  return lags[Math.floor(lags.length / 2)] ?? otherwise;
}

/** From `fromMs` to `toMs` of a take, laid at `atMs` of the recording. */
export interface Laid {
  fromMs: number;
  toMs: number;
  atMs: number;
}

/** How a take is laid beside the recording: in one piece as long as both clocks go alike, and else parted at a quiet moment. */
export function layBeside(own: Float32Array, byTheClocks: ByTheClocks, lagOfMs: (atMs: number) => number): Laid[] {
  const laid: Laid[] = [];
  for (const run of unbroken(own, byTheClocks)) {
    for (let { fromMs } = run; fromMs < run.toMs;) {
      const toMs = fromMs + STRETCH_MS + AROUND_MS >= run.toMs ? run.toMs : quietestAround(own, fromMs + STRETCH_MS);
      const atMs = Math.round(byTheClocks(fromMs)! + lagOfMs(fromMs));
      const last = laid.at(-1);
      const goesOn = last?.toMs === fromMs && Math.abs(last.atMs + fromMs - last.fromMs - atMs) < LET_BE_MS;
      if (goesOn) last.toMs = toMs;
      else laid.push({ fromMs, toMs, atMs });
      fromMs = toMs;
    }
  }
  return laid;
}

function quietestAround(own: Float32Array, ms: number): number {
  const middle = Math.round(ms / LEVEL_MS);
  let best = middle;
  for (let at = middle - AROUND_MS / LEVEL_MS; at < Math.min(own.length, middle + AROUND_MS / LEVEL_MS); at++) if (own[at]! < own[best]!) best = at;
  return best * LEVEL_MS;
}
