// Fonts that come from outside: every letter is drawn once where it can do no harm, before any picture is made with them.
import { FONT_MAX_BYTES } from '@lantern/contract';
import * as fontkit from 'fontkit';
import { inflateSync } from 'node:zlib';
import { PlainError } from '../foundation/errors';

/** What the first four bytes say (OpenType 1.9.1, "Organization of an OpenType font"; WOFF 1.0 and 2.0, section 4). */
const KINDS: Record<string, string> = { '00010000': 'font/ttf', '4f54544f': 'font/otf', '774f4646': 'font/woff', '774f4632': 'font/woff2' };
/** More letters than of all European scripts; the largest fonts hold those of a whole continent. */
const MOST_GLYPHS = 6_000;
const NEEDED = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789:.,';

/** What a font says of itself. */
export interface ReadFont {
  name: string;
  /** Its licence, or whose it says it is; empty: it says nothing. */
  rights: string;
  /** The font as it is kept. */
  bytes: Uint8Array;
}

/** How browsers call the kind of a font's file; null: it is none. */
export const kindOfFont = (bytes: Buffer): string | null => KINDS[bytes.subarray(0, 4).toString('hex')] ?? null;

/** Runs in the process for foreign files. Throws PlainError with what is wrong with the font. */
export function readFont(bytes: Buffer): ReadFont {
  if (!bytes.length) throw new PlainError(400, 'This file is empty. Choose the font again.');
  if (bytes.length > FONT_MAX_BYTES)
    throw new PlainError(413, `This font weighs ${(bytes.length / 1e6).toFixed(1)} MB. Choose one of at most ${FONT_MAX_BYTES / 1e6} MB.`);
  if (!kindOfFont(bytes)) throw new PlainError(415, 'This file is not a font that can be read. Choose a TTF, OTF, WOFF or WOFF2 file.');
  try {
    const plain = unwrapped(bytes);
    const font = fontkit.create(plain) as fontkit.Font;
    if (font.numGlyphs > MOST_GLYPHS)
      throw new PlainError(
        413,
        `This font holds ${font.numGlyphs.toLocaleString('en-GB')} letters and signs. Choose one of at most ${MOST_GLYPHS.toLocaleString('en-GB')}.`,
      );
    const missing = [...NEEDED].filter((letter) => !font.hasGlyphForCodePoint(letter.codePointAt(0)!));
    if (missing.length) throw new PlainError(415, `This font has no “${missing[0]}”: titles and times cannot be written with it. Choose another.`);
    const known = font.characterSet;
    for (let from = 0; from < known.length; from += 50) {
      const { glyphs, advanceWidth } = font.layout(String.fromCodePoint(...known.slice(from, from + 50)));
      for (const glyph of glyphs) glyph.path.toSVG();
      if (!Number.isFinite(advanceWidth)) throw new Error('letters of no width');
    }
    const said = (key: string) => font.getName(key, 'en')?.trim() ?? '';
    return { name: said('fullName') || said('fontFamily') || 'A font', rights: (said('license') || said('copyright')).slice(0, 200), bytes: plain };
  } catch (error) {
    if (error instanceof PlainError) throw error;
    throw new PlainError(415, 'This font is damaged and cannot be drawn. Export it again, or choose another.');
  }
}

const WOFF = 0x774f4646;
/** More than any font unpacks to that is taken here, in bytes. */
const MOST_UNPACKED = 12_000_000;

/**
 * The font within a WOFF 1.0 file (W3C, sections 3 to 5): what draws letters here reads some packed tables of that kind wrongly. Others as they are.
 * Throws where the file is not what it says.
 */
function unwrapped(file: Buffer): Buffer {
  if (file.readUInt32BE(0) !== WOFF) return file;
  const count = file.readUInt16BE(12);
  const tables = Array.from({ length: count }, (_, at) => {
    const [tag, offset, packed, length, checksum] = [0, 4, 8, 12, 16].map((part) => file.readUInt32BE(44 + at * 20 + part)) as [
      number,
      number,
      number,
      number,
      number,
    ];
    if (length > MOST_UNPACKED) throw new RangeError('a table beyond all measure');
    const bytes = file.subarray(offset, offset + packed);
    return { tag, checksum, bytes: packed < length ? inflateSync(bytes, { maxOutputLength: length }) : bytes };
  });
  const steps = Math.floor(Math.log2(count));
  const head = Buffer.alloc(12 + 16 * count);
  head.writeUInt32BE(file.readUInt32BE(4), 0);
  head.writeUInt16BE(count, 4);
  head.writeUInt16BE(16 * 2 ** steps, 6);
  head.writeUInt16BE(steps, 8);
  head.writeUInt16BE(16 * (count - 2 ** steps), 10);
  const parts = [head];
  let offset = head.length;
  for (const [at, { tag, checksum, bytes }] of tables.entries()) {
    for (const [part, value] of [tag, checksum, offset, bytes.length].entries()) head.writeUInt32BE(value, 12 + 16 * at + 4 * part);
    // Each begins at a multiple of four.
    const padded = Buffer.concat([bytes, Buffer.alloc(-bytes.length & 3)]);
    parts.push(padded);
    offset += padded.length;
    if (offset > MOST_UNPACKED) throw new RangeError('a font beyond all measure');
  }
  return Buffer.concat(parts);
}
