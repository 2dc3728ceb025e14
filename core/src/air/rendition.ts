// What is made for a channel that takes less than goes out: a smaller picture, of fewer kbit/s, from the same programme.

import type { FlvTag } from '../flv/tags';

/** What a channel takes of a picture: lines, and kbit/s. */
export interface Takes {
  maxHeight: number;
  maxKbps: number;
}

export interface Rendition {
  /** In lines. */
  height: number;
  /** Of the picture alone. */
  kbps: number;
}

/** How a relay makes it. `share`: of one processor core, as measured; null: not yet. `no room`: the machine has none, and it goes out as it is. */
export type RenditionNow = (Rendition & { share: number | null }) | 'no room';

/** Rates swing, and networks let them. */
const SWINGS = 1.15;
/** So much below the limit, so that a busy picture keeps it too. */
const BELOW = 0.85;
const LEAST_KBPS = 200;
/** A picture of fewer kbit/s than these is better in fewer lines. */
const LINES = [
  { from: 1_800, height: 720 },
  { from: 900, height: 540 },
  { from: 0, height: 360 },
] as const;

/** Null: the channel takes what goes out. */
export function renditionFor(out: Rendition, takes: Takes | null): Rendition | null {
  if (!takes || (out.height <= takes.maxHeight && out.kbps <= takes.maxKbps * SWINGS)) return null;
  const kbps = Math.max(LEAST_KBPS, Math.floor(Math.min(out.kbps, takes.maxKbps * BELOW)));
  const fitting = LINES.find(({ from }) => kbps >= from)!.height;
  return { height: Math.min(out.height, takes.maxHeight, fitting), kbps };
}

/** Of what a machine can do, so much is left to everything else, and each rendition takes so many cores. */
const LEFT_FREE = 0.25;
const CORES_EACH = 0.6;

/** Whether there is room for one more. `load`: processes that run or wait to, averaged over the last minute. */
export const hasRoom = (load: number, cores: number): boolean => load + CORES_EACH <= cores * (1 - LEFT_FREE);

/** For the host: what is made for a channel, and what it costs. */
export function sayRendition(rendition: RenditionNow): string {
  if (rendition === 'no room') return 'It takes less than goes out, and there is no room here to make that smaller.';
  const { height, kbps, share } = rendition;
  const cost = share === null ? '' : `, for ${Math.max(1, Math.round(share * 100))} % of a processor core here`;
  return `Made smaller for it: ${height} lines at ${kbps.toLocaleString('en-GB')} kbit/s${cost}.`;
}

/** How long a stretch is over which a rate is taken, in ms of the programme: long enough for key frames to come out even. */
const OVER_MS = 8_000;

/** The highest rate that pictures have had. */
export class PictureRate {
  mostKbps = 0;
  private from: number | null = null;
  private bytes = 0;

  /** One tag, as it goes out. */
  note({ kind, timestampMs, data }: Pick<FlvTag, 'kind' | 'timestampMs' | 'data'>): void {
    if (kind !== 'video') return;
    this.from ??= timestampMs;
    const ms = timestampMs - this.from;
    if (ms >= OVER_MS) {
      // Of what stood still meanwhile nothing is known.
      if (ms < 2 * OVER_MS) this.mostKbps = Math.max(this.mostKbps, Math.round((this.bytes * 8) / ms));
      this.from = timestampMs;
      this.bytes = 0;
    }
    this.bytes += data.length;
  }
}
