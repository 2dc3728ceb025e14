// Who watches: browsers that have asked lately, and a made-up audience that comes and goes believably.

const STILL_WATCHING_MS = 8_000;

export class WatchCounter {
  private readonly lastSeen = new Map<string, Map<string, number>>();

  seen(eventId: string, viewer: string, at: number): void {
    const viewers = this.lastSeen.get(eventId) ?? new Map<string, number>();
    this.lastSeen.set(eventId, viewers.set(viewer.slice(0, 40), at));
  }

  count(eventId: string, at: number): number {
    const viewers = this.lastSeen.get(eventId);
    if (!viewers) return 0;
    for (const [viewer, seenAt] of viewers) if (at - seenAt > STILL_WATCHING_MS) viewers.delete(viewer);
    return viewers.size;
  }
}

/** A repeatable number in [0, 1) from a text and a step: the same show has the same audience every time. */
export function noise(seed: string, step: number): number {
  let state = 2166136261 ^ step;
  for (const character of seed) state = Math.imul(state ^ character.codePointAt(0)!, 16777619);
  state = Math.imul(state ^ (state >>> 15), 2246822507);
  return ((state ^ (state >>> 13)) >>> 0) / 2 ** 32;
}

/**
 * Made-up viewers `sinceMs` after a show became public, at most about `best`: half are there within
 * two minutes, few leave, and every ten seconds some come or go.
 */
export function audienceAt(seed: string, best: number, sinceMs: number): number {
  if (sinceMs < 0) return 0;
  const arrived = 1 - Math.exp(-sinceMs / 170_000);
  const tired = Math.exp(-sinceMs / 10_000_000);
  const wobble = 0.94 + 0.12 * noise(seed, Math.floor(sinceMs / 10_000));
  return Math.round(best * arrived * tired * wobble);
}

/** Made-up viewers that have played a show, `sinceMs` after it became public: more than are there at any one time. */
export const livePlays = (seed: string, best: number, sinceMs: number): number =>
  Math.round(best * (1.2 + 0.5 * noise(seed, 1)) * (1 - Math.exp(-Math.max(0, sinceMs) / 600_000)));

const DAY_MS = 86_400_000;

/** Made-up plays of its recording, `sinceMs` after it ended: most in the first days. */
export const laterPlays = (seed: string, best: number, sinceMs: number): number =>
  Math.round(best * (0.5 + 0.6 * noise(seed, 2)) * (1 - Math.exp(-Math.max(0, sinceMs) / (4 * DAY_MS))));
