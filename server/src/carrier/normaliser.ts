// Makes a picture anew that cannot go out as it comes: of another shape, rate or codec. One process a line, only while the line is in a programme.
import { FlvReader, FlvSyntaxError, type FlvTag } from '@lantern/core';
import { Logger } from '@nestjs/common';
import { MediaProcess, READ_FLV } from '../media/media-process';

/** Some ten seconds of picture that the process has not taken: it will not catch up. */
const BACKLOG_BYTES = 8_000_000;

const FIT = 'scale=1280:720:force_original_aspect_ratio=decrease,pad=1280:720:(ow-iw)/2:(oh-ih)/2,setsar=1,fps=30';
const PICTURE = ['-c:v', 'libx264', '-preset', 'veryfast', '-tune', 'zerolatency', '-profile:v', 'main', '-pix_fmt', 'yuv420p', '-bf', '0'].concat([
  '-b:v',
  '2500k',
  '-maxrate',
  '2800k',
  '-bufsize',
  '2800k',
  '-g',
  '30',
  '-keyint_min',
  '30',
  '-sc_threshold',
  '0',
]);
const SOUND = ['-c:a', 'aac', '-b:a', '160k', '-ar', '48000', '-ac', '2'];

export class Normaliser {
  private readonly log: Logger;
  private readonly process: MediaProcess;
  private readonly reader = new FlvReader();
  private gone = false;

  constructor(name: string, ffmpeg: string, onTag: (tag: FlvTag) => void, onGone: () => void) {
    this.log = new Logger(`normaliser ${name}`);
    this.process = new MediaProcess({
      name: `normaliser ${name}`,
      ffmpeg,
      args: [...READ_FLV, '-vf', FIT, ...PICTURE, ...SOUND, '-flush_packets', '1', '-flvflags', 'no_duration_filesize', '-f', 'flv', 'pipe:1'],
      onOutput: (bytes) => {
        try {
          for (const tag of this.reader.push(bytes)) onTag(tag);
        } catch (error) {
          this.log.error(error instanceof Error ? error.message : String(error), error instanceof FlvSyntaxError ? undefined : (error as Error).stack);
          this.process.kill();
        }
      },
      onGone: (lastWords) => {
        if (!this.gone) this.log.error(`stopped: ${lastWords}`);
        this.gone = true;
        onGone();
      },
    });
  }

  /** Takes a piece of FLV, from its head on. */
  write(bytes: Uint8Array): void {
    if (this.process.backlogBytes > BACKLOG_BYTES) return this.process.kill();
    this.process.write(bytes);
  }

  stop(): void {
    this.gone = true;
    this.process.kill();
  }
}
