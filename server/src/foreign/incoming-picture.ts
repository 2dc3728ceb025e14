// Pictures that come from outside: looked at before they are believed, and never decoded where that could do harm.
import { THUMBNAIL_MAX_BYTES, THUMBNAIL_MAX_PIXELS } from '@lantern/contract';
import sharp from 'sharp';
import { PlainError } from '../foundation/errors';

/** Drawings are brought to this width; they are as sharp at any. */
const DRAWN_WIDTH = 1_920;
const DRAWN_MAX_BYTES = 1_000_000;
const KINDS = 'Choose a JPEG, PNG, WebP, AVIF or SVG file.';

/** Checks a picture and tells its size, upright. Throws what is wrong with it, in words. */
async function lookAtPicture(bytes: unknown): Promise<{ width: number; height: number }> {
  if (!Buffer.isBuffer(bytes) || bytes.length === 0) throw emptyPicture();
  if (bytes.length > THUMBNAIL_MAX_BYTES) {
    throw new PlainError(413, `This picture weighs ${(bytes.length / 1e6).toFixed(1)} MB. Choose one of at most ${THUMBNAIL_MAX_BYTES / 1e6} MB.`);
  }
  // Only its head is read here, whatever size that tells; nothing is decoded before the size was looked at.
  const facts = await sharp(bytes, { limitInputPixels: false })
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

/** A picture that was looked at: upright, without notes, at most `most` pixels along its longer edge. Throws where it cannot be read to its end. */
async function uprightPicture(bytes: Buffer, most: number): Promise<sharp.Sharp> {
  const { format, width } = await sharp(bytes).metadata();
  const density = format === 'svg' && width ? Math.min(2_400, Math.max(72, (72 * DRAWN_WIDTH) / width)) : undefined;
  return sharp(bytes, { limitInputPixels: THUMBNAIL_MAX_PIXELS, failOn: 'error', ...(density && { density }) })
    .rotate() // As the camera's note says; the note itself is not sent on.
    .resize({ width: most, height: most, fit: 'inside', withoutEnlargement: true })
    .toColourspace('srgb');
}

/** A picture of a stranger's, looked at and made into one that can be trusted. Sizes in pixels. */
export interface DecodedPicture {
  /** Of the picture as it came, upright. */
  width: number;
  height: number;
  bytes: Uint8Array;
  /** Of `bytes`. */
  keptWidth: number;
  keptHeight: number;
}

/** Behind pictures of shows that can be seen through. */
const BACKGROUND = '#10201f';
/** Masters of shows, from which all else is made: a photograph is decoded once, not for every channel. Pieces of the library are smaller. */
const MOST_PX = { master: 3_200, piece: 2_400 };

/** Runs in the process for foreign files. Throws PlainError with what is wrong with the picture. */
export async function decodePicture(file: Buffer, as: 'master' | 'piece'): Promise<DecodedPicture> {
  const { width, height } = await lookAtPicture(file);
  const upright = await uprightPicture(file, MOST_PX[as]).catch(damagedPicture);
  // Decoded once: a drawing costs as much each time.
  const pixels = await (as === 'master' ? upright.flatten({ background: BACKGROUND }) : upright)
    .raw()
    .toBuffer({ resolveWithObject: true })
    .catch(damagedPicture);
  const { width: w, height: h, channels } = pixels.info;
  const picture = sharp(pixels.data, { raw: { width: w, height: h, channels } });
  const seeThrough = channels === 4 && !(await picture.stats()).isOpaque;
  const encoded =
    as === 'master' ? picture.jpeg({ quality: 98, chromaSubsampling: '4:4:4' }) : seeThrough ? picture.png() : picture.removeAlpha().jpeg({ quality: 94 });
  const { data, info } = await encoded.toBuffer({ resolveWithObject: true });
  return { width, height, bytes: data, keptWidth: info.width, keptHeight: info.height };
}

export const emptyPicture = () => new PlainError(400, 'This file is empty. Choose the picture again.');

const damagedPicture = (): never => {
  throw new PlainError(415, 'This picture is damaged and cannot be read to its end. Export it again and choose the new file.');
};
