// A recording of which every picture says which one it is, with a click at each whole second: for what has to be exact.
import { spawnSync } from 'node:child_process';

const WIDTH = 128;
const HEIGHT = 32;
const RATE = 30;
const BITS = 16;
const BAR = WIDTH / BITS;
const SOUND_RATE = 48_000;

/** Writes an MP4 of `seconds` at thirty pictures a second. `more`: how its pictures are encoded. */
export function writeStamped(ffmpeg: string, path: string, seconds: number, more: readonly string[] = ['-g', '60', '-bf', '0']): void {
  // Bars of black and white, the number of the picture in binary.
  const bars = Array.from({ length: BITS }, (_, bit) => `255*between(X,${bit * BAR},${bit * BAR + BAR - 1})*mod(floor(N/${2 ** bit}),2)`).join('+');
  const picture = ['-f', 'lavfi', '-i', `color=black:s=${WIDTH}x${HEIGHT}:r=${RATE}:d=${seconds},format=gray,geq=lum='${bars}'`];
  const clicks = ['-f', 'lavfi', '-i', `aevalsrc='0.8*sin(2*PI*1000*t)*lt(mod(t,1),0.03)':s=${SOUND_RATE}:d=${seconds}`];
  const made = spawnSync(
    ffmpeg,
    ['-v', 'error', '-y', ...picture, ...clicks, '-pix_fmt', 'yuv420p', '-c:v', 'libx264', '-preset', 'ultrafast', '-sc_threshold', '0', ...more].concat([
      '-c:a',
      'aac',
      '-ac',
      '2',
      '-b:a',
      '96k',
      '-movflags',
      '+faststart',
      path,
    ]),
    { encoding: 'utf8' },
  );
  if (made.status !== 0) throw new Error(made.stderr);
}

/** The numbers of the pictures of a film, in the order in which they are shown, and when, in ms. `part`: what of it is read, as ffmpeg has it. */
export function stampsOf(ffmpeg: string, path: string, part: readonly string[] = []): { number: number; atMs: number }[] {
  const args = [
    '-v',
    'error',
    ...part,
    '-i',
    path,
    '-an',
    '-vsync',
    'passthrough',
    '-vf',
    `scale=${BITS}:1:flags=area,format=gray`,
    '-f',
    'rawvideo',
    'pipe:1',
  ];
  const { stdout, stderr, status } = spawnSync(ffmpeg, args, { maxBuffer: 100_000_000 });
  if (status !== 0) throw new Error(String(stderr));
  const times = spawnSync(ffmpeg, ['-v', 'error', ...part, '-i', path, '-an', '-vsync', 'passthrough', '-f', 'framehash', 'pipe:1'], {
    encoding: 'utf8',
    maxBuffer: 100_000_000,
  });
  const base = /#tb 0: (\d+)\/(\d+)/.exec(times.stdout)!;
  const at = times.stdout.split('\n').flatMap((line) => (/^0,/.test(line) ? [(Number(line.split(',')[2]) * 1_000 * Number(base[1])) / Number(base[2])] : []));
  return at.map((atMs, index) => ({
    atMs,
    number: Array.from({ length: BITS }, (_, bit) => (stdout[index * BITS + bit]! > 128 ? 2 ** bit : 0)).reduce((a, b) => a + b, 0),
  }));
}

/** When clicks begin in a film, in ms: by the times that its sound carries, however short a time is left out. */
export function clicksOf(ffmpeg: string, path: string): number[] {
  const args = [
    '-v',
    'error',
    '-i',
    path,
    '-vn',
    '-ac',
    '1',
    '-af',
    'aresample=async=1:min_hard_comp=0.001:first_pts=0',
    '-ar',
    String(SOUND_RATE),
    '-f',
    's16le',
    'pipe:1',
  ];
  const { stdout } = spawnSync(ffmpeg, args, { maxBuffer: 500_000_000 });
  const clicks: number[] = [];
  let quiet = SOUND_RATE;
  for (let at = 0; at + 2 <= stdout.length; at += 2) {
    const loud = Math.abs(stdout.readInt16LE(at)) > 6_000;
    if (loud && quiet > SOUND_RATE / 10) clicks.push((at / 2 / SOUND_RATE) * 1_000);
    quiet = loud ? 0 : quiet + 1;
  }
  return clicks;
}
