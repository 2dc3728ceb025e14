// The picture of a show: looked at before it is believed, kept as it came, and made anew for whoever gets it, by
// that network's own rules: cropped to its shape, brought to its size, and light enough with the least loss.
import {
  addGrain,
  differenceHash,
  LENGTH_BADGE,
  LETTERING_WIDTH_PX,
  letteringTroubles,
  shapeKey,
  type Crop,
  type LetteringTrouble,
  type Pixels,
  type ThumbnailRule,
} from '@lantern/core';
import { Inject, Injectable } from '@nestjs/common';
import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { copyFile, readdir, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { emptyPicture, type DecodedPicture } from '../foreign/incoming-picture';
import { writeTogether } from '../foundation/whole-files';
import { PictureMeasures } from '../pictures/picture-measures';
import { ForeignFiles } from '../foreign/foreign-files';
import { SETTINGS, type Settings } from '../foundation/settings';
import type { Show, ShowPicture } from './show.entities';

/** What our own pages show; also the look of an unused picture on the sheet. */
const HOUSE = { width: 1280, height: 720 };
const QUALITY = { best: 92, least: 40 };
/** Some kilobytes each: as many as an almanac shows at once. */
const GLANCES_KEPT = 300;
/** What is looked at is judged on a small picture: the eye does no more at a glance. */
const GLANCE = 200;
/** Composed pictures are made in each of these shapes; for other pictures a crop of each is suggested when they come. */
export const SHAPES = [16 / 9, 2];

/** A picture as one network gets it. */
export interface Rendition {
  jpeg: Buffer;
  width: number;
  height: number;
  quality: number;
  /** How much of the picture is kept, by its structural similarity to what was not compressed. */
  ssim: number;
  crop: Crop;
  /** The part of what is looked at that lies under the length badge. */
  underBadge: number;
  /** What is wrong with letters on it, at the sizes at which people meet it. */
  letters: LetteringTrouble[];
}

/** The waiting picture of a show has files of its own. */
export const waitingOf = ({ id }: { id: string }): { id: string } => ({ id: `${id}.waiting` });

type FileOf = 'original' | 'master' | 'sent' | `master-${string}`;

@Injectable()
export class Thumbnails {
  /** Draws the composed pictures of a show that have no files yet. Set by whoever composes. */
  drawMissing: (showId: string) => Promise<void> = () => Promise.resolve();
  /** Renditions of the last pictures: a sheet asks for the same ones again and again. */
  private readonly made = new Map<string, Promise<Rendition>>();

  private readonly glances = new Map<string, Promise<Buffer>>();
  private lastGlance: Promise<unknown> = Promise.resolve();

  constructor(
    @Inject(SETTINGS) private readonly settings: Settings,
    private readonly measures: PictureMeasures,
    private readonly foreign: ForeignFiles,
  ) {}

  /** Checks and stores a picture. Throws PlainError with the reason; whatever was stored before stays then. */
  async store(show: Pick<Show, 'id'>, bytes: Buffer): Promise<ShowPicture> {
    if (!Buffer.isBuffer(bytes)) throw emptyPicture();
    const decoded = await this.foreign.ask<DecodedPicture>({ kind: 'picture', bytes, as: 'master' });
    const { width, height } = decoded;
    const master = Buffer.from(decoded.bytes);
    const suggested = await this.suggested(master, SHAPES);
    const crops = Object.fromEntries(SHAPES.map((shape, at) => [shapeKey(shape), { ...suggested[at]!, byHand: false }]));
    const { shown, hash } = await this.shown(master, suggested[0]!);
    await writeTogether([
      [this.path(show, 'original'), bytes],
      [this.path(show, 'master'), master],
      [this.path(show, 'sent'), shown],
    ]);
    return { width, height, version: newVersion(), crops, hash };
  }

  /** Stores a picture that was composed here, drawn in each shape for itself. */
  async storeComposed(show: Pick<Show, 'id'>, drawn: ReadonlyMap<number, Buffer>, facts: Composed): Promise<ShowPicture> {
    const masters = await Promise.all(
      [...drawn].map(async ([shape, png]) => ({ shape, master: await sharp(png).removeAlpha().jpeg({ quality: 96, chromaSubsampling: '4:4:4' }).toBuffer() })),
    );
    const [{ master }] = masters as [(typeof masters)[number]];
    const { shown, hash } = await this.shown(master, ALL, true);
    await writeTogether([
      ...masters.map(({ shape, master: own }) => [this.path(show, `master-${shapeKey(shape)}`), own] as const),
      [this.path(show, 'master'), master],
      [this.path(show, 'sent'), shown],
    ]);
    const { width, height } = await sharp(master).metadata();
    return { width, height, version: newVersion(), hash, ...facts };
  }

  /** Forgets the files of a show or of whatever else had pictures. */
  async forget({ id }: Pick<Show, 'id'>): Promise<void> {
    const files = (await readdir(this.settings.picturesDir)).filter((file) => file.startsWith(`${id}.`));
    await Promise.all(files.map((file) => rm(join(this.settings.picturesDir, file), { force: true })));
  }

  /** Gives a show the picture of another. */
  async copy(from: string, show: Pick<Show, 'id'>, picture: ShowPicture): Promise<ShowPicture> {
    const drawn = SHAPES.map((shape): FileOf => `master-${shapeKey(shape)}`);
    for (const which of ['original', 'master', 'sent', ...drawn] as const) {
      if (existsSync(this.path({ id: from }, which))) await copyFile(this.path({ id: from }, which), this.path(show, which));
    }
    return { ...picture, version: newVersion() };
  }

  /** The picture with the crop of one shape chosen by hand. It is another picture for the channels of that shape. */
  withCrop(picture: ShowPicture, shape: number, crop: Crop): ShowPicture {
    return { ...picture, version: newVersion(), crops: { ...picture.crops, [shapeKey(shape)]: { ...crop, byHand: true } } };
  }

  /** The picture as one network takes it: its shape, its least size, and light enough, with what was done to it. */
  rendition(show: Pick<Show, 'id' | 'thumbnail'>, rule: ThumbnailRule): Promise<Rendition> {
    const key = `${show.id} ${show.thumbnail!.version} ${shapeKey(rule.shape)} ${rule.minWidth} ${rule.maxBytes}`;
    let making = this.made.get(key);
    if (!making) {
      if (this.made.size > 60) this.made.delete(this.made.keys().next().value!);
      making = this.make(show, rule);
      this.made.set(key, making);
      making.catch(() => this.made.delete(key));
    }
    return making;
  }

  /** The picture as lists of many shows show it: 160 by 90 pixels, JPEG. */
  glance(show: Pick<Show, 'id'>, version: string): Promise<Buffer> {
    const key = `${show.id} ${version}`;
    let making = this.glances.get(key);
    if (!making) {
      if (this.glances.size > GLANCES_KEPT) this.glances.delete(this.glances.keys().next().value!);
      // One after the other: a list asks for many at once, and some must be drawn first.
      making = this.lastGlance
        .then(() => this.file(show, 'sent'))
        .then((path) => sharp(path).resize({ width: 160, height: 90, fit: 'cover' }).jpeg({ quality: 80 }).toBuffer());
      this.lastGlance = making.catch(() => undefined);
      this.glances.set(key, making);
      making.catch(() => this.glances.delete(key));
    }
    return making;
  }

  /** The path of a file that is there: a composed picture may be drawn only when somebody looks at it. */
  async file(show: Pick<Show, 'id'>, which: FileOf): Promise<string> {
    const path = this.path(show, which);
    if (!existsSync(path)) await this.drawMissing(show.id.replace(/\.waiting$/, ''));
    return path;
  }

  path(show: Pick<Show, 'id'>, which: FileOf): string {
    return join(this.settings.picturesDir, `${show.id}.${which}`);
  }

  private async make(show: Pick<Show, 'id' | 'thumbnail'>, rule: ThumbnailRule): Promise<Rendition> {
    const { recipe, letters: known, crops } = show.thumbnail!;
    const own = await this.file(show, `master-${shapeKey(rule.shape)}`);
    const drawn = recipe !== undefined && existsSync(own);
    const master = drawn ? await readFile(own) : await this.masterOf(show);
    const { width: masterWidth, height: masterHeight } = await sharp(master).metadata();
    const crop = drawn ? ALL : (crops?.[shapeKey(rule.shape)] ?? (await this.suggested(master, [rule.shape]))[0]!);
    const area = pixelsOf(crop, masterWidth, masterHeight);
    // As large as it is, up to twice the least size: more is only weight.
    const scale = Math.min(2, Math.max(1, area.width / rule.minWidth));
    const size = { width: Math.round(rule.minWidth * scale), height: Math.round((rule.minWidth * scale) / rule.shape) };
    const { data, info } = await sharp(master)
      .extract(area)
      .resize({ ...size, fit: 'fill' })
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const raw = { width: info.width, height: info.height, channels: info.channels };
    const { jpeg, quality } = await lightEnough(data, raw, rule.maxBytes);
    const grey = (picture: sharp.Sharp) => picture.greyscale().raw().toBuffer();
    const kept = await this.measures.ask<'likeness'>({
      ...{ kind: 'likeness', width: info.width, height: info.height },
      ...{ a: await grey(sharp(data, { raw })), b: await grey(sharp(jpeg)) },
    });
    const glance = await pixelsAt(sharp(data, { raw }), GLANCE);
    const underBadge = await this.measures.ask<'within'>({ kind: 'within', glance, area: LENGTH_BADGE });
    const letters = known ?? (await this.measures.ask<'letters'>({ kind: 'letters', detailed: await pixelsAt(sharp(jpeg), LETTERING_WIDTH_PX) }));
    const { x, y, width, height } = crop;
    return {
      ...{ jpeg, width: info.width, height: info.height, quality, ssim: kept, crop: { x, y, width, height }, underBadge },
      letters: [...new Set(letters.flatMap(letteringTroubles))],
    };
  }

  /** Pictures from before there were masters are made from what came. */
  private async masterOf(show: Pick<Show, 'id'>): Promise<Buffer> {
    const path = this.path(show, 'master');
    if (existsSync(path)) return readFile(path);
    const decoded = await this.foreign.ask<DecodedPicture>({ kind: 'picture', bytes: await readFile(this.path(show, 'original')), as: 'master' });
    return Buffer.from(decoded.bytes);
  }

  private async suggested(master: Buffer, shapes: readonly number[]): Promise<Crop[]> {
    return this.measures.ask<'crops'>({
      kind: 'crops',
      glance: await pixelsAt(sharp(master), GLANCE),
      detailed: await pixelsAt(sharp(master), LETTERING_WIDTH_PX),
      shapes,
    });
  }

  /** What our own pages show, and the hash by which the picture is known again. */
  /** `drawn`: it was drawn here, and its smooth skies would show edges once they are made smaller. */
  private async shown(master: Buffer, crop: Crop, drawn = false): Promise<{ shown: Buffer; hash: string }> {
    const { width, height } = await sharp(master).metadata();
    // Cut before it is enlarged: of a strip of 6 by 3,000 pixels this would otherwise make one of 640,000 lines.
    const shown = sharp(master)
      .extract(pixelsOf(crop, width, height))
      .resize({ ...HOUSE, fit: 'cover' });
    const { data, info } = await shown.removeAlpha().raw().toBuffer({ resolveWithObject: true });
    if (drawn) addGrain(data, info.channels);
    const raw = { width: info.width, height: info.height, channels: info.channels };
    return {
      shown: await sharp(data, { raw })
        .jpeg({ quality: drawn ? 94 : 92 })
        .toBuffer(),
      hash: differenceHash(await sharp(master).resize({ width: 9, height: 8, fit: 'fill' }).greyscale().raw().toBuffer()),
    };
  }
}

/** What a composed picture has beside its pixels. */
type Composed = Required<Pick<ShowPicture, 'recipe' | 'madeOf' | 'letters'>>;

const ALL: Crop = { x: 0, y: 0, width: 1, height: 1 };

const newVersion = (): string => randomBytes(6).toString('base64url');

/** A picture as pixels, `width` across; less where it is far taller than wide. */
export async function pixelsAt(picture: sharp.Sharp, width: number): Promise<Pixels> {
  const { data, info } = await picture
    .resize({ width, height: 2 * width, fit: 'inside' })
    .removeAlpha()
    .toColourspace('srgb')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { data, width: info.width, height: info.height };
}

function pixelsOf(crop: Crop, width: number, height: number): sharp.Region {
  const left = Math.min(width - 1, Math.max(0, Math.round(crop.x * width)));
  const top = Math.min(height - 1, Math.max(0, Math.round(crop.y * height)));
  return {
    left,
    top,
    width: Math.max(1, Math.min(width - left, Math.round(crop.width * width))),
    height: Math.max(1, Math.min(height - top, Math.round(crop.height * height))),
  };
}

/** The best quality whose file is light enough, by halving; the least where even that is too heavy. */
async function lightEnough(data: Buffer, raw: sharp.CreateRaw, maxBytes: number): Promise<{ jpeg: Buffer; quality: number }> {
  const at = (quality: number) => sharp(data, { raw }).jpeg({ quality }).toBuffer();
  let best = { jpeg: await at(QUALITY.best), quality: QUALITY.best };
  if (best.jpeg.length <= maxBytes) return best;
  let [low, high] = [QUALITY.least, QUALITY.best - 1];
  best = { jpeg: await at(low), quality: low };
  while (low < high) {
    const quality = Math.ceil((low + high) / 2);
    const jpeg = await at(quality);
    if (jpeg.length <= maxBytes) {
      best = { jpeg, quality };
      low = quality;
    } else high = quality - 1;
  }
  return best;
}
