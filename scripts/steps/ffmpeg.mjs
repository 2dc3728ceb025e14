// Which ffmpeg is used: one named in FFMPEG_PATH, one on the PATH, or the one inside a package.
import { spawnSync } from 'node:child_process';
import { createRequire } from 'node:module';

export function ffmpegPath() {
  if (process.env.FFMPEG_PATH) return process.env.FFMPEG_PATH;
  if (spawnSync('ffmpeg', ['-version']).status === 0) return 'ffmpeg';
  return createRequire(import.meta.url)('@ffmpeg-installer/ffmpeg').path;
}
