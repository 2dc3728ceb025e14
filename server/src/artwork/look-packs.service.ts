// Look packs: a look as one file, with the pictures that it needs, that another station opens and can use without instructions. The format is described
// in docs/look-pack.md: a zip (PKWARE APPNOTE 6.3.10) with `look.json`, pictures and fonts.
import {
  MOST_PACK_PICTURES,
  PACK_MAX_BYTES,
  PACK_MAX_UNPACKED,
  PaletteDraft,
  type LookDraft,
  type LookView,
  type PackedUse,
  type PackView,
  type PieceKind,
} from '@lantern/contract';
import {
  CARD_STYLES,
  isShipped,
  MOST_SPONSORS,
  OWN_LOOK,
  SHIPPED_LETTERS,
  SKY_MOODS,
  STRAP_STYLES,
  type CardStyle,
  type LettersName,
  type LookChoices,
  type PictureBackground,
  type PictureRecipe,
  type ShippedLetters,
  type SkyMood,
  type StrapStyle,
} from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNotEmpty,
  IsObject,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
  ValidateNested,
  validateSync,
} from 'class-validator';
import { strToU8, unzipSync, zipSync, type Zippable } from 'fflate';
import sharp from 'sharp';
import { PlainError } from '../foundation/errors';
import { SeriesRows, TemplateRows } from '../shows/series-rows';
import { ShowRows } from '../shows/show-rows';
import { kindOfFont } from '../foreign/read-font';
import { LooksService, plainBackground } from './looks.service';
import { PiecesService } from './pieces.service';

const FORMAT = 'noble-lantern-look';
/** 1: without letters, cards, background and sponsors. */
const VERSION = 2;
const JSON_MAX_BYTES = 200_000;
const PICTURE = /^pictures\/[a-z0-9-]{1,60}\.(png|jpg)$/;
const FONT = /^fonts\/[a-z0-9-]{1,60}\.(ttf|otf|woff|woff2)$/;
/** As wide as what is in a pack is shown before it is taken. */
const SEEN_PX = 320;

class PackedPicture {
  @Matches(PICTURE) file!: string;
  @IsString() @IsNotEmpty() @MaxLength(80) name!: string;
  @IsString() @MaxLength(1_000) alternative!: string;
  @IsString() @MaxLength(200) rights!: string;
}

class PackedFont {
  @Matches(FONT) file!: string;
  @IsString() @IsNotEmpty() @MaxLength(80) name!: string;
  @IsString() @MaxLength(200) rights!: string;
}

/** A shipped family, or a font of the pack. */
class PackedLetters {
  @ValidateIf(({ font }: PackedLetters) => !font) @IsIn(Object.keys(SHIPPED_LETTERS)) shipped?: ShippedLetters;
  @IsOptional() @ValidateNested() @Type(() => PackedFont) font?: PackedFont;
}

class PackedFaces {
  @ValidateNested() @IsObject() @Type(() => PackedLetters) display!: PackedLetters;
  @ValidateNested() @IsObject() @Type(() => PackedLetters) text!: PackedLetters;
}

/** What packs have that do not speak of letters. */
const shippedFaces = (): PackedFaces => {
  const one = (shipped: ShippedLetters) => Object.assign(new PackedLetters(), { shipped });
  return Object.assign(new PackedFaces(), { display: one('bricolage-grotesque'), text: one('atkinson-hyperlegible-next') });
};

class PackedBackground {
  @IsIn(['sky', 'colour', 'picture']) kind!: PictureBackground['kind'];
  @ValidateIf(({ kind }: PackedBackground) => kind === 'sky') @IsIn(SKY_MOODS) mood?: SkyMood;
  @ValidateIf(({ kind }: PackedBackground) => kind === 'sky') @IsInt() @Min(0) @Max(1_000_000) seed?: number;
  @ValidateIf(({ kind }: PackedBackground) => kind === 'picture') @IsObject() @ValidateNested() @Type(() => PackedPicture) picture?: PackedPicture;
}

class PackedLook {
  @IsString() @IsNotEmpty() @MaxLength(40) name!: string;
  @ValidateNested() @IsObject() @Type(() => PaletteDraft) palette!: PaletteDraft;
  @IsIn(STRAP_STYLES) straps!: StrapStyle;
  @IsOptional() @ValidateNested() @Type(() => PackedPicture) logo!: PackedPicture | null;
  @IsArray() @ArrayMaxSize(MOST_PACK_PICTURES) @ValidateNested({ each: true }) @Type(() => PackedPicture) backgrounds!: PackedPicture[];
  @IsIn(CARD_STYLES) cards: CardStyle = OWN_LOOK.cards;
  @ValidateNested() @IsObject() @Type(() => PackedFaces) letters: PackedFaces = shippedFaces();
  @IsOptional() @ValidateNested() @Type(() => PackedBackground) background: PackedBackground | null = null;
  @IsArray() @ArrayMaxSize(MOST_SPONSORS) @ValidateNested({ each: true }) @Type(() => PackedPicture) sponsors: PackedPicture[] = [];
  @IsBoolean() sponsorsInCorner = false;
}

interface Opened {
  look: PackedLook;
  pictures: { use: PackedUse; facts: PackedPicture; bytes: Buffer }[];
  /** Each once, by its file. */
  fonts: { facts: PackedFont; bytes: Buffer }[];
}

const notOne = (why: string) => new PlainError(415, `This file is not a look pack: ${why}. Choose one that was taken out of a station’s Looks.`);

@Injectable()
export class LookPacksService {
  constructor(
    private readonly pieces: PiecesService,
    private readonly looks: LooksService,
    private readonly shows: ShowRows,
    private readonly series: SeriesRows,
    private readonly templates: TemplateRows,
  ) {}

  /** A look with its mark and the pictures that lie behind the words where it is used. */
  async pack(stationId: string, lookId: string): Promise<{ name: string; bytes: Uint8Array }> {
    const look = await this.looks.mustBe(stationId, lookId);
    const pieces = await this.pieces.list(stationId);
    const used = await this.backgroundsOf(stationId, lookId);
    const files: Zippable = {};
    const packed = async (id: string | null): Promise<PackedPicture | null> => {
      const piece = pieces.find((each) => each.id === id);
      const bytes = piece && (await this.pieces.file(piece.id));
      if (!piece || !bytes) return null;
      const file = `pictures/${piece.id}.${bytes[0] === 0x89 ? 'png' : 'jpg'}`;
      // Pictures are as small as they get.
      files[file] = [bytes, { level: 0 }];
      const { name, alternative, rights } = piece;
      return { file, name, alternative, rights };
    };
    const packedFont = async (name: LettersName): Promise<PackedLetters> => {
      if (isShipped(name)) return { shipped: name };
      const piece = pieces.find(({ id }) => id === name);
      const bytes = piece && (await this.pieces.file(piece.id));
      const kind = bytes && kindOfFont(bytes);
      if (!piece || !kind) return { shipped: OWN_LOOK.letters.display as ShippedLetters };
      const file = `fonts/${piece.id}.${kind.split('/')[1]}`;
      files[file] = [bytes, { level: 6 }];
      return { font: { file, name: piece.name, rights: piece.rights } };
    };
    const all = async (ids: readonly string[]): Promise<PackedPicture[]> => {
      const found: PackedPicture[] = [];
      for (const id of ids) {
        const one = await packed(id);
        if (one) found.push(one);
      }
      return found;
    };
    const { name, palette, straps, cards, sponsorsInCorner } = look;
    const behind = look.background?.kind === 'picture' ? await packed(look.background.pieceId) : null;
    const kept = {
      ...{ format: FORMAT, version: VERSION, name, palette, straps, cards, sponsorsInCorner },
      letters: { display: await packedFont(look.letters.display), text: await packedFont(look.letters.text) },
      background: look.background?.kind === 'picture' ? behind && { kind: 'picture', picture: behind } : look.background,
      logo: await packed(look.logoId),
      sponsors: await all(look.sponsors),
      backgrounds: await all([...used].slice(0, MOST_PACK_PICTURES)),
    };
    files['look.json'] = strToU8(JSON.stringify(kept, null, 2));
    return { name, bytes: zipSync(files) };
  }

  /** What is in a pack and what taking it would do. Keeps nothing. Throws what is wrong with it. */
  async open(stationId: string, bytes: unknown): Promise<PackView> {
    const { look, pictures, fonts } = opened(bytes);
    const [pieces, looks] = [await this.pieces.list(stationId), await this.looks.list(stationId)];
    for (const font of fonts) await this.pieces.lookedAtFont(font.bytes);
    const seen: PackView['pictures'] = [];
    for (const { use, facts, bytes: picture } of pictures) {
      // Looked at as everything that comes from elsewhere, before it is decoded.
      const { bytes: safe } = await this.pieces.looked(picture);
      const small = await sharp(Buffer.from(safe)).resize({ width: SEEN_PX, withoutEnlargement: true }).png().toBuffer();
      const { name, alternative, rights } = facts;
      seen.push({
        name,
        alternative,
        rights,
        use,
        picture: `data:image/png;base64,${small.toString('base64')}`,
        isThere: pieces.some(sameAs(kindFor(use), name)),
      });
    }
    const { name, palette, straps, cards, sponsorsInCorner } = look;
    const lettersSeen = ({ shipped, font }: PackedLetters): PackView['letters']['text'] =>
      font
        ? { name: font.name, own: true, rights: font.rights, isThere: pieces.some(sameAs('font', font.name)) }
        : { name: SHIPPED_LETTERS[shipped!].name, own: false, rights: '', isThere: true };
    const letters = { display: lettersSeen(look.letters.display), text: lettersSeen(look.letters.text) };
    const collides = [
      ...(looks.some((each) => each.name === name) ? [`There is a look “${name}” already: this one is kept as “${freeName(name, looks)}”.`] : []),
      ...seen
        .filter(({ isThere }) => isThere)
        .map((each) => `There is a ${kindFor(each.use)} “${each.name}” already: that one is used, and this one left out.`),
      ...fonts
        .filter(({ facts }) => pieces.some(sameAs('font', facts.name)))
        .map(({ facts }) => `There is a font “${facts.name}” already: that one is used, and this one left out.`),
    ];
    const behind = look.background?.kind ?? null;
    return { name, palette: { ...palette }, straps, cards, sponsorsInCorner, behind, letters, pictures: seen, collides };
  }

  /** Takes a pack into the station's library. */
  async take(stationId: string, bytes: unknown): Promise<LookView> {
    const { look, pictures, fonts } = opened(bytes);
    // All of it is looked at before any of it is kept.
    for (const font of fonts) await this.pieces.lookedAtFont(font.bytes);
    for (const picture of pictures) await this.pieces.looked(picture.bytes);
    const [known, looks] = [await this.pieces.list(stationId), await this.looks.list(stationId)];
    /** What is in the library of it by now, by its file in the pack. */
    const taken = new Map<string, string>();
    const added: string[] = [];
    const have = async (kind: PieceKind, { file, name, alternative = '', rights }: PackedPicture | (PackedFont & { alternative?: string }), from: Buffer) => {
      if (taken.has(file)) return;
      const there = known.find(sameAs(kind, name));
      if (there) return taken.set(file, there.id);
      const { id } = await this.pieces.add(stationId, kind, name, from);
      added.push(id);
      taken.set(file, id);
      await this.pieces.change(stationId, id, { name, alternative, rights });
    };
    try {
      for (const { facts, bytes: font } of fonts) await have('font', facts, font);
      for (const { use, facts, bytes: picture } of pictures) await have(kindFor(use), facts, picture);
      return await this.looks.add(stationId, { ...draftOf(look, ({ file }) => taken.get(file)!), name: freeName(look.name, looks) });
    } catch (error) {
      // A look that cannot be kept leaves nothing behind: no room, too many looks, a disk that is full.
      for (const id of added) await this.pieces.remove(stationId, id, true).catch(() => undefined);
      throw error;
    }
  }

  private async backgroundsOf(stationId: string, lookId: string): Promise<ReadonlySet<string>> {
    const pieces = await this.pieces.list(stationId);
    const made = [...(await this.series.atStation(stationId)), ...(await this.templates.atStation(stationId))];
    const recipes: (PictureRecipe | null | undefined)[] = [
      ...pieces.map(({ recipe }) => recipe),
      ...(await this.shows.withPictures(stationId)).flatMap(({ thumbnail, waiting }) => [thumbnail?.recipe, waiting?.recipe]),
      ...made.flatMap(({ picture, waiting }) => [picture?.recipe, waiting?.recipe]),
    ];
    return new Set(recipes.flatMap((recipe) => (recipe?.lookId === lookId && recipe.background.kind === 'picture' ? [recipe.background.pieceId] : [])));
  }
}

/** `idOf`: what of the library something of the pack is by now. */
function draftOf(
  { name, palette, straps, cards, letters, background, logo, sponsors, sponsorsInCorner }: PackedLook,
  idOf: (packed: { file: string }) => string,
): LookDraft {
  const lettersOf = ({ shipped, font }: PackedLetters): LettersName => (font ? idOf(font) : shipped!);
  return {
    ...{ name, palette: { ...palette }, straps, cards, sponsorsInCorner, stingId: null },
    letters: { display: lettersOf(letters.display), text: lettersOf(letters.text) },
    background: background && behindOf(background, idOf),
    logoId: logo && idOf(logo),
    sponsors: [...new Set(sponsors.map(idOf))],
  };
}

/** As what of the library something is kept. */
const kindFor = (use: PackedUse): 'logo' | 'picture' => (use === 'logo' || use === 'sponsor' ? 'logo' : 'picture');

const sameAs = (kind: PieceKind, name: string) => (piece: { kind: string; name: string }) => piece.kind === kind && piece.name === name;

function behindOf({ kind, mood, seed, picture }: PackedBackground, idOf: (picture: PackedPicture) => string): LookChoices['background'] {
  if (kind === 'picture') return { kind, pieceId: idOf(picture!) };
  return plainBackground(kind === 'sky' ? { kind, mood: mood!, seed: seed! } : { kind });
}

function freeName(name: string, looks: readonly { name: string }[]): string {
  for (let at = 1; ; at++) {
    const tried = at === 1 ? name : `${name.slice(0, 36)} ${at}`;
    if (!looks.some((each) => each.name === tried)) return tried;
  }
}

/** Reads no more of a file than a pack has, and believes nothing of it that was not looked at. */
function opened(bytes: unknown): Opened {
  if (!Buffer.isBuffer(bytes) || !bytes.length) throw notOne('it is empty');
  if (bytes.length > PACK_MAX_BYTES) throw new PlainError(413, `This pack is larger than ${PACK_MAX_BYTES / 1e6} MB.`);
  if (bytes.readUInt32BE(0) !== 0x504b0304) throw notOne('it is no zip');
  let total = 0;
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (name !== 'look.json' && !PICTURE.test(name) && !FONT.test(name)) return false;
        total += originalSize;
        if (total > PACK_MAX_UNPACKED || (name === 'look.json' && originalSize > JSON_MAX_BYTES)) throw notOne('it holds more than a pack may');
        return true;
      },
    });
  } catch (error) {
    if (error instanceof PlainError) throw error;
    throw notOne('it is damaged, and cannot be unpacked');
  }
  const text = files['look.json'];
  if (!text) throw notOne('there is no look in it');
  const look = lookIn(text);
  const behind = look.background?.picture;
  const pictures: Omit<Opened['pictures'][number], 'bytes'>[] = [
    ...(look.logo ? [{ use: 'logo' as const, facts: look.logo }] : []),
    ...look.sponsors.map((facts) => ({ use: 'sponsor' as const, facts })),
    ...(behind ? [{ use: 'behind all' as const, facts: behind }] : []),
    ...look.backgrounds.map((facts) => ({ use: 'background' as const, facts })),
  ];
  const fonts = [look.letters.display.font, look.letters.text.font].filter((font) => font !== undefined);
  const bytesOf = ({ file, name }: { file: string; name: string }, what: string) => {
    const found = files[file];
    if (!found) throw notOne(`the ${what} of “${name}” is missing`);
    return Buffer.from(found);
  };
  return {
    look,
    pictures: pictures.map((each) => ({ ...each, bytes: bytesOf(each.facts, 'picture') })),
    fonts: fonts.filter(({ file }, at) => fonts.findIndex((each) => each.file === file) === at).map((facts) => ({ facts, bytes: bytesOf(facts, 'font') })),
  };
}

function lookIn(text: Uint8Array): PackedLook {
  let read: { format?: unknown; version?: unknown };
  try {
    read = JSON.parse(Buffer.from(text).toString('utf8')) as typeof read;
  } catch {
    throw notOne('its look cannot be read');
  }
  if (typeof read !== 'object' || read === null || read.format !== FORMAT) throw notOne('its look is of another kind');
  if (typeof read.version !== 'number') throw notOne('it does not say which version it is');
  if (read.version > VERSION)
    throw new PlainError(415, 'This pack was made by a newer Noble Lantern. Have this server brought up to date, then open it again.');
  const look = plainToInstance(PackedLook, { logo: null, ...read });
  const [first] = validateSync(look, { whitelist: true, forbidUnknownValues: true });
  if (first) throw notOne(`“${first.property}” of its look is not as it has to be`);
  return look;
}
