// How a station's pictures and programmes look: what is chosen once and holds for all of them.
import type { PictureBackground, PictureLayout } from '../artwork/compose';
import type { Palette, TypeFace } from '../drawing/drawing';
import { OWN_PALETTE } from '../drawing/drawing';

/** How names and captions are drawn: with an edge, between two lines, or on a block of the look's accent. */
export const STRAP_STYLES = ['edge', 'lines', 'block'] as const;
export type StrapStyle = (typeof STRAP_STYLES)[number];

/** How cards are drawn; each has a place for the countdown. The waiting pictures of those names are drawn alike. */
export const CARD_STYLES = ['horizon', 'slip', 'moon'] as const satisfies readonly PictureLayout[];
export type CardStyle = (typeof CARD_STYLES)[number];

/** The families that ship with the product, by their package's name, and what they are like. All are under the SIL Open Font License 1.1. */
export const SHIPPED_LETTERS = {
  'bricolage-grotesque': { name: 'Bricolage Grotesque', like: 'plain, with a will of its own' },
  'atkinson-hyperlegible-next': { name: 'Atkinson Hyperlegible Next', like: 'plain, never mistaken' },
  fraunces: { name: 'Fraunces', like: 'old and soft' },
  'source-serif-4': { name: 'Source Serif 4', like: 'as in a book' },
  nunito: { name: 'Nunito', like: 'round and friendly' },
  'zilla-slab': { name: 'Zilla Slab', like: 'sturdy' },
  'barlow-condensed': { name: 'Barlow Condensed', like: 'narrow, for long titles' },
} as const satisfies Record<string, { name: string; like: string }>;
export type ShippedLetters = keyof typeof SHIPPED_LETTERS;

/** A shipped family, or a font of the station's library by its identifier. */
export type LettersName = string;
/** For headings and for all else. */
export type LookLetters = Readonly<Record<TypeFace, LettersName>>;

export const OWN_LETTERS: LookLetters = { display: 'bricolage-grotesque', text: 'atkinson-hyperlegible-next' };

export const isShipped = (name: LettersName): name is ShippedLetters => Object.hasOwn(SHIPPED_LETTERS, name);

/** Everything of a look that is chosen. Pictures, fonts and clips are those of the station's library, by their identifiers. */
export interface LookChoices {
  palette: Palette;
  letters: LookLetters;
  straps: StrapStyle;
  cards: CardStyle;
  /** What lies behind cards and people; null: an evening in the ground colour. */
  background: PictureBackground | null;
  /** The mark; null: the lantern. */
  logoId: string | null;
  /** The marks of those who help, in their order. */
  sponsors: readonly string[];
  /** Whether they stand in a corner by turns, wherever the station's own mark does. */
  sponsorsInCorner: boolean;
  /** A short film or sound between two parts; null: none. */
  stingId: string | null;
}

export const MOST_SPONSORS = 8;

/** The look of those who have chosen none. */
export const OWN_LOOK: LookChoices = {
  ...{ palette: OWN_PALETTE, letters: OWN_LETTERS, straps: 'edge', cards: 'horizon', background: null },
  ...{ logoId: null, sponsors: [], sponsorsInCorner: false, stingId: null },
};

/** Each sponsor stands in the corner for so long, in ms. */
export const SPONSOR_TURN_MS = 12_000;
