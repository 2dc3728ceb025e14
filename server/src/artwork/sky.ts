// A sky over hills, drawn anew from a seed: a background for those who have no picture.
import type { SkyMood } from '@lantern/core';

const SIZE = { width: 1600, height: 900 };
const MOODS: Record<SkyMood, { sky: [string, string, string]; hills: [string, string, string]; moon: string; stars: number }> = {
  dusk: { sky: ['#0d2229', '#1c4a52', '#87896f'], hills: ['#2b565b', '#15383e', '#0a2227'], moon: '#f3ecd2', stars: 80 },
  night: { sky: ['#05090f', '#0b1a26', '#173c46'], hills: ['#143038', '#0a1c22', '#050d10'], moon: '#eef0e2', stars: 230 },
  day: { sky: ['#a9d6d6', '#d4ece2', '#fbf0cd'], hills: ['#a5c9b0', '#7fae97', '#3f7a63'], moon: '#fff7d6', stars: 0 },
};

/** A number in [0, 1) that is the same for the same seed and place (mulberry32). */
function dice(seed: number): () => number {
  let state = seed * 2654435761;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** What stands within an `svg` element of 1600 by 900. `id` keeps its gradient apart from others in the same drawing. */
export function skyMarkup(mood: SkyMood, seed: number, id: string): string {
  const { sky, hills, moon, stars } = MOODS[mood];
  const roll = dice(seed);
  const { width, height } = SIZE;
  const dots = Array.from({ length: stars }, () => {
    const [x, y, r] = [roll() * width, roll() * height * 0.62, 0.8 + roll() * 2.2];
    return `<circle cx="${x.toFixed(1)}" cy="${y.toFixed(1)}" r="${r.toFixed(1)}" fill="#fff" opacity="${(0.3 + roll() * 0.6).toFixed(2)}"/>`;
  });
  const hill = (colour: string, base: number, rise: number) => {
    const steps = 6;
    const tops = Array.from({ length: steps + 1 }, (_, at) => ({ x: (at * width) / steps, y: base - rise * roll() }));
    const curve = tops.slice(1).map(({ x, y }, at) => {
      const before = tops[at]!;
      const middle = (before.x + x) / 2;
      return `C${middle.toFixed(0)},${before.y.toFixed(0)} ${middle.toFixed(0)},${y.toFixed(0)} ${x.toFixed(0)},${y.toFixed(0)}`;
    });
    return `<path d="M0,${height} L0,${tops[0]!.y.toFixed(0)} ${curve.join(' ')} L${width},${height} Z" fill="${colour}"/>`;
  };
  const [moonX, moonY, moonR] = [width * (0.6 + 0.28 * roll()), height * (0.14 + 0.12 * roll()), 46 + 38 * roll()];
  const phase = moonR * (0.25 + 0.6 * roll());
  const light =
    mood === 'day'
      ? `<circle cx="${moonX.toFixed(0)}" cy="${moonY.toFixed(0)}" r="${(moonR * 1.2).toFixed(0)}" fill="${moon}"/>`
      : `<mask id="${id}-moon"><circle cx="${moonX.toFixed(0)}" cy="${moonY.toFixed(0)}" r="${moonR.toFixed(0)}" fill="#fff"/><circle cx="${(moonX + phase).toFixed(0)}" cy="${(moonY - phase * 0.4).toFixed(0)}" r="${moonR.toFixed(0)}" fill="#000"/></mask><circle cx="${moonX.toFixed(0)}" cy="${moonY.toFixed(0)}" r="${moonR.toFixed(0)}" fill="${moon}" mask="url(#${id}-moon)"/>`;
  return `<defs><linearGradient id="${id}" x2="0" y2="1">${sky.map((colour, at) => `<stop offset="${at / 2}" stop-color="${colour}"/>`).join('')}</linearGradient></defs><rect width="${width}" height="${height}" fill="url(#${id})"/>${dots.join('')}${light}${hill(hills[0], 640, 150)}${hill(hills[1], 730, 120)}${hill(hills[2], 830, 80)}`;
}

export const SKY_VIEW_BOX = `0 0 ${SIZE.width} ${SIZE.height}`;
