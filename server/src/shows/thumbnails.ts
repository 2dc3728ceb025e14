// The picture of a show: looked at before it is believed, kept as it came, and sent on as one JPEG.
import { THUMBNAIL_MAX_BYTES, THUMBNAIL_MAX_PIXELS } from '@lantern/contract';
import { Inject, Injectable } from '@nestjs/common';
import { randomBytes } from 'node:crypto';
import { readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import type { SentPicture, Show } from './show.entities';

/** The shape that every network takes; larger pictures are brought down to it. */
const SENT = { width: 1280, height: 720 };
const KINDS = ['jpeg', 'png', 'webp'];

@Injectable()
export class Thumbnails {
  constructor(@Inject(SETTINGS) private readonly settings: Settings) {}

  /** Checks and stores a picture. Throws PlainError with the reason; whatever was stored before stays then. */
  async store(show: Show, bytes: Buffer): Promise<SentPicture> {
    if (!Buffer.isBuffer(bytes) || bytes.length === 0) throw new PlainError(400, 'This file is empty. Choose the picture again.');
    if (bytes.length > THUMBNAIL_MAX_BYTES) {
      throw new PlainError(413, `This picture weighs ${(bytes.length / 1e6).toFixed(1)} MB. Choose one of at most ${THUMBNAIL_MAX_BYTES / 1e6} MB.`);
    }
    const picture = sharp(bytes, { limitInputPixels: THUMBNAIL_MAX_PIXELS, failOn: 'error' });
    const facts = await picture.metadata().catch(() => null);
    if (!facts?.width || !facts.height || !facts.format || !KINDS.includes(facts.format)) {
      throw new PlainError(415, 'This file is not a picture that can be read. Choose a JPEG, PNG or WebP file.');
    }
    const fits = facts.width >= SENT.width && facts.height >= SENT.height;
    const sent = await picture
      .rotate() // As the camera's note says; the note itself is not sent on.
      .resize(fits ? { ...SENT, fit: 'cover', position: 'attention' } : undefined)
      .flatten({ background: '#10201f' })
      .jpeg({ quality: 86, mozjpeg: true })
      .toBuffer({ resolveWithObject: true })
      .catch(() => {
        throw new PlainError(415, 'This picture is damaged and cannot be read to its end. Export it again and choose the new file.');
      });
    await this.write(this.path(show, 'original'), bytes);
    await this.write(this.path(show, 'sent'), sent.data);
    const { width, height, size } = sent.info;
    return { width, height, bytes: size, type: 'image/jpeg', version: randomBytes(6).toString('base64url') };
  }

  read(show: Show): Promise<Buffer> {
    return readFile(this.path(show, 'sent'));
  }

  path(show: Pick<Show, 'id'>, which: 'original' | 'sent'): string {
    return join(this.settings.picturesDir, `${show.id}.${which}`);
  }

  /** Whole or not at all: a reader never meets half a file. */
  private async write(path: string, bytes: Buffer): Promise<void> {
    await writeFile(`${path}.new`, bytes);
    await rename(`${path}.new`, path);
  }
}
