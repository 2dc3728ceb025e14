// How late a playback is, measured on real media: what went out, and what somebody who opens the playback sees.
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import { FlvReader, isKeyFrame, isSequenceHeader, PicturesWithTheirSets } from '@lantern/core';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { OutgoingPictures } from '../media/outgoing-pictures';
import { seenThere } from './lateness.service';

const ffmpeg = ffmpegPackage.path;
const SECONDS = 12;
const folder = mkdtempSync(join(tmpdir(), 'lantern-lateness-'));
const flv = join(folder, 'programme.flv');
let server: Server;
let page: string;
/** What is answered instead of a file, by path. */
let answers: Record<string, string | Buffer>;

beforeAll(async () => {
  // A programme of moving pictures with a key frame each second; the network encodes it anew, smaller and with little.
  const source = ['-v', 'error', '-f', 'lavfi', '-i', `testsrc2=s=640x360:r=30:d=${SECONDS}`];
  const picture = ['-c:v', 'libx264', '-preset', 'veryfast', '-g', '30', '-keyint_min', '30', '-sc_threshold', '0', '-bf', '0', '-pix_fmt', 'yuv420p'];
  execFileSync(ffmpeg, [...source, ...picture, '-f', 'flv', flv]);
  const anew = ['-v', 'error', '-i', flv, ...picture, '-b:v', '300k', '-vf', 'scale=426:240', '-f', 'hls', '-hls_time', '1', '-hls_list_size', '0'];
  execFileSync(ffmpeg, [...anew, '-hls_segment_filename', join(folder, '%d.ts'), join(folder, 'all.m3u8')]);
  server = createServer((request, response) => {
    const path = request.url!.slice(1);
    if (path === 'elsewhere.m3u8') return response.writeHead(302, { location: 'http://198.51.100.7/live.m3u8' }).end();
    const there = answers[path] ?? (readdirSync(folder).includes(path) ? readFileSync(join(folder, path)) : null);
    response.writeHead(there === null ? 404 : 200).end(there);
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  page = `http://127.0.0.1:${(server.address() as AddressInfo).port}/page`;
});
afterAll(async () => {
  await new Promise((done) => server.close(done));
  rmSync(folder, { recursive: true, force: true });
});
beforeEach(() => {
  // As it stood when nine parts had been made.
  const parts = Array.from({ length: 9 }, (_, at) => `#EXTINF:1.000,\n${at}.ts`);
  answers = { 'live.m3u8': ['#EXTM3U', '#EXT-X-TARGETDURATION:1', ...parts, ''].join('\n') };
});
const at = (path: string) => new URL(path, page).href;

/** What went out: its key frames, a second apart from each other, on a clock of the test's. */
function outgoing(from = 0): OutgoingPictures {
  let now = 0;
  const pictures = new OutgoingPictures(ffmpeg, () => now);
  const sets = new PicturesWithTheirSets('line');
  for (const tag of new FlvReader().push(readFileSync(flv))) {
    now = 50_000 + tag.timestampMs;
    const out = sets.push(tag)!;
    if (isSequenceHeader(out)) pictures.noteHead(out);
    else if (isKeyFrame(out) && tag.timestampMs >= from) pictures.noteKeyFrame(out);
  }
  return pictures;
}

test('somebody who opens the playback sees a picture, and it is found among those that went out', async () => {
  const seen = (await seenThere(ffmpeg, at('live.m3u8'), page))!;
  expect(seen.intoMs).toBe(0);
  // Three parts of nine before the end: what went out six seconds after the first.
  expect(await outgoing().whenOut([seen.grey])).toEqual([56_000]);
  // Several at once, one of them of another programme.
  expect(await outgoing().whenOut([seen.grey, seen.grey.map((byte) => 255 - byte)])).toEqual([56_000, null]);
  expect(await outgoing(7_000).whenOut([seen.grey])).toEqual([null]);
  expect(await new OutgoingPictures(ffmpeg).whenOut([seen.grey])).toEqual([null]);
});

test('a playback with nothing in it yet, or with what is no picture, tells nothing', async () => {
  expect(await seenThere(ffmpeg, at('not-there.m3u8'), page)).toBeNull();
  answers['live.m3u8'] = '#EXTM3U\n#EXT-X-TARGETDURATION:1\n';
  expect(await seenThere(ffmpeg, at('live.m3u8'), page)).toBeNull();
  answers['live.m3u8'] = '#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\nodd.ts\n';
  answers['odd.ts'] = Buffer.alloc(400_000, 0x47);
  expect(await seenThere(ffmpeg, at('live.m3u8'), page)).toBeNull();
  // A list of other files that calls itself a part is read by none.
  answers['odd.ts'] = '#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\nfile:///etc/passwd\n';
  expect(await seenThere(ffmpeg, at('live.m3u8'), page)).toBeNull();
});

test('nobody is sent anywhere else: not by the address of a playback, nor by a part in it, nor by a redirection', async () => {
  await expect(seenThere(ffmpeg, 'http://198.51.100.7/live.m3u8', page)).rejects.toThrow('its playback is not where its page is');
  answers['live.m3u8'] = '#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\nhttp://198.51.100.7/0.ts\n';
  await expect(seenThere(ffmpeg, at('live.m3u8'), page)).rejects.toThrow('a part of its playback is elsewhere');
  await expect(seenThere(ffmpeg, at('elsewhere.m3u8'), page)).rejects.toThrow();
});
