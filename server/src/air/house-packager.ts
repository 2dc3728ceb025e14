// The programme for the house page: HLS (RFC 8216) in parts of about a second, the last few kept.
import { Logger } from '@nestjs/common';
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { MediaProcess, READ_FLV } from './media-process';
import type { Programme } from './programme';

const RESTART_MS = 1_000;

export class HousePackager {
  private readonly log = new Logger('house packager');
  private process: MediaProcess | null = null;
  private leave: (() => void) | null = null;
  private stopped = false;
  private again = false;

  constructor(
    private readonly ffmpeg: string,
    readonly folder: string,
    private readonly programme: Programme,
  ) {
    rmSync(folder, { recursive: true, force: true });
    mkdirSync(folder, { recursive: true });
    this.start();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    this.leave?.();
    await this.process?.end();
  }

  private start(): void {
    if (this.stopped) return;
    const process = new MediaProcess({
      name: 'house packager',
      ffmpeg: this.ffmpeg,
      args: [...READ_FLV, '-c', 'copy', '-f', 'hls', '-hls_time', '1', '-hls_list_size', '12']
        .concat(['-hls_delete_threshold', '20', '-hls_flags'])
        .concat([`delete_segments+independent_segments+temp_file${this.again ? '+append_list+discont_start' : ''}`])
        .concat(['-hls_segment_filename', join(this.folder, `${Date.now()}-%06d.ts`), join(this.folder, 'live.m3u8')]),
      onGone: (lastWords) => {
        this.leave?.();
        if (this.stopped) return;
        this.log.error(`stopped: ${lastWords}`);
        this.again = true;
        setTimeout(() => this.start(), RESTART_MS).unref();
      },
    });
    this.process = process;
    this.leave = this.programme.read((bytes) => process.write(bytes));
  }
}
