// The programme's picture: its size, what of it stays free of words, and where a countdown stands on it.
import type { Box } from './drawing';

/** The programme's size in pixels. */
export const PROGRAMME = { width: 1280, height: 720 } as const;
export const WHOLE: Box = { x: 0, y: 0, ...PROGRAMME };

/** Pixels from each edge that some viewers' players cover: nothing to be read stands there. */
export const SAFE_MARGIN_PX = 64;

/** Where the countdown stands on cards and on waiting pictures, with the line beneath it; nothing else is drawn there. */
export const COUNTDOWN_PLACE: Box = { x: SAFE_MARGIN_PX, y: 440, width: 620, height: 216 };
