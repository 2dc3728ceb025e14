// A short evening of the demo station as it was recorded: drawn pictures that move a little, the rhythm of speech without any, a break in the middle.
import { murmurAt, MURMUR_S, type Caption } from '@lantern/core';
import { execFile } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import sharp from 'sharp';
import { drawDome, drawPortrait, drawSign, type Figure } from './artwork';
import { eveningTune } from './tune';

const RATE = 24_000;
const PICTURE = { width: 640, height: 360 };
const HOST: Figure = { skin: '#dfb795', hair: '#5a3a2a', coat: '#2b5a60', behind: '#123038', cut: 'long', glasses: false };

type Seen = 'holding' | 'host' | 'sky' | 'break card' | 'closing';

interface Scene {
  what: Seen;
  /** In seconds. */
  lasts: number;
  /** Somebody speaks, from and to so many seconds of it. */
  speaks: readonly [number, number] | null;
  music?: boolean;
}

const SCENES: readonly Scene[] = [
  { what: 'holding', lasts: 15, speaks: null, music: true },
  { what: 'host', lasts: 65, speaks: [4, 65] },
  { what: 'sky', lasts: 60, speaks: [0, 60] },
  { what: 'break card', lasts: 25, speaks: null, music: true },
  { what: 'host', lasts: 60, speaks: [0, 48] },
  { what: 'closing', lasts: 15, speaks: null },
];

/** When each begins, in ms. */
export const SEEN: readonly { what: Seen; atMs: number }[] = SCENES.map(({ what }, at) => ({
  what,
  atMs: 1_000 * SCENES.slice(0, at).reduce((sum, { lasts }) => sum + lasts, 0),
}));
export const EVENING_MS = 1_000 * SCENES.reduce((sum, { lasts }) => sum + lasts, 0);

/** When somebody speaks, in seconds. */
const SPOKEN = SCENES.flatMap(({ speaks }, at): [number, number][] =>
  speaks ? [[SEEN[at]!.atMs / 1_000 + speaks[0], SEEN[at]!.atMs / 1_000 + speaks[1]]] : [],
);

const LINES = [
  'Good evening from the dome.',
  'The cloud has gone north,\nand the fell is dark.',
  'Look to the west, low down:\nthat is the evening planet.',
  'Give your eyes ten minutes\nbefore you judge the sky.',
  'The comet stands a hand above the hill.',
  'In the glass it has a tail\nas long as two moons.',
  'Its colour is a pale green.',
  'It was here last when our club\nhad seven members.',
  'Somebody asks how far it is.',
  'Twice as far as the sun,\nand it is going home.',
  'Thank you for coming out tonight.',
];

/** What is said, sentence by sentence. */
export const EVENING_CAPTIONS: readonly Caption[] = SPOKEN.flatMap(([from, to]) =>
  Array.from({ length: Math.floor((to - from) / MURMUR_S) }, (_, round) => from + round * MURMUR_S),
).flatMap((begin, round): Caption[] =>
  (
    [
      [0.3, 3.3],
      [3.5, 6.3],
      [6.9, 9.6],
    ] as const
  ).map(([from, to], at) => ({
    fromMs: Math.round((begin + from) * 1_000),
    toMs: Math.round((begin + to) * 1_000),
    text: LINES[(round * 3 + at) % LINES.length]!,
  })),
);

/** Makes the recording with that ffmpeg, as an MP4. */
export async function recordEvening(ffmpeg: string, target: string): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'lantern-evening-'));
  const file = (name: string) => join(folder, name);
  try {
    const pictures = await drawn();
    for (const [name, png] of Object.entries(pictures)) await writeFile(file(`${name}.png`), png);
    await writeFile(file('sound.wav'), sound());
    const inputs = SCENES.flatMap(({ what, lasts }) => ['-loop', '1', '-framerate', '25', '-t', String(lasts), '-i', file(`${what}.png`)]);
    const moving = SCENES.map(({ lasts }, at) => {
      const along = (room: string, way: string) => `(${room})*${at % 2 ? '(1-' : '('}${way}/${lasts})`;
      return `[${at}:v]crop=${PICTURE.width}:${PICTURE.height}:x='${along(`iw-${PICTURE.width}`, 't')}':y='(ih-${PICTURE.height})/2',setsar=1[v${at}]`;
    });
    const filters = [...moving, `${SCENES.map((_, at) => `[v${at}]`).join('')}concat=n=${SCENES.length}:v=1:a=0,format=yuv420p[v]`].join(';');
    await promisify(execFile)(ffmpeg, [
      ...['-y', '-loglevel', 'error', ...inputs, '-i', file('sound.wav'), '-filter_complex', filters, '-map', '[v]', '-map', `${SCENES.length}:a`],
      ...['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '26', '-g', '50', '-bf', '0', '-c:a', 'aac', '-ar', '48000', '-ac', '2', '-b:a', '96k'],
      ...['-t', String(EVENING_MS / 1_000), '-movflags', '+faststart', '-f', 'mp4', target],
    ]);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** What a guest who speaks under the sky would have sent of it: their take, as a browser makes one, from `fromMs` of the recording on. */
export async function takeOfGuest(ffmpeg: string, recording: string, target: string): Promise<{ fromMs: number }> {
  const at = SCENES.findIndex(({ what }) => what === 'sky');
  const fromMs = SEEN[at]!.atMs;
  const part = ['-ss', String(fromMs / 1_000), '-t', String(SCENES[at]!.lasts), '-i', recording, '-vn', '-ac', '1'];
  await promisify(execFile)(ffmpeg, ['-y', '-loglevel', 'error', ...part, '-c:a', 'libopus', '-b:a', '64k', '-f', 'webm', target]);
  return { fromMs };
}

async function drawn(): Promise<Record<Seen, Buffer>> {
  const wide = { width: 760, height: 428, fit: 'cover' as const };
  const backdrop = (mood: 'dusk' | 'night', seed: number) =>
    sharp(Buffer.from(drawDome(mood, seed)))
      .resize(wide)
      .png()
      .toBuffer();
  const inset = (svg: string, size: number) => sharp(Buffer.from(svg)).resize(size, size, { fit: 'cover' }).png().toBuffer();
  const [dusk, night, late] = await Promise.all([backdrop('dusk', 1), backdrop('night', 7), backdrop('night', 12)]);
  const over = async (below: Buffer, svg: string, size: number, left: number, top: number) =>
    sharp(below)
      .composite([{ input: await inset(svg, size), left, top }])
      .png()
      .toBuffer();
  const dark = await sharp({ create: { width: 760, height: 428, channels: 3, background: '#0d262c' } })
    .png()
    .toBuffer();
  return {
    holding: await over(dusk, drawSign('#f2e6c8'), 150, 305, 120),
    host: await over(late, drawPortrait(HOST), 300, 150, 90),
    sky: night,
    'break card': await over(dark, drawSign('#f2e6c8'), 180, 290, 124),
    closing: await over(late, drawSign('#f2e6c8'), 150, 305, 120),
  };
}

/** A WAV file of one channel (EBU Tech 3285): noise in the rhythm of speech, and the station's tune beneath its cards. */
function sound(): Buffer {
  const samples = new Float32Array((EVENING_MS / 1_000) * RATE);
  let seed = 7;
  let smooth = 0;
  for (const [from, to] of SPOKEN)
    for (let at = from * RATE; at < to * RATE; at += 1) {
      seed = (seed * 1_664_525 + 1_013_904_223) >>> 0;
      // A voice has more of what is low.
      smooth += 0.18 * (seed / 2 ** 31 - 1 - smooth);
      const seconds = at / RATE;
      samples[at] = murmurAt(seconds - from) * (0.9 * smooth + 0.16 * Math.sin(2 * Math.PI * 165 * seconds));
    }
  const tune = eveningTune().subarray(44);
  SCENES.forEach(({ music, lasts }, scene) => {
    if (!music) return;
    for (let at = 0; at < lasts * RATE && 2 * at + 2 <= tune.length; at += 1)
      samples[(SEEN[scene]!.atMs / 1_000) * RATE + at]! += tune.readInt16LE(2 * at) / 32_768;
  });
  const head = eveningTune().subarray(0, 44);
  const wav = Buffer.alloc(44 + 2 * samples.length);
  head.copy(wav);
  wav.writeUInt32LE(wav.length - 8, 4);
  wav.writeUInt32LE(2 * samples.length, 40);
  samples.forEach((value, at) => wav.writeInt16LE(Math.round(32_767 * Math.max(-1, Math.min(1, value))), 44 + 2 * at));
  return wav;
}
