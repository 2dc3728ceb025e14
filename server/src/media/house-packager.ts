// The programme for the house page: HLS (RFC 8216) in parts of about half a second, the last few kept.
import { Logger } from '@nestjs/common';
import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { letGo } from '../foundation/let-go';
import { MediaProcess, READ_FLV } from './media-process';
import type { Programme } from './programme';

/**
 * Half of what lies between two key frames: players begin within a part, up to a second nearer to the present. Rounded it is 1, as is said
 * in the playlist (RFC 8216, section 4.3.3.1).
 */
const PART_SECONDS = '0.55';
const RESTART_MS = 1_000;
/** Some ten seconds that the packager has not taken: it is begun anew. */
const BACKLOG_BYTES = 8_000_000;

export class HousePackager {
  private readonly log = new Logger('house packager');
  private process: MediaProcess | null = null;
  private leave: (() => void) | null = null;
  private stopped = false;
  private again = false;
  private restart: NodeJS.Timeout | null = null;
  private readonly ready: Promise<void>;

  constructor(
    private readonly ffmpeg: string,
    readonly folder: string,
    private readonly programme: Programme,
  ) {
    // A folder that cannot be made costs the page its picture, and nobody else theirs.
    this.ready = rm(folder, { recursive: true, force: true })
      .then(() => mkdir(folder, { recursive: true }))
      .then(() => this.start());
    letGo('house packager', this.ready);
  }

  async stop(): Promise<void> {
    this.stopped = true;
    if (this.restart) clearTimeout(this.restart);
    await this.ready.catch(() => undefined);
    this.leave?.();
    await this.process?.end();
  }

  private start(): void {
    if (this.stopped) return;
    const process = new MediaProcess({
      name: 'house packager',
      ffmpeg: this.ffmpeg,
      args: [...READ_FLV, '-c', 'copy', '-f', 'hls', '-hls_time', PART_SECONDS, '-hls_list_size', '24']
        .concat(['-hls_delete_threshold', '40', '-hls_flags'])
        .concat([`delete_segments+split_by_time+temp_file+program_date_time${this.again ? '+append_list+discont_start' : ''}`])
        .concat(['-hls_segment_filename', join(this.folder, `${Date.now()}-%06d.ts`), join(this.folder, 'live.m3u8')]),
      onGone: (lastWords) => {
        this.leave?.();
        if (this.stopped) return;
        this.log.error(`stopped: ${lastWords}`);
        this.again = true;
        this.restart = setTimeout(() => this.start(), RESTART_MS);
      },
    });
    this.process = process;
    this.leave = this.programme.read((bytes) => {
      if (process.backlogBytes > BACKLOG_BYTES) return process.kill();
      process.write(bytes);
    }, 'at once');
  }
}
