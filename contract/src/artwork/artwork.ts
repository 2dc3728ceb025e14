// Pictures that are made here from parts, and the library of those parts.
import {
  CARD_STYLES,
  MOST_SPONSORS,
  OWN_LETTERS,
  PICTURE_LAYOUTS,
  SHIPPED_LETTERS,
  SKY_MOODS,
  STRAP_STYLES,
  type CardStyle,
  type Lettering,
  type LetteringTrouble,
  type LettersName,
  type LookChoices,
  type LookLetters,
  type Palette,
  type PictureBackground,
  type PictureLayout,
  type PictureRecipe,
  type PictureTextRole,
  type SkyMood,
  type StrapStyle,
} from '@lantern/core';
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNotEmpty,
  IsOptional,
  IsString,
  IsUUID,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
} from 'class-validator';
import { IsPart } from '../rules/part';

/** The pictures of a show: the one in lists and on event pages, and the one that early viewers see. */
export const SHOW_PICTURES = ['thumbnail', 'waiting'] as const;
export type ShowPictureName = (typeof SHOW_PICTURES)[number];

/** What a library keeps: pictures for backgrounds, portraits of guests, logos, whole compositions to begin from, and fonts. */
export const PIECE_KINDS = ['picture', 'portrait', 'logo', 'composition', 'font'] as const;
export type PieceKind = (typeof PIECE_KINDS)[number];

export class BackgroundDraft {
  @IsIn(['sky', 'colour', 'picture'], { message: 'Choose what lies behind.' })
  kind!: PictureBackground['kind'];

  @ValidateIf(({ kind }: BackgroundDraft) => kind === 'sky')
  @IsIn(SKY_MOODS, { message: 'Choose one of the skies.' })
  mood?: SkyMood;

  @ValidateIf(({ kind }: BackgroundDraft) => kind === 'sky')
  @IsInt({ message: 'A sky is drawn from a whole number.' })
  @Min(0)
  @Max(1_000_000)
  seed?: number;

  @ValidateIf(({ kind }: BackgroundDraft) => kind === 'picture')
  @IsUUID(undefined, { message: 'Choose a picture of the library.' })
  pieceId?: string;
}

export class RecipeDraft {
  @IsIn(PICTURE_LAYOUTS, { message: 'Choose one of the layouts.' })
  layout!: PictureLayout;

  @IsPart(() => BackgroundDraft)
  background!: BackgroundDraft;

  @IsOptional()
  @IsUUID(undefined, { message: 'Choose one of the looks.' })
  lookId: string | null = null;

  @IsString()
  @MaxLength(120, { message: 'Keep the words on the picture to 120 characters: nobody reads more at a glance.' })
  title!: string;

  @IsIn(['day and time', 'day', 'none'], { message: 'Say whether the time stands on it.' })
  when!: PictureRecipe['when'];

  @IsString()
  @MaxLength(120, { message: 'Keep the line to 120 characters: nobody reads more at a glance.' })
  line!: string;

  @IsBoolean()
  portraits!: boolean;

  @IsBoolean()
  mark!: boolean;
}

/** A composition to be tried or kept for one of the show's pictures. */
export class CompositionRequest {
  @IsIn(SHOW_PICTURES)
  which!: ShowPictureName;

  @IsPart(() => RecipeDraft)
  recipe!: RecipeDraft;
}

/** A line of letters as it was measured. */
export interface LetteringView extends Lettering {
  role: PictureTextRole;
  text: string;
  readableFromPx: number;
  troubles: LetteringTrouble[];
}

/** A composition as it would be. */
export interface CompositionPreview {
  /** The picture as a data address. */
  picture: string;
  letters: LetteringView[];
  /** Characters that no font here can draw; they are left out. */
  missing: string[];
  /** Guests of the show that have no portrait in the library. */
  withoutPortrait: string[];
}

export interface PieceView {
  id: string;
  kind: PieceKind;
  name: string;
  /** What it shows, for those who cannot see it. */
  alternative: string;
  /** Whose it is, and by what right it is shown; empty: nobody has said. */
  rights: string;
  width: number;
  height: number;
  url: string;
  recipe: PictureRecipe | null;
  addedAt: number;
  usedBy: PieceUse[];
}

/** Where a piece is used. `showId` null: by a series, a template or a look. */
export interface PieceUse {
  showId: string | null;
  words: string;
}

export class PieceChange {
  @IsString()
  @IsNotEmpty({ message: 'Give it a name.' })
  @MaxLength(80, { message: 'Keep the name to 80 characters.' })
  name!: string;

  @IsString()
  @MaxLength(1_000, { message: 'Keep it to 1,000 characters.' })
  alternative!: string;

  /** Whose it is, and by what right it is shown. Missing: as it was. */
  @IsOptional()
  @IsString()
  @MaxLength(200, { message: 'Keep it to 200 characters.' })
  rights?: string;
}

const COLOUR = /^#[0-9a-f]{6}$/i;

export class PaletteDraft implements Palette {
  @Matches(COLOUR, { message: 'Write the colour as #10201f.' })
  ground!: string;

  @Matches(COLOUR, { message: 'Write the colour as #fbf8f0.' })
  ink!: string;

  @Matches(COLOUR, { message: 'Write the colour as #e7cf9a.' })
  accent!: string;
}

/** The largest font that is taken, in bytes. */
export const FONT_MAX_BYTES = 2_000_000;

/** A shipped family, or the identifier of a font of the library. */
const LETTERS_NAME = new RegExp(`^(${Object.keys(SHIPPED_LETTERS).join('|')}|[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12})$`);

export class LettersDraft implements LookLetters {
  @Matches(LETTERS_NAME, { message: 'Choose one of the letters.' })
  display!: LettersName;

  @Matches(LETTERS_NAME, { message: 'Choose one of the letters.' })
  text!: LettersName;
}

export class LookDraft implements LookChoices {
  @IsString()
  @IsNotEmpty({ message: 'Give the look a name.' })
  @MaxLength(40, { message: 'Keep the name to 40 characters.' })
  name!: string;

  @IsPart(() => PaletteDraft)
  palette!: PaletteDraft;

  /** Of the library; null: the lantern. */
  @IsOptional()
  @IsUUID(undefined, { message: 'Choose a logo of the library.' })
  logoId: string | null = null;

  /** How names and captions are drawn in its programme. */
  @IsOptional()
  @IsIn(STRAP_STYLES, { message: 'Choose one of the straps.' })
  straps: StrapStyle = 'edge';

  @IsPart(() => LettersDraft)
  letters: LettersDraft = Object.assign(new LettersDraft(), OWN_LETTERS);

  @IsIn(CARD_STYLES, { message: 'Choose one of the cards.' })
  cards: CardStyle = 'horizon';

  /** What lies behind cards and people; null: an evening in the ground colour. */
  @ValidateIf((_, value) => value !== null)
  @IsPart(() => BackgroundDraft)
  background: PictureBackground | null = null;

  @IsArray()
  @ArrayMaxSize(MOST_SPONSORS, { message: `A look has room for ${MOST_SPONSORS} sponsors.` })
  @ArrayUnique({ message: 'Each sponsor stands there once.' })
  @IsUUID(undefined, { each: true, message: 'Choose logos of the library.' })
  sponsors: string[] = [];

  @IsBoolean()
  sponsorsInCorner = false;

  @IsOptional()
  @IsUUID(undefined, { message: 'Choose a clip of the library.' })
  stingId: string | null = null;
}

/** A look as it is to be: from the state in which it was looked at, and from no other. */
export class LookChange extends LookDraft {
  @IsInt()
  @Min(0)
  revision!: number;
}

/** The look in which a show's, or a whole series', pictures and programme are made. */
export class LookForShow {
  @IsUUID(undefined, { message: 'Choose one of the looks.' })
  lookId!: string;
}

/** Null: the station has none. */
export class LookOfStation {
  @IsOptional()
  @IsUUID(undefined, { message: 'Choose one of the looks.' })
  lookId: string | null = null;
}

export interface LookView extends LookDraft {
  id: string;
  /** Whether it is the station's: what shows are made in for which no other is chosen. */
  forStation: boolean;
  /** Counts its changes. */
  revision: number;
}

/** A look that may not be kept yet, on pictures of a show as they would be: data addresses. */
export interface LookPreview {
  thumbnail: string;
  waiting: string;
}

export interface ArtworkView {
  pieces: PieceView[];
  looks: LookView[];
}

/** Takes a picture of the library for one of the show's own. */
export class PieceForShow {
  @IsIn(SHOW_PICTURES)
  which!: ShowPictureName;

  @IsUUID(undefined, { message: 'Choose a picture of the library.' })
  pieceId!: string;
}

/** Keeps a composition in the library, to begin others from. */
export class KeepComposition {
  @IsString()
  @IsNotEmpty({ message: 'Give it a name.' })
  @MaxLength(80, { message: 'Keep the name to 80 characters.' })
  name!: string;

  @IsUUID()
  showId!: string;

  @IsPart(() => RecipeDraft)
  recipe!: RecipeDraft;
}

/** The largest pack that is read, in bytes; and the most that comes out of one. */
export const PACK_MAX_BYTES = 30_000_000;
export const PACK_MAX_UNPACKED = 80_000_000;

export const MOST_PACK_PICTURES = 12;

export type PackedUse = 'logo' | 'sponsor' | 'background' | 'behind all';

/** What is in a look pack, and what taking it would do. Nothing of it has been kept. */
export interface PackView {
  name: string;
  palette: Palette;
  straps: StrapStyle;
  cards: CardStyle;
  sponsorsInCorner: boolean;
  /** What lies behind all; null: an evening in the ground colour. */
  behind: 'sky' | 'colour' | 'picture' | null;
  /** For headings and for all else: the family's name, and of a font that is in the pack its licence note. */
  letters: Record<'display' | 'text', { name: string; own: boolean; rights: string; isThere: boolean }>;
  /** Pictures as data addresses, small; what each will be used for; and whether the library has it already. */
  pictures: { name: string; alternative: string; rights: string; use: PackedUse; picture: string; isThere: boolean }[];
  /** What of it collides with what the station has, in words; empty: nothing. */
  collides: string[];
}

/** One's own portrait; null: there is none. */
export interface OwnPictureView {
  picture: PieceView | null;
}
