// Look packs: a look as one file, with the pictures that it needs, that another station opens and can use without instructions. The format is described
// in docs/look-pack.md: a zip (PKWARE APPNOTE 6.3.10) with `look.json` and pictures.
import { MOST_PACK_PICTURES, PACK_MAX_BYTES, PACK_MAX_UNPACKED, PaletteDraft, type LookView, type PackView } from '@lantern/contract';
import { STRAP_STYLES, type PictureRecipe, type StrapStyle } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { plainToInstance, Type } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsIn, IsNotEmpty, IsOptional, IsString, Matches, MaxLength, ValidateNested, validateSync } from 'class-validator';
import { strToU8, unzipSync, zipSync, type Zippable } from 'fflate';
import sharp from 'sharp';
import { PlainError } from '../foundation/errors';
import { SeriesRows, TemplateRows } from '../shows/series-rows';
import { ShowRows } from '../shows/show-rows';
import { PiecesService } from './pieces.service';

const FORMAT = 'noble-lantern-look';
const VERSION = 1;
const JSON_MAX_BYTES = 200_000;
const FILE = /^pictures\/[a-z0-9-]{1,60}\.(png|jpg)$/;
/** As wide as what is in a pack is shown before it is taken. */
const SEEN_PX = 320;

class PackedPicture {
  @Matches(FILE) file!: string;
  @IsString() @IsNotEmpty() @MaxLength(80) name!: string;
  @IsString() @MaxLength(1_000) alternative!: string;
  @IsString() @MaxLength(200) rights!: string;
}

class PackedLook {
  @IsString() @IsNotEmpty() @MaxLength(40) name!: string;
  @ValidateNested() @Type(() => PaletteDraft) palette!: PaletteDraft;
  @IsIn(STRAP_STYLES) straps!: StrapStyle;
  @IsOptional() @ValidateNested() @Type(() => PackedPicture) logo!: PackedPicture | null;
  @IsArray() @ArrayMaxSize(MOST_PACK_PICTURES) @ValidateNested({ each: true }) @Type(() => PackedPicture) backgrounds!: PackedPicture[];
}

interface Opened {
  look: PackedLook;
  pictures: { use: 'logo' | 'background'; facts: PackedPicture; bytes: Buffer }[];
}

const notOne = (why: string) => new PlainError(415, `This file is not a look pack: ${why}. Choose one that was taken out of Artwork, under Looks.`);

@Injectable()
export class LookPacksService {
  constructor(
    private readonly pieces: PiecesService,
    private readonly shows: ShowRows,
    private readonly series: SeriesRows,
    private readonly templates: TemplateRows,
  ) {}

  /** A look with its mark and the pictures that lie behind the words where it is used. */
  async pack(stationId: string, lookId: string): Promise<{ name: string; bytes: Uint8Array }> {
    const look = await this.pieces.look(stationId, lookId);
    if (!look) throw new PlainError(404, 'There is no such look. It may have been removed.');
    const { pieces } = await this.pieces.view(stationId);
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
    const { name, palette, straps, logoId } = look;
    const logo = await packed(logoId);
    const backgrounds: PackedPicture[] = [];
    for (const id of [...used].slice(0, MOST_PACK_PICTURES)) {
      const one = await packed(id);
      if (one) backgrounds.push(one);
    }
    files['look.json'] = strToU8(JSON.stringify({ format: FORMAT, version: VERSION, name, palette, straps, logo, backgrounds }, null, 2));
    return { name, bytes: zipSync(files) };
  }

  /** What is in a pack and what taking it would do. Keeps nothing. Throws what is wrong with it. */
  async open(stationId: string, bytes: unknown): Promise<PackView> {
    const { look, pictures } = opened(bytes);
    const { pieces, looks } = await this.pieces.view(stationId);
    const seen: PackView['pictures'] = [];
    for (const { use, facts, bytes: picture } of pictures) {
      // Looked at as everything that comes from elsewhere, before it is decoded.
      const { bytes: safe } = await this.pieces.looked(picture);
      const small = await sharp(Buffer.from(safe)).resize({ width: SEEN_PX, withoutEnlargement: true }).png().toBuffer();
      const { name, alternative, rights } = facts;
      seen.push({ name, alternative, rights, use, picture: `data:image/png;base64,${small.toString('base64')}`, isThere: pieces.some(sameAs(use, name)) });
    }
    const { name, palette, straps } = look;
    const collides = [
      ...(looks.some((each) => each.name === name) ? [`There is a look “${name}” already: this one is kept as “${freeName(name, looks)}”.`] : []),
      ...seen
        .filter(({ isThere }) => isThere)
        .map((each) => `There is a ${each.use === 'logo' ? 'logo' : 'picture'} “${each.name}” already: that one is used, and this one left out.`),
    ];
    return { name, palette: { ...palette }, straps, pictures: seen, collides };
  }

  /** Takes a pack into the station's library. */
  async take(stationId: string, bytes: unknown): Promise<LookView> {
    const { look, pictures } = opened(bytes);
    const { pieces, looks } = await this.pieces.view(stationId);
    let logoId: string | null = null;
    for (const { use, facts, bytes: picture } of pictures) {
      const { name, alternative, rights } = facts;
      const known = pieces.find(sameAs(use, name));
      const piece = known ?? (await this.pieces.add(stationId, use === 'logo' ? 'logo' : 'picture', name, picture));
      if (!known) await this.pieces.change(stationId, piece.id, { name, alternative, rights });
      if (use === 'logo') logoId = piece.id;
    }
    return this.pieces.keepLook(stationId, { name: freeName(look.name, looks), palette: { ...look.palette }, straps: look.straps, logoId }, null);
  }

  private async backgroundsOf(stationId: string, lookId: string): Promise<ReadonlySet<string>> {
    const { pieces } = await this.pieces.view(stationId);
    const made = [...(await this.series.atStation(stationId)), ...(await this.templates.atStation(stationId))];
    const recipes: (PictureRecipe | null | undefined)[] = [
      ...pieces.map(({ recipe }) => recipe),
      ...(await this.shows.withPictures(stationId)).flatMap(({ thumbnail, waiting }) => [thumbnail?.recipe, waiting?.recipe]),
      ...made.flatMap(({ picture, waiting }) => [picture?.recipe, waiting?.recipe]),
    ];
    return new Set(recipes.flatMap((recipe) => (recipe?.lookId === lookId && recipe.background.kind === 'picture' ? [recipe.background.pieceId] : [])));
  }
}

const sameAs = (use: 'logo' | 'background', name: string) => (piece: { kind: string; name: string }) =>
  piece.kind === (use === 'logo' ? 'logo' : 'picture') && piece.name === name;

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
        if (name !== 'look.json' && !FILE.test(name)) return false;
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
  const pictures = [
    ...(look.logo ? [{ use: 'logo' as const, facts: look.logo }] : []),
    ...look.backgrounds.map((facts) => ({ use: 'background' as const, facts })),
  ];
  return {
    look,
    pictures: pictures.map((each) => {
      const picture = files[each.facts.file];
      if (!picture) throw notOne(`the picture of “${each.facts.name}” is missing`);
      return { ...each, bytes: Buffer.from(picture) };
    }),
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
