// The picture of a show: looked at before it is believed, kept as it came, and made anew for whoever
// gets it, by that network's own rules.
import { THUMBNAIL_MAX_BYTES, THUMBNAIL_MAX_PIXELS } from '@lantern/contract';
import type { ThumbnailRule } from '@lantern/core';
import { Inject, Injectable } from '@nestjs/common';
import { randomBytes } from 'node:crypto';
import { copyFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import type { Show, ShowPicture } from './show.entities';

/** What our own pages show; also the look of an unused picture on the sheet. */
const HOUSE = { width: 1280, height: 720 };
const KINDS = ['jpeg', 'png', 'webp'];
/** Behind pictures that can be seen through. */
const BACKGROUND = '#10201f';
/** Tried in turn until a rendition is light enough. */
const QUALITIES = [88, 80, 70, 58, 45];

@Injectable()
export class Thumbnails {
  constructor(@Inject(SETTINGS) private readonly settings: Settings) {}

  /** Checks and stores a picture. Throws PlainError with the reason; whatever was stored before stays then. */
  async store(show: Show, bytes: Buffer): Promise<ShowPicture> {
    if (!Buffer.isBuffer(bytes) || bytes.length === 0) throw new PlainError(400, 'This file is empty. Choose the picture again.');
    if (bytes.length > THUMBNAIL_MAX_BYTES) {
      throw new PlainError(413, `This picture weighs ${(bytes.length / 1e6).toFixed(1)} MB. Choose one of at most ${THUMBNAIL_MAX_BYTES / 1e6} MB.`);
    }
    const facts = await sharp(bytes, { limitInputPixels: THUMBNAIL_MAX_PIXELS })
      .metadata()
      .catch(() => null);
    if (!facts?.width || !facts.height || !facts.format || !KINDS.includes(facts.format)) {
      throw new PlainError(415, 'This file is not a picture that can be read. Choose a JPEG, PNG or WebP file.');
    }
    const house = await this.fitted(bytes, HOUSE)
      .jpeg({ quality: 86, mozjpeg: true })
      .toBuffer()
      .catch(() => {
        throw new PlainError(415, 'This picture is damaged and cannot be read to its end. Export it again and choose the new file.');
      });
    await this.write(this.path(show, 'original'), bytes);
    await this.write(this.path(show, 'sent'), house);
    // A camera's note may say that the picture lies on its side.
    const turned = (facts.orientation ?? 1) >= 5;
    const [width, height] = turned ? [facts.height, facts.width] : [facts.width, facts.height];
    return { width, height, version: randomBytes(6).toString('base64url') };
  }

  /** Gives a show the picture of another. */
  async copy(from: string, show: Pick<Show, 'id'>, { width, height }: ShowPicture): Promise<ShowPicture> {
    for (const which of ['original', 'sent'] as const) await copyFile(this.path({ id: from }, which), this.path(show, which));
    return { width, height, version: randomBytes(6).toString('base64url') };
  }

  /** The picture as one network takes it: its shape, its least size, and light enough. */
  async rendition(show: Show, rule: ThumbnailRule): Promise<Buffer> {
    const { width, height } = show.thumbnail!;
    // As large as it is, up to twice the least size: more is only weight.
    const scale = Math.min(2, Math.max(1, Math.min(width / rule.minWidth, height / rule.minHeight)));
    const size = { width: Math.round(rule.minWidth * scale), height: Math.round((rule.minWidth * scale) / rule.shape) };
    const { data, info } = await this.fitted(this.path(show, 'original'), size).raw().toBuffer({ resolveWithObject: true });
    const { width: fitWidth, height: fitHeight, channels } = info;
    let jpeg = data;
    for (const quality of QUALITIES) {
      jpeg = await sharp(data, { raw: { width: fitWidth, height: fitHeight, channels } })
        .jpeg({ quality, mozjpeg: true })
        .toBuffer();
      if (jpeg.length <= rule.maxBytes) break;
    }
    return jpeg;
  }

  path(show: Pick<Show, 'id'>, which: 'original' | 'sent'): string {
    return join(this.settings.picturesDir, `${show.id}.${which}`);
  }

  /** The picture cropped and brought to a size, upright and opaque. */
  private fitted(picture: Buffer | string, size: { width: number; height: number }): sharp.Sharp {
    return sharp(picture, { limitInputPixels: THUMBNAIL_MAX_PIXELS, failOn: 'error' })
      .rotate() // As the camera's note says; the note itself is not sent on.
      .resize({ ...size, fit: 'cover', position: 'attention' })
      .flatten({ background: BACKGROUND });
  }

  /** Whole or not at all: a reader never meets half a file. */
  private async write(path: string, bytes: Buffer): Promise<void> {
    await writeFile(`${path}.new`, bytes);
    await rename(`${path}.new`, path);
  }
}
