// How long to wait before a failed connection is tried again.

const FIRST_MS = 500;
const LONGEST_MS = 15_000;

/**
 * The wait before attempt number `failures` + 1, in ms: doubling from half a second to a quarter of
 * a minute, spread by up to a fifth either way so that many relays do not return in step.
 * `dice` is a random number in [0, 1).
 */
export function backoffMs(failures: number, dice: number): number {
  const plain = Math.min(LONGEST_MS, FIRST_MS * 2 ** Math.min(Math.max(0, failures - 1), 16));
  return Math.round(plain * (0.8 + 0.4 * dice));
}
