// The film with which the demo station's shows open: the dome under its night sky, the camera passing over it, to the evening tune.
import { execFile } from 'node:child_process';
import { createReadStream } from 'node:fs';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { promisify } from 'node:util';
import sharp from 'sharp';
import { drawDome } from './artwork';
import { eveningTune } from './tune';

const SECONDS = 8;

/** Makes the film with that ffmpeg and hands it to `take` as it would come from a browser. */
export async function withOpeningFilm(ffmpeg: string, take: (film: Readable & { headers: object }) => Promise<void>): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'lantern-film-'));
  const file = (name: string) => join(folder, name);
  try {
    await writeFile(
      file('dome.png'),
      await sharp(Buffer.from(drawDome('night', 5)))
        .png()
        .toBuffer(),
    );
    await writeFile(file('tune.wav'), eveningTune());
    const along = (room: string) => `(${room})*t/${SECONDS}`;
    await promisify(execFile)(ffmpeg, [
      ...['-y', '-loglevel', 'error', '-loop', '1', '-framerate', '30', '-i', file('dome.png'), '-i', file('tune.wav'), '-t', String(SECONDS)],
      ...['-vf', `crop=1280:720:x='${along('iw-1280')}':y='${along('ih-720')}',format=yuv420p`, '-af', `afade=out:st=${SECONDS - 2}:d=2`],
      ...['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '18', '-c:a', 'aac', file('opening.mp4')],
    ]);
    await take(Object.assign(createReadStream(file('opening.mp4')), { headers: {} }));
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
