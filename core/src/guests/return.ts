/** The programme as it goes back to guests: a quarter of the size, half as many pictures, for every browser that reads it. */
export const RETURN_SIZE = { width: 640, height: 360 } as const;
export const RETURN_FPS = 15;
/** VP8 (RFC 6386), as WebCodecs names it. */
export const RETURN_CODEC = 'vp8';
