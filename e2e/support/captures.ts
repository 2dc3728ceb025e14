// What reached the stand-ins' ingests: when each picture came, by connection.
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export class Captures {
  readonly folder = mkdtempSync(join(tmpdir(), 'lantern-capture-'));

  /** What a product is started with so that the stand-ins keep what reaches them. */
  get env(): NodeJS.ProcessEnv {
    return { LANTERN_CAPTURE_DIR: this.folder };
  }

  /** By connection, oldest first: the event, and each picture's own time and the moment it came, both in ms. */
  connections(): { event: string; flv: string; pictures: { dtsMs: number; at: number }[] }[] {
    const files = readdirSync(this.folder).filter((name) => name.endsWith('.csv'));
    const begun = (name: string) => Number(/-(\d+)\.csv$/.exec(name)![1]);
    return files
      .sort((a, b) => begun(a) - begun(b))
      .map((name) => ({
        event: name.replace(/-\d+\.csv$/, ''),
        flv: join(this.folder, name.replace(/csv$/, 'flv')),
        pictures: readFileSync(join(this.folder, name), 'utf8')
          .split('\n')
          .filter(Boolean)
          .map((line) => line.split(',').map(Number) as [number, number])
          .map(([dtsMs, at]) => ({ dtsMs, at })),
      }));
  }

  /** Of the newest connection: the colour of the picture that came last, each part from 0 to 255, and how loud its last second is, in dB. */
  lastSeenAndHeard(): { red: number; green: number; blue: number; dB: number } {
    const { flv } = this.connections().at(-1)!;
    const read = (...as: string[]) =>
      spawnSync(process.env.FFMPEG_PATH ?? ffmpegPackage.path, ['-v', 'fatal', '-i', flv, ...as, 'pipe:1'], { maxBuffer: 64e6 }).stdout;
    const [red = 0, green = 0, blue = 0] = read('-an', '-vf', 'scale=1:1:flags=area', '-f', 'rawvideo', '-pix_fmt', 'rgb24').subarray(-3);
    const sound = read('-vn', '-ac', '1', '-ar', '8000', '-f', 's16le').subarray(-16_000);
    let square = 0;
    for (let at = 0; at + 1 < sound.length; at += 2) square += (sound.readInt16LE(at) / 32_768) ** 2;
    return { red, green, blue, dB: 10 * Math.log10(square / Math.max(1, sound.length / 2) + 1e-9) };
  }

  /** By event: the longest wait for a picture since `since`, in ms, and how many connections there were in all. */
  gaps(since = 0): { event: string; longestMs: number; connections: number }[] {
    const connections = this.connections();
    return [...new Set(connections.map(({ event }) => event))].map((event) => {
      const own = connections.filter((each) => each.event === event);
      const all = own.flatMap(({ pictures }) => pictures.map(({ at }) => at)).sort((a, b) => a - b);
      // From the last one before: a wait that began with `since` counts too.
      const times = all.slice(Math.max(0, all.findIndex((at) => at >= since) - 1));
      const longestMs = Math.max(0, ...times.slice(1).map((at, index) => at - times[index]!));
      return { event, longestMs, connections: own.length };
    });
  }
}
