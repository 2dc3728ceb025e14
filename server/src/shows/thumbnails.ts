// The picture of a show: looked at before it is believed, kept as it came, and made anew for whoever gets it, by
// that network's own rules: cropped to its shape, brought to its size, and light enough with the least loss.
import { THUMBNAIL_MAX_BYTES, THUMBNAIL_MAX_PIXELS } from '@lantern/contract';
import { attentionIn, attentionOf, cropFor, differenceHash, shapeKey, ssim, type Crop, type ThumbnailRule } from '@lantern/core';
import { Inject, Injectable } from '@nestjs/common';
import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { copyFile, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import type { Show, ShowPicture } from './show.entities';

/** What our own pages show; also the look of an unused picture on the sheet. */
const HOUSE = { width: 1280, height: 720 };
/** What renditions are made from: a photograph is decoded once, not for every channel. */
const MASTER_MAX = 3_200;
/** Drawings are brought to this width; they are as sharp at any. */
const DRAWN_WIDTH = 1_920;
const DRAWN_MAX_BYTES = 1_000_000;
/** Behind pictures that can be seen through. */
const BACKGROUND = '#10201f';
const QUALITY = { best: 92, least: 40 };
/** What is looked at is judged on a small picture: the eye does no more at a glance. */
const GLANCE = 200;
/** Where players write how long a show is. */
const BADGE: Crop = { x: 0.8, y: 0.84, width: 0.2, height: 0.16 };
const KINDS = 'Choose a JPEG, PNG, WebP, AVIF or SVG file.';

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
}

@Injectable()
export class Thumbnails {
  /** Renditions of the last pictures: a sheet asks for the same ones again and again. */
  private readonly made = new Map<string, Promise<Rendition>>();

  constructor(@Inject(SETTINGS) private readonly settings: Settings) {}

  /** Checks and stores a picture. Throws PlainError with the reason; whatever was stored before stays then. */
  async store(show: Pick<Show, 'id'>, bytes: Buffer): Promise<ShowPicture> {
    if (!Buffer.isBuffer(bytes) || bytes.length === 0) throw new PlainError(400, 'This file is empty. Choose the picture again.');
    if (bytes.length > THUMBNAIL_MAX_BYTES) {
      throw new PlainError(413, `This picture weighs ${(bytes.length / 1e6).toFixed(1)} MB. Choose one of at most ${THUMBNAIL_MAX_BYTES / 1e6} MB.`);
    }
    const { width, height } = await this.look(bytes);
    const damaged = () => {
      throw new PlainError(415, 'This picture is damaged and cannot be read to its end. Export it again and choose the new file.');
    };
    const master = await this.master(bytes).catch(damaged);
    const house = await sharp(master)
      .resize({ ...HOUSE, fit: 'cover', position: 'attention' })
      .jpeg({ quality: 86, mozjpeg: true })
      .toBuffer();
    const { data, info } = await sharp(master).resize({ width: GLANCE, height: GLANCE, fit: 'inside' }).raw().toBuffer({ resolveWithObject: true });
    const attention = attentionOf({ data, width: info.width, height: info.height });
    const crops = Object.fromEntries(SHAPES.map((shape) => [shapeKey(shape), { ...cropFor(attention, info.width, info.height, shape), byHand: false }]));
    const hash = differenceHash(await sharp(master).resize({ width: 9, height: 8, fit: 'fill' }).greyscale().raw().toBuffer());
    await this.write(this.path(show, 'original'), bytes);
    await this.write(this.path(show, 'master'), master);
    await this.write(this.path(show, 'sent'), house);
    return { width, height, version: newVersion(), crops, hash };
  }

  /** Gives a show the picture of another. */
  async copy(from: string, show: Pick<Show, 'id'>, picture: ShowPicture): Promise<ShowPicture> {
    for (const which of ['original', 'master', 'sent'] as const) {
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

  path(show: Pick<Show, 'id'>, which: 'original' | 'master' | 'sent'): string {
    return join(this.settings.picturesDir, `${show.id}.${which}`);
  }

  private async make(show: Pick<Show, 'id' | 'thumbnail'>, rule: ThumbnailRule): Promise<Rendition> {
    const master = await this.masterOf(show);
    const { width: masterWidth, height: masterHeight } = await sharp(master).metadata();
    const known = show.thumbnail!.crops?.[shapeKey(rule.shape)];
    const crop = known ?? (await this.suggested(master, rule.shape));
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
    const kept = ssim(await grey(sharp(data, { raw })), await grey(sharp(jpeg)), info.width, info.height);
    const glance = await sharp(data, { raw }).resize({ width: GLANCE }).raw().toBuffer({ resolveWithObject: true });
    const attention = attentionOf({ data: glance.data, width: glance.info.width, height: glance.info.height });
    const underBadge = attentionIn(attention, glance.info.width, glance.info.height, BADGE);
    const { x, y, width, height } = crop;
    return { jpeg, width: info.width, height: info.height, quality, ssim: kept, crop: { x, y, width, height }, underBadge };
  }

  /** Pictures from before there were masters are made from what came. */
  private async masterOf(show: Pick<Show, 'id'>): Promise<Buffer> {
    const path = this.path(show, 'master');
    return existsSync(path) ? readFile(path) : this.master(await readFile(this.path(show, 'original')));
  }

  private async suggested(master: Buffer, shape: number): Promise<Crop> {
    const { data, info } = await sharp(master).resize({ width: GLANCE, height: GLANCE, fit: 'inside' }).raw().toBuffer({ resolveWithObject: true });
    return cropFor(attentionOf({ data, width: info.width, height: info.height }), info.width, info.height, shape);
  }

  /** What kind of picture it is and how large, upright; nothing of it is decoded before. Throws what is wrong with it. */
  private async look(bytes: Buffer): Promise<{ width: number; height: number }> {
    const facts = await sharp(bytes, { limitInputPixels: THUMBNAIL_MAX_PIXELS })
      .metadata()
      .catch(() => null);
    const kind = facts?.format === 'heif' && facts.compression === 'av1' ? 'avif' : facts?.format;
    if (!facts?.width || !facts.height || !kind || !['jpeg', 'png', 'webp', 'avif', 'svg'].includes(kind)) {
      throw new PlainError(415, `This file is not a picture that can be read. ${KINDS}`);
    }
    if ((facts.pages ?? 1) > 1) throw new PlainError(415, 'This picture moves. Choose a still one.');
    if (facts.width * facts.height > THUMBNAIL_MAX_PIXELS) {
      throw new PlainError(
        413,
        `This picture has ${Math.round((facts.width * facts.height) / 1e6).toLocaleString('en-GB')} million pixels. Choose one of at most ${THUMBNAIL_MAX_PIXELS / 1e6}.`,
      );
    }
    if (kind === 'svg') {
      // It is only ever drawn here, and sent on as what was drawn; but entities may multiply without end before that.
      if (bytes.length > DRAWN_MAX_BYTES || /<!ENTITY/i.test(bytes.toString('utf8'))) {
        throw new PlainError(415, 'This drawing is too large, or made of parts that are not drawn here. Export it as PNG and choose that.');
      }
      return { width: DRAWN_WIDTH, height: Math.round((DRAWN_WIDTH * facts.height) / facts.width) };
    }
    // A camera's note may say that the picture lies on its side.
    const turned = (facts.orientation ?? 1) >= 5;
    return turned ? { width: facts.height, height: facts.width } : { width: facts.width, height: facts.height };
  }

  /** Upright, opaque, without notes, and no larger than anybody needs. */
  private async master(bytes: Buffer): Promise<Buffer> {
    const { format, width } = await sharp(bytes).metadata();
    const density = format === 'svg' && width ? Math.min(2_400, Math.max(72, (72 * DRAWN_WIDTH) / width)) : undefined;
    return sharp(bytes, { limitInputPixels: THUMBNAIL_MAX_PIXELS, failOn: 'error', ...(density && { density }) })
      .rotate() // As the camera's note says; the note itself is not sent on.
      .resize({ width: MASTER_MAX, height: MASTER_MAX, fit: 'inside', withoutEnlargement: true })
      .flatten({ background: BACKGROUND })
      .toColourspace('srgb')
      .jpeg({ quality: 98, chromaSubsampling: '4:4:4' })
      .toBuffer();
  }

  /** Whole or not at all: a reader never meets half a file. */
  private async write(path: string, bytes: Buffer): Promise<void> {
    await writeFile(`${path}.new`, bytes);
    await rename(`${path}.new`, path);
  }
}

/** The shapes for which a crop is suggested when a picture comes; others are suggested when they are asked for. */
const SHAPES = [16 / 9, 2];

const newVersion = (): string => randomBytes(6).toString('base64url');

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
