// Points in time and lengths of time. Everything in core takes the present as an argument.

/** Milliseconds since 1970-01-01T00:00:00Z, leap seconds ignored as in POSIX time. */
export type Instant = number & { readonly __unit: 'Instant' };

export const instant = (epochMs: number): Instant => epochMs as Instant;

export const SECOND_MS = 1_000;
export const MINUTE_MS = 60_000;
export const HOUR_MS = 3_600_000;
export const DAY_MS = 86_400_000;
