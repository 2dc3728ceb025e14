import { rulesFor, type AccountKind, type NetworkId } from '@lantern/core';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { PictureMeasures } from '../pictures/picture-measures';
import { ForeignFiles } from '../foreign/foreign-files';
import type { Settings } from '../foundation/settings';
import type { Show } from './show.entities';
import { Thumbnails } from './thumbnails';

/** The checksum of PNG chunks (ISO/IEC 15948, annex D). */
function crc32(bytes: Buffer): number {
  let sum = 0xffffffff;
  for (const byte of bytes) {
    sum ^= byte;
    for (let bit = 0; bit < 8; bit++) sum = sum & 1 ? (sum >>> 1) ^ 0xedb88320 : sum >>> 1;
  }
  return (sum ^ 0xffffffff) >>> 0;
}

const picturesDir = mkdtempSync(join(tmpdir(), 'lantern-pictures-'));
const foreign = new ForeignFiles();
const thumbnails = new Thumbnails({ picturesDir } as Settings, new PictureMeasures(), foreign);
beforeAll(() => mkdirSync(picturesDir, { recursive: true }));
afterAll(() => foreign.onApplicationShutdown());
afterAll(() => rmSync(picturesDir, { recursive: true, force: true }));

/** Noise is the heaviest that a picture can be. */
const noise = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: '#345', noise: { type: 'gaussian', mean: 128, sigma: 60 } } })
    .png()
    .toBuffer();
async function showWith(bytes: Buffer): Promise<Show> {
  const show = { id: 'show' } as Show;
  show.thumbnail = await thumbnails.store(show, bytes);
  return show;
}

const CASES: [NetworkId, AccountKind][] = [
  ['reelmoor', 'library channel'],
  ['townfold', 'page'],
  ['guildhand', 'organisation'],
  ['pipwire', 'handle'],
];

test.each(CASES)('%s is sent the picture in its own shape, large and light enough', async (network, kind) => {
  const rule = rulesFor(network, kind).thumbnail!;
  const { jpeg: rendition } = await thumbnails.rendition(await showWith(await noise(1700, 1300)), rule);
  const { width, height, format } = await sharp(rendition).metadata();
  expect(format).toBe('jpeg');
  expect(width).toBeGreaterThanOrEqual(rule.minWidth);
  expect(height).toBeGreaterThanOrEqual(rule.minHeight);
  expect(Math.abs(width / height / rule.shape - 1)).toBeLessThan(0.01);
  expect(rendition.length).toBeLessThanOrEqual(rule.maxBytes);
});

test('a picture that lies on its side is turned, and its note is not sent on', async () => {
  const onItsSide = await sharp({ create: { width: 1000, height: 1800, channels: 3, background: '#345' } })
    .jpeg()
    .withMetadata({ orientation: 6 })
    .toBuffer();
  const show = await showWith(onItsSide);
  expect(show.thumbnail).toMatchObject({ width: 1800, height: 1000 });
  const { orientation, exif } = await sharp((await thumbnails.rendition(show, rulesFor('townfold', 'page').thumbnail!)).jpeg).metadata();
  expect([orientation ?? 1, exif]).toEqual([1, undefined]);
});

const rule = rulesFor('pipwire', 'handle').thumbnail!;

describe('what comes in', () => {
  const SVG = (inside: string, head = '') =>
    Buffer.from(
      `<?xml version="1.0"?>${head}<svg xmlns="http://www.w3.org/2000/svg" width="400" height="225"><rect width="400" height="225" fill="#173"/>${inside}</svg>`,
    );
  const flat = () => sharp({ create: { width: 64, height: 64, channels: 3, background: '#123' } });
  /** Three frames below each other, each of another colour. */
  const moving = () =>
    sharp(Buffer.from(Array.from({ length: 64 * 192 * 3 }, (_, at) => Math.floor(at / (64 * 64 * 3)) * 80)), {
      raw: { width: 64, height: 192, channels: 3, pageHeight: 64 },
    })
      .webp({ loop: 0 })
      .toBuffer();

  test('AVIF and WebP are read like the rest', async () => {
    for (const bytes of [await flat().avif().toBuffer(), await flat().webp().toBuffer()])
      expect(await thumbnails.store({ id: 'x' }, bytes)).toMatchObject({ width: 64, height: 64 });
  });

  test('a drawing is drawn large enough; scripts and foreign pictures in it come to nothing', async () => {
    const picture = await thumbnails.store(
      { id: 'drawn' },
      SVG(
        '<script>alert(1)</script><image href="http://127.0.0.1:1/secret.png" width="400" height="225"/><circle cx="200" cy="112" r="40" fill="#fff" onclick="alert(2)"/>',
      ),
    );
    expect(picture.width).toBeGreaterThanOrEqual(1_600);
    const { jpeg } = await thumbnails.rendition({ id: 'drawn', thumbnail: picture }, rule);
    const { data, info } = await sharp(jpeg).raw().toBuffer({ resolveWithObject: true });
    const middle = (Math.floor(info.height / 2) * info.width + Math.floor(info.width / 2)) * info.channels;
    expect(data[middle]).toBeGreaterThan(240);
  });

  /** A PNG whose head tells of 1,200 million pixels, with hardly any behind it (ISO/IEC 15948, section 11.2.2). */
  const boundless = async () => {
    const bytes = await flat().png().toBuffer();
    bytes.writeUInt32BE(40_000, 16);
    bytes.writeUInt32BE(30_000, 20);
    bytes.writeUInt32BE(crc32(bytes.subarray(12, 29)), 29);
    return bytes;
  };

  test.each([
    ['a picture of 1,200 million pixels', () => boundless(), '1,200 million pixels'],
    ['a drawing whose parts multiply', () => Promise.resolve(SVG('&a;', '<!DOCTYPE svg [<!ENTITY a "aaaa">]>')), 'too large, or made of parts'],
    ['a picture that moves', () => moving(), 'moves'],
    ['a page', () => Promise.resolve(Buffer.from('<!doctype html><p>no picture')), 'not a picture'],
    ['half a picture', async () => (await noise(200, 200)).subarray(0, 30_000), 'damaged'],
  ])('%s is refused in words', async (_name, make, words) => {
    await expect(thumbnails.store({ id: 'y' }, await make())).rejects.toMatchObject({ words: expect.stringContaining(words) });
  });
});

test.each([
  ['a strip of 6 by 3,000 pixels', () => sharp({ create: { width: 6, height: 3_000, channels: 3, background: '#345' } }), { width: 6, height: 3_000 }],
  ['a band of 3,000 by 6 pixels', () => sharp({ create: { width: 3_000, height: 6, channels: 3, background: '#345' } }), { width: 3_000, height: 6 }],
  [
    'a picture in greys alone',
    () => sharp({ create: { width: 400, height: 225, channels: 3, background: '#999' } }).toColourspace('b-w'),
    { width: 400, height: 225 },
  ],
])('%s is measured and fitted like any other', async (_name, make, size) => {
  const picture = await thumbnails.store({ id: 'odd' }, await make().png().toBuffer());
  expect(picture).toMatchObject(size);
  const { width, height } = await thumbnails.rendition({ id: 'odd', thumbnail: picture }, rule);
  expect(Math.abs(width / height / rule.shape - 1)).toBeLessThan(0.01);
});

describe('a rendition', () => {
  /** Dull all over but for a bright, detailed figure at one end. */
  const withFigureAt = async (left: number): Promise<Show> => {
    const figure = await sharp({ create: { width: 300, height: 300, channels: 3, background: '#fc4', noise: { type: 'gaussian', mean: 200, sigma: 40 } } })
      .png()
      .toBuffer();
    return showWith(
      await sharp({ create: { width: 2000, height: 2000, channels: 3, background: '#345' } })
        .composite([{ input: figure, left: 800, top: left }])
        .png()
        .toBuffer(),
    );
  };

  test('keeps what one looks at, and what was chosen by hand goes before it', async () => {
    const show = await withFigureAt(1_650);
    const suggested = await thumbnails.rendition(show, rule);
    expect(suggested.crop.y + suggested.crop.height).toBeGreaterThan(0.97);
    const top = { ...suggested.crop, y: 0 };
    const chosen = { ...show, thumbnail: thumbnails.withCrop(show.thumbnail!, rule.shape, top) } as Show;
    expect(chosen.thumbnail!.version).not.toBe(show.thumbnail!.version);
    const mean = async (jpeg: Buffer) => (await sharp(jpeg).stats()).channels[0]!.mean;
    expect(await mean(suggested.jpeg)).toBeGreaterThan((await mean((await thumbnails.rendition(chosen, rule)).jpeg)) + 3);
    // Other shapes are not touched by it.
    expect((await thumbnails.rendition(chosen, rulesFor('townfold', 'page').thumbnail!)).crop.y).toBeGreaterThan(0.3);
  });

  test('says what was lost to be light enough, and loses nothing where nothing has to be', async () => {
    const plain = await thumbnails.rendition(await withFigureAt(900), rule);
    expect(plain).toMatchObject({ quality: 92 });
    expect(plain.ssim).toBeGreaterThan(0.97);
    const heavy = await thumbnails.rendition(await showWith(await noise(2_000, 1_000)), { ...rule, maxBytes: 900_000 });
    expect(heavy.jpeg.length).toBeLessThanOrEqual(900_000);
    expect(heavy.quality).toBeLessThan(92);
    expect(heavy.ssim).toBeLessThan(0.97);
  });

  test('tells what would lie under a length badge', async () => {
    const corner = await sharp({ create: { width: 1600, height: 800, channels: 3, background: '#345' } })
      .composite([
        {
          input: await sharp({ create: { width: 200, height: 90, channels: 3, background: '#fd5' } })
            .png()
            .toBuffer(),
          left: 1_390,
          top: 700,
        },
      ])
      .png()
      .toBuffer();
    expect((await thumbnails.rendition(await showWith(corner), rule)).underBadge).toBeGreaterThan(0.3);
    expect((await thumbnails.rendition(await withFigureAt(850), rule)).underBadge).toBeLessThan(0.05);
  });
});
