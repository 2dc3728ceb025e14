// Keeps a player near to the present: whoever stopped for a moment catches up, unheard, and keeps somewhat further off where it stops often.

/** What a player that never stopped keeps to, in seconds behind the end of what there is; and how much more each stop asks for. */
export const NEAREST_S = 1.5;
const PER_STOP_S = 0.4;
const FURTHEST_S = 3;
/** So long a stop counts. */
const STOP_COUNTS_MS = 60_000;
/** Within this it is where it should be. */
const CLOSE_ENOUGH_S = 0.3;
/** Faster by so much is not heard: browsers keep the pitch. */
const FASTER = 1.08;
/** With less than this in hand it would only stop again. */
const IN_HAND_S = 0.9;

/** `stops`: when the picture stood still, in ms. The distance to keep, in seconds. */
export const distanceAfter = (stops: readonly number[], now: number): number =>
  Math.min(FURTHEST_S, NEAREST_S + PER_STOP_S * stops.filter((at) => now - at < STOP_COUNTS_MS).length);

/** How fast to play. `behindS`: how far the picture is behind the end of what there is; `inHandS`: how much of that is here. */
export const rateFor = (behindS: number, inHandS: number, distanceS: number): number =>
  behindS > distanceS + CLOSE_ENOUGH_S && inHandS > IN_HAND_S ? FASTER : 1;
