// HLS (RFC 8216) of what arrives at the ingest: one packager process per event, and a playlist that
// shows each part only once the network's delay has passed.
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { spawn, type ChildProcess } from 'node:child_process';
import { createWriteStream, existsSync, mkdirSync, statSync, type WriteStream } from 'node:fs';
import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { SETTINGS, type Settings } from './settings';

/** A player holds about this much itself, which counts towards the delay that viewers see. */
const PLAYER_HOLDS_MS = 3_000;
/** Parts of about a second that a live playlist offers where viewers cannot go back. */
const WINDOW_PARTS = 10;

@Injectable()
export class Playback implements OnApplicationShutdown {
  private readonly log = new Logger('playback');
  private readonly packagers = new Map<string, ChildProcess>();
  private readonly captures = new Map<string, { flv: WriteStream; arrivals: WriteStream; bytes: number }>();

  constructor(@Inject(SETTINGS) private readonly settings: Settings) {}

  begin(eventId: string): void {
    const folder = this.folder(eventId);
    mkdirSync(folder, { recursive: true });
    const again = existsSync(join(folder, 'all.m3u8'));
    const packager = spawn(
      this.settings.ffmpeg,
      [
        '-hide_banner',
        '-loglevel',
        'error',
        '-probesize',
        '32768',
        '-analyzeduration',
        '200000',
        '-fpsprobesize',
        '0',
        '-f',
        'flv',
        '-i',
        'pipe:0',
        '-c',
        'copy',
        '-f',
        'hls',
      ]
        .concat(['-hls_time', '1', '-hls_list_size', '0', '-hls_segment_filename', join(folder, `${Date.now()}-%05d.ts`)])
        .concat(['-hls_flags', `independent_segments+temp_file${again ? '+append_list+discont_start' : ''}`, join(folder, 'all.m3u8')]),
      { stdio: ['pipe', 'ignore', 'pipe'] },
    );
    packager.stdin!.on('error', () => undefined);
    packager.stderr!.on('data', (text) => this.log.warn(String(text).trim().slice(0, 300)));
    packager.on('error', (error) => this.log.error(`no packager: ${error.message}`));
    this.packagers.set(eventId, packager);
    if (this.settings.captureDir) {
      mkdirSync(this.settings.captureDir, { recursive: true });
      const name = `${eventId}-${Date.now()}`;
      const path = (end: string) => join(this.settings.captureDir!, `${name}.${end}`);
      this.captures.set(eventId, { flv: createWriteStream(path('flv')), arrivals: createWriteStream(path('csv')), bytes: 0 });
    }
  }

  write(eventId: string, flv: Buffer, packet: { picture: boolean; dtsMs: number }): void {
    const stdin = this.packagers.get(eventId)?.stdin;
    if (stdin?.writable) stdin.write(flv);
    const capture = this.captures.get(eventId);
    if (!capture) return;
    capture.flv.write(flv);
    if (packet.picture) capture.arrivals.write(`${packet.dtsMs},${Date.now()}\n`);
  }

  end(eventId: string): void {
    this.packagers.get(eventId)?.stdin?.end();
    this.packagers.delete(eventId);
    this.captures.get(eventId)?.flv.end();
    this.captures.get(eventId)?.arrivals.end();
    this.captures.delete(eventId);
  }

  /**
   * The live playlist of an event, reaching `rewindHours` back, or the whole of its recording up to
   * `atMostMs` once it is over; null while there is nothing to show. `query` is put behind the name of
   * each part.
   */
  async playlist(eventId: string, delaySeconds: number, rewindHours: number, over: boolean, atMostMs: number, query: string): Promise<string | null> {
    const all = await readFile(join(this.folder(eventId), 'all.m3u8'), 'utf8').catch(() => null);
    if (!all) return null;
    const due = Date.now() - Math.max(0, delaySeconds * 1000 - PLAYER_HOLDS_MS);
    const parts: { head: string[]; file: string }[] = [];
    let head: string[] = [];
    for (const line of all.split('\n')) {
      if (line.startsWith('#EXTINF') || line.startsWith('#EXT-X-DISCONTINUITY')) head.push(line);
      else if (line && !line.startsWith('#')) {
        parts.push({ head, file: line });
        head = [];
      }
    }
    const released = parts.filter(({ file }) => {
      const path = join(this.folder(eventId), file);
      return existsSync(path) && statSync(path).mtimeMs <= due;
    });
    if (!released.length) return null;
    let recordedMs = 0;
    const secondsOf = (part: { head: string[] }) => Number(/#EXTINF:([\d.]+)/.exec(part.head.join('\n'))?.[1] ?? 0);
    const kept = released.filter((part) => (recordedMs += 1000 * secondsOf(part)) <= atMostMs);
    const shown = over ? kept : released.slice(-(WINDOW_PARTS + rewindHours * 3_600));
    const first = over ? 0 : released.length - shown.length;
    return [
      '#EXTM3U',
      '#EXT-X-VERSION:3',
      // No part has been longer, rounded (RFC 8216, section 4.3.3.1): players hold three times as much.
      `#EXT-X-TARGETDURATION:${Math.max(1, ...released.map((part) => Math.round(secondsOf(part))))}`,
      `#EXT-X-MEDIA-SEQUENCE:${first}`,
      ...shown.flatMap((part) => [...part.head, part.file + query]),
      ...(over ? ['#EXT-X-ENDLIST'] : []),
      '',
    ].join('\n');
  }

  /** The path of one part, or null for a name that no part has. */
  part(eventId: string, file: string): string | null {
    if (!/^\d+-\d+\.ts$/.test(file)) return null;
    const path = join(this.folder(eventId), file);
    return existsSync(path) ? path : null;
  }

  /** Removes everything that was kept of an event. */
  async remove(eventId: string): Promise<void> {
    this.end(eventId);
    await rm(this.folder(eventId), { recursive: true, force: true });
  }

  onApplicationShutdown(): void {
    for (const eventId of [...this.packagers.keys()]) this.end(eventId);
  }

  private folder(eventId: string): string {
    return join(this.settings.mediaDir, eventId);
  }
}
