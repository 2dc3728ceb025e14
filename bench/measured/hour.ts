// A long recording of which every picture says which one it is.
import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeStamped } from '../../server/src/test/stamped';

/** A stamped minute, as large as a programme and as hard to keep, an hour long. */
export function writeHour(ffmpeg: string, folder: string, minutes: number): string {
  const file = (name: string) => join(folder, name);
  writeStamped(ffmpeg, file('small.mp4'), 60);
  const noise = 'scale=1280:720:flags=neighbor,noise=alls=24:allf=t';
  execFileSync(ffmpeg, [
    ...['-v', 'error', '-y', '-i', file('small.mp4'), '-vf', noise, '-vsync', 'passthrough', '-c:v', 'libx264', '-preset', 'ultrafast', '-b:v', '2500k'],
    ...['-maxrate', '2500k', '-bufsize', '2500k', '-g', '60', '-bf', '0', '-sc_threshold', '0', '-c:a', 'copy', file('minute.mp4')],
  ]);
  writeFileSync(file('list'), Array.from({ length: minutes }, () => `file '${file('minute.mp4')}'\n`).join(''));
  execFileSync(ffmpeg, ['-v', 'error', '-y', '-f', 'concat', '-safe', '0', '-i', file('list'), '-c', 'copy', '-movflags', '+faststart', file('recording.mp4')]);
  return file('recording.mp4');
}
