// What really arrived: looks into streams and recordings with ffprobe and ffmpeg.
import { execFile, spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { promisify } from 'node:util';
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import type { Box } from '@lantern/core';

const run = promisify(execFile);
const FFMPEG = process.env.FFMPEG_PATH ?? ffmpegPackage.path;
/** No package ships one that runs everywhere: it comes with the system's ffmpeg. */
const FFPROBE = process.env.FFPROBE_PATH ?? 'ffprobe';

export interface MediaFacts {
  video: { codec: string; width: number; height: number } | null;
  audio: { codec: string } | null;
  durationS: number;
}

/** Everything that a playlist offers at this moment, as one file of transport stream; null while there is nothing. */
export async function download(playlistUrl: string, file: string): Promise<string | null> {
  const playlist = await fetch(playlistUrl);
  if (!playlist.ok) return null;
  const parts = (await playlist.text()).split('\n').filter((line) => line && !line.startsWith('#'));
  const bytes = await Promise.all(parts.map(async (part) => Buffer.from(await (await fetch(new URL(part, playlistUrl))).arrayBuffer())));
  writeFileSync(file, Buffer.concat(bytes));
  return file;
}

/** Three seconds of picture and sound, as somebody's own film. */
export async function film(path: string): Promise<Buffer> {
  const source = ['-f', 'lavfi', '-i', 'testsrc=size=640x360:rate=25:duration=3', '-f', 'lavfi', '-i', 'sine=duration=3'];
  await run(FFMPEG, ['-y', '-loglevel', 'error', ...source, path]);
  return readFileSync(path);
}

/** White from edge to edge, with a tone. */
export async function whiteFilm(path: string, seconds: number): Promise<Buffer> {
  const source = ['-f', 'lavfi', '-i', `color=white:size=640x360:rate=25:duration=${seconds}`, '-f', 'lavfi', '-i', `sine=duration=${seconds}`];
  await run(FFMPEG, ['-y', '-loglevel', 'error', ...source, path]);
  return readFileSync(path);
}

/** Streams and length of a file. */
export async function probe(source: string): Promise<MediaFacts> {
  const { stdout } = await run(FFPROBE, ['-v', 'error', '-show_streams', '-show_format', '-of', 'json', source]);
  const facts = JSON.parse(stdout) as { streams: Record<string, string | number>[]; format: { duration?: string } };
  const of = (kind: string) => facts.streams.find(({ codec_type }) => codec_type === kind);
  const video = of('video');
  const audio = of('audio');
  return {
    video: video ? { codec: String(video.codec_name), width: Number(video.width), height: Number(video.height) } : null,
    audio: audio ? { codec: String(audio.codec_name) } : null,
    durationS: Number(facts.format.duration ?? 0),
  };
}

/** Grey pictures of one part of the frame, `perSecond` of them over the first `seconds`. */
export async function pictures(source: string, box: Box, perSecond: number, seconds: number): Promise<Buffer[]> {
  const { stdout } = await run(
    FFMPEG,
    ['-v', 'fatal', '-i', source, '-t', String(seconds), '-an', '-vf', `fps=${perSecond},crop=${box.width}:${box.height}:${box.x}:${box.y}`].concat([
      '-pix_fmt',
      'gray',
      '-f',
      'rawvideo',
      'pipe:1',
    ]),
    { encoding: 'buffer', maxBuffer: 1 << 29 },
  );
  const size = box.width * box.height;
  return Array.from({ length: Math.floor(stdout.length / size) }, (_, at) => stdout.subarray(at * size, (at + 1) * size));
}

/** What a decoder complains of in the pictures of a file; empty: nothing. */
export async function troublesOf(source: string): Promise<string> {
  const { stderr } = await run(FFMPEG, ['-v', 'error', '-i', source, '-an', '-vf', 'fps=30', '-f', 'rawvideo', '-y', '/dev/null']);
  return stderr;
}

/** Mean difference of two pictures, 0 to 255. */
export function difference(a: Buffer, b: Buffer): number {
  let sum = 0;
  for (let at = 0; at < a.length; at++) sum += Math.abs(a[at]! - b[at]!);
  return sum / a.length;
}

/** Loudness of a file's sound in dBFS: mean over `seconds` from `fromS`. */
export async function meanVolumeDb(source: string, fromS: number, seconds: number): Promise<number> {
  const { stderr } = await run(FFMPEG, [
    '-hide_banner',
    '-ss',
    String(fromS),
    '-t',
    String(seconds),
    '-i',
    source,
    '-vn',
    '-af',
    'volumedetect',
    '-f',
    'null',
    '-',
  ]);
  const mean = /mean_volume: (-?[\d.]+|-inf) dB/.exec(stderr)?.[1];
  return mean === undefined || mean === '-inf' ? -Infinity : Number(mean);
}

/** Sends a test picture to an ingest; resolves with what the far end said when it would not have it. */
export async function pushTestPicture(address: string, key: string, seconds: number): Promise<string> {
  try {
    await run(
      FFMPEG,
      ['-v', 'error', '-re', '-f', 'lavfi', '-i', 'testsrc=s=320x180:r=30', '-t', String(seconds), '-c:v', 'libx264', '-g', '30'].concat([
        '-f',
        'flv',
        `${address}/${key}`,
      ]),
      { timeout: (seconds + 20) * 1000 },
    );
    return '';
  } catch (error) {
    return String((error as { stderr?: string }).stderr ?? error);
  }
}

/** A file of sound: how long it is, and how loud (RMS, from 0 to 1) from one second of it to another. */
export function soundOf(file: Buffer): { seconds: number; loud: (fromS: number, toS: number) => number } {
  const rate = 8_000;
  // Where there is a gap in its times, there is silence.
  const args = ['-v', 'error', '-i', 'pipe:0', '-vn', '-af', 'aresample=async=1:min_hard_comp=0.03:first_pts=0'].concat(
    ...['-ac', '1', '-ar', String(rate), '-f', 's16le', 'pipe:1'],
  );
  const { stdout } = spawnSync(FFMPEG, args, { input: file, maxBuffer: 256e6 });
  const loud = (fromS: number, toS: number) => {
    let [squares, count] = [0, 0];
    for (let at = Math.round(fromS * rate) * 2; at + 1 < Math.min(stdout.length, toS * rate * 2); at += 2, count++)
      squares += (stdout.readInt16LE(at) / 32_768) ** 2;
    return Math.sqrt(squares / Math.max(1, count));
  };
  return { seconds: stdout.length / 2 / rate, loud };
}
