import { mkdirSync, mkdtempSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Playback } from './playback';
import type { Settings } from './settings';

const mediaDir = mkdtempSync(join(tmpdir(), 'lantern-playback-'));
const playback = new Playback({ mediaDir } as Settings);
afterAll(() => rmSync(mediaDir, { recursive: true, force: true }));

/** Thirty parts of a second each, the last finished just now. */
beforeAll(() => {
  const folder = join(mediaDir, 'show');
  mkdirSync(folder);
  const lines = ['#EXTM3U', '#EXT-X-VERSION:3'];
  for (let part = 0; part < 30; part++) {
    const name = `1-${String(part).padStart(5, '0')}.ts`;
    writeFileSync(join(folder, name), 'x');
    const finished = (Date.now() - (29 - part) * 1_000) / 1_000;
    utimesSync(join(folder, name), finished, finished);
    if (part === 20) lines.push('#EXT-X-DISCONTINUITY');
    lines.push('#EXTINF:1.000,', name);
  }
  writeFileSync(join(folder, 'all.m3u8'), `${lines.join('\n')}\n`);
});

const parts = (playlist: string | null) => playlist!.split('\n').filter((line) => line.includes('.ts'));

test('a live playlist holds back the network’s delay, and offers the last parts only', async () => {
  const soon = await playback.playlist('show', 4, 0, false, Infinity, '');
  const late = await playback.playlist('show', 18, 0, false, Infinity, '');
  expect(parts(soon)).toHaveLength(10);
  expect(parts(late)).toHaveLength(10);
  const last = (playlist: string | null) => Number(parts(playlist).at(-1)!.slice(2, 7));
  expect(last(soon) - last(late)).toBeGreaterThanOrEqual(13);
  expect(late).toMatch(/#EXT-X-MEDIA-SEQUENCE:[1-9]/);
  expect(soon).not.toContain('ENDLIST');
  expect(soon).toContain('#EXT-X-DISCONTINUITY');
});

test('where viewers may go back, everything is offered', async () => {
  const all = await playback.playlist('show', 4, 1, false, Infinity, '');
  expect(parts(all).length).toBeGreaterThanOrEqual(28);
  expect(all).toContain('#EXT-X-MEDIA-SEQUENCE:0');
});

test('a recording is whole up to what the network keeps, and its parts carry what lets one in', async () => {
  const kept = await playback.playlist('show', 4, 0, true, 12_000, '?as=secret');
  expect(parts(kept)).toHaveLength(12);
  expect(parts(kept)[0]).toBe('1-00000.ts?as=secret');
  expect(kept).toContain('#EXT-X-ENDLIST');
});

test('no part is had by another name, and what was removed is gone', async () => {
  expect(playback.part('show', '1-00003.ts')).not.toBeNull();
  for (const name of ['all.m3u8', '../show/1-00003.ts', '1-99999.ts']) expect(playback.part('show', name)).toBeNull();
  expect(await playback.playlist('another', 4, 0, false, Infinity, '')).toBeNull();
  await playback.remove('show');
  expect(await playback.playlist('show', 4, 0, false, Infinity, '')).toBeNull();
});
