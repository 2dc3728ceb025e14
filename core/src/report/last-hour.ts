// How many watch while a show is on: now, and over the last hour, on each channel and on all together.
import type { Instant } from '../time/instant';
import { HOUR_MS } from '../time/instant';
import type { AirSample } from './figures';

/** One point stands for so long: more than a hundred and twenty of them nobody reads. */
const SLOT_MS = 30_000;
/** A figure that is older than this is none of now any more, and adds nothing to the sum. */
const STALE_MS = 60_000;

/** `watching` null: not known at that time. */
export interface HourPoint {
  at: Instant;
  watching: number | null;
}

export interface LastHour {
  /** By slot of half a minute, from the first that is known on. */
  points: HourPoint[];
  /** What was told last, and when; null: nothing that is young enough. */
  now: { watching: number; at: Instant } | null;
  /** The most in the hour, and when it was; null: nothing was told. */
  most: { watching: number; at: Instant } | null;
}

const slotOf = (at: number): number => Math.floor(at / SLOT_MS);

/** Of one channel, from its samples in the order of time. */
export function lastHour(samples: readonly AirSample[], now: Instant): LastHour {
  const told = samples.filter(({ at, watching }) => watching !== null && at > now - HOUR_MS && at <= now) as (AirSample & { watching: number })[];
  const last = told.at(-1);
  const bySlot = new Map<number, AirSample & { watching: number }>();
  for (const sample of told) bySlot.set(slotOf(sample.at), sample);
  const points: HourPoint[] = [];
  if (told[0]) {
    for (let slot = slotOf(told[0].at); slot <= slotOf(now); slot++) {
      const { at, watching } = bySlot.get(slot) ?? { at: (slot * SLOT_MS) as Instant, watching: null };
      // The slot that is not over yet is not known only if nothing was told for long.
      if (watching !== null || slot < slotOf(now)) points.push({ at, watching });
    }
  }
  return { points, now: last && now - last.at <= STALE_MS ? { watching: last.watching, at: last.at } : null, most: mostOf(told) };
}

/** Of all channels: in each slot the sum of what is known in it; a channel that told nothing then adds nothing. */
export function lastHourTogether(channels: readonly LastHour[]): LastHour {
  const bySlot = new Map<number, { at: Instant; watching: number }>();
  for (const { points } of channels) {
    for (const { at, watching } of points) {
      if (watching === null) continue;
      const before = bySlot.get(slotOf(at));
      bySlot.set(slotOf(at), { at: before ? (Math.max(before.at, at) as Instant) : at, watching: (before?.watching ?? 0) + watching });
    }
  }
  const known = channels.flatMap(({ now }) => now ?? []);
  const points = [...bySlot.entries()].sort(([a], [b]) => a - b).map(([, point]) => point);
  // The slot that is going on may have the figures of some channels only.
  const whole = points.slice(0, -1);
  const sum = known.length ? { watching: known.reduce((all, { watching }) => all + watching, 0), at: Math.min(...known.map(({ at }) => at)) as Instant } : null;
  return { points, now: sum, most: mostOf([...whole, ...(sum ? [sum] : [])]) };
}

function mostOf(points: readonly { at: Instant; watching: number }[]): LastHour['most'] {
  let most: LastHour['most'] = null;
  for (const { at, watching } of points) if (!most || watching > most.watching) most = { at, watching };
  return most;
}
