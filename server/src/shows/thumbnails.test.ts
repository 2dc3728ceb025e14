import { rulesFor, type AccountKind, type NetworkId } from '@lantern/core';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Settings } from '../foundation/settings';
import type { Show } from './show.entities';
import { Thumbnails } from './thumbnails';

const picturesDir = mkdtempSync(join(tmpdir(), 'lantern-pictures-'));
const thumbnails = new Thumbnails({ picturesDir } as Settings);
beforeAll(() => mkdirSync(picturesDir, { recursive: true }));
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
  const rendition = await thumbnails.rendition(await showWith(await noise(1700, 1300)), rule);
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
  const { orientation, exif } = await sharp(await thumbnails.rendition(show, rulesFor('townfold', 'page').thumbnail!)).metadata();
  expect([orientation ?? 1, exif]).toEqual([1, undefined]);
});
