// How late viewers see what goes out, measured: a picture of a channel's public playback is found again among those that went out.
import type { Instant } from '../time/instant';

/** What is compared: grey pictures of this size, one byte each. */
export const PRINT = { width: 64, height: 36 } as const;
export const PRINT_BYTES = PRINT.width * PRINT.height;

/** A playlist of live parts (RFC 8216). Times in s. */
export interface LivePlaylist {
  targetS: number;
  parts: { uri: string; seconds: number }[];
}

/** Null: it is no live playlist with parts in it. */
export function livePlaylistOf(text: string): LivePlaylist | null {
  const lines = text.split(/\r?\n/);
  const targetS = Number(/^#EXT-X-TARGETDURATION:(\d+)$/m.exec(text)?.[1] ?? NaN);
  if (lines[0] !== '#EXTM3U' || !Number.isFinite(targetS) || lines.includes('#EXT-X-ENDLIST')) return null;
  const parts: LivePlaylist['parts'] = [];
  let seconds = 0;
  for (const line of lines) {
    const said = /^#EXTINF:([\d.]+)/.exec(line)?.[1];
    if (said !== undefined) seconds = Number(said);
    else if (line && !line.startsWith('#')) parts.push({ uri: line, seconds });
  }
  return parts.length ? { targetS, parts } : null;
}

/** Players begin so many target durations before the end (RFC 8216, section 6.3.3). */
const TARGETS_BEFORE_END = 3;

/** Where somebody begins who opens it at this moment: in which part, and how far into it, in s. */
export function whereOneBegins({ targetS, parts }: LivePlaylist): { uri: string; intoS: number } {
  let beforeEnd = 0;
  for (const { uri, seconds } of parts.slice().reverse()) {
    beforeEnd += seconds;
    const wanted = TARGETS_BEFORE_END * targetS;
    if (beforeEnd >= wanted) return { uri, intoS: beforeEnd - wanted };
  }
  return { uri: parts[0]!.uri, intoS: 0 };
}

export interface Print {
  /** When its picture went out, in ms of one clock. */
  at: number;
  grey: Uint8Array;
}

/** Two pictures are one and the same up to here, by the mean difference of their bytes: what a network encodes anew differs a little. */
const SAME_UP_TO = 4;
/** And any other must differ by so much more: pictures that stand still tell nothing, while a digit of a countdown, copied exactly, does. */
const OTHERS_DIFFER_BY = 0.05;
const OTHERS_DIFFER_TIMES = 3;

/** Pictures that are alike for no longer than this still tell: the middle of them is near enough, in ms. */
const ALIKE_FOR_MS = 2_500;

/** When a picture went out, in ms; null: it did not, or it cannot be told from others that did. */
export function whenOut(grey: Uint8Array, prints: readonly Print[]): number | null {
  const near = prints.map(({ at, grey: other }) => ({ at, apart: apart(grey, other) }));
  const best = Math.min(...near.map((each) => each.apart));
  if (!(best <= SAME_UP_TO)) return null;
  const alike = near.filter((each) => each.apart < best * OTHERS_DIFFER_TIMES + OTHERS_DIFFER_BY).map(({ at }) => at);
  const [first, last] = [Math.min(...alike), Math.max(...alike)];
  return last - first <= ALIKE_FOR_MS ? Math.round((first + last) / 2) : null;
}

function apart(a: Uint8Array, b: Uint8Array): number {
  if (a.length !== b.length) return Infinity;
  let sum = 0;
  for (let at = 0; at < a.length; at++) sum += Math.abs(a[at]! - b[at]!);
  return sum / a.length;
}

/** How late a channel is. `at`: when that was measured last; null: it is what the network says. */
export interface Behind {
  ms: number;
  at: Instant | null;
}

/** So many of the last measurements count. */
const MEDIAN_OF = 5;
/** And no longer than this: delays grow and shrink. */
const GOOD_FOR_MS = 10 * 60_000;
/** Nobody watches something that is later than this: a measurement that says so has found another picture. */
const LATEST_MS = 90_000;

/** What was measured of one channel. */
export class BehindMeasured {
  private measured: { at: Instant; ms: number }[] = [];

  add(at: Instant, ms: number): void {
    if (ms < 0 || ms > LATEST_MS) return;
    this.measured = [...this.measured, { at, ms }].slice(-MEDIAN_OF);
  }

  /** The median of the last; where there is none, `saidMs`, as its network says; null: nobody knows. */
  at(now: Instant, saidMs: number | null): Behind | null {
    const good = this.measured.filter(({ at }) => now - at <= GOOD_FOR_MS);
    if (!good.length) return saidMs === null ? null : { ms: saidMs, at: null };
    const sorted = good.map(({ ms }) => ms).sort((a, b) => a - b);
    return { ms: sorted[sorted.length >> 1]!, at: good.at(-1)!.at };
  }
}

/** For the host: `Seen 7 s late.` */
export function sayBehind({ ms, at }: Behind, network: string): string {
  const seconds = Math.max(1, Math.round(ms / 1_000));
  return at === null ? `Seen about ${seconds} s late, as ${network} says.` : `Seen ${seconds} s late.`;
}
