import { isShipped, SHIPPED_LETTERS, type CardStyle, type LettersName, type SkyMood, type StrapStyle } from '@lantern/core';

export const STRAP_WORDS: Record<StrapStyle, string> = { edge: 'with an edge', lines: 'between two lines', block: 'on a block' };
export const CARD_WORDS: Record<CardStyle, string> = { horizon: 'over the whole picture', slip: 'on a slip', moon: 'beside a great disc' };
export const MOOD_WORDS: Record<SkyMood, string> = { dusk: 'A sky at dusk', night: 'A sky at night', day: 'A sky by day' };

/** How letters are called; `own`: the fonts of the library. */
export const lettersCalled = (name: LettersName, own: readonly { id: string; name: string }[]): string =>
  isShipped(name) ? SHIPPED_LETTERS[name].name : (own.find(({ id }) => id === name)?.name ?? 'Letters that were taken out');

/** What browsers offer where a font is chosen. */
export const FONT_FILES = '.ttf,.otf,.woff,.woff2';
