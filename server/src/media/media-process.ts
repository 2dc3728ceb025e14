// One ffmpeg process with a beginning and an end: started, fed, watched, and ended for certain.
import { Logger } from '@nestjs/common';
import { spawn, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { setPriority } from 'node:os';
import { performance } from 'node:perf_hooks';
import { withoutSecrets } from '../foundation/log';

/** Where a process finds its secret. */
export const SECRET_FILE = '/dev/fd/4';
/** Takes the secret off its input, up to an empty line, and becomes the process with the secret in file 4. */
const WITH_SECRET = 'secret=; while IFS= read -r line && [ "$line" ]; do secret="$secret$line\n"; done; exec "$0" "$@" 4<<END\n$secret\nEND\n';

const LAST_WORDS_LINES = 6;
/** Of at most 19 (nice, POSIX.1-2017). */
const STEPS_BACK = 15;
const PATIENCE_AT_END_MS = 3_000;

export interface MediaProcessOptions {
  name: string;
  ffmpeg: string;
  args: string[];
  /**
   * A few lines that the process can read from SECRET_FILE. It stands in no argument and in no
   * environment, which other users of the machine can read, and never on a disk.
   */
  secret?: string;
  onOutput?: (bytes: Buffer) => void;
  /** Called once, when the process is gone for whatever reason. */
  onGone: (lastWords: string) => void;
}

/** Reads our own FLV without delay: its first tags say all that there is to find out. */
export const READ_FLV = ['-probesize', '32768', '-analyzeduration', '200000', '-fpsprobesize', '0', '-f', 'flv', '-i', 'pipe:0'];

/** What a process that sends to an ingest is told in secret. */
export const rtmpSecret = (address: string, key: string): string => `rtmp_playpath=${key}\nrtmp_tcurl=${address}`;

/** Linux counts processor time in hundredths of a second (proc(5): utime and stime, the 14th and 15th field). */
const MS_A_TICK = 10;

function ticksOf(pid: number | undefined): number | null {
  try {
    const line = readFileSync(`/proc/${pid}/stat`, 'utf8');
    // The name of the process stands in brackets, and may hold anything.
    const fields = line.slice(line.lastIndexOf(')') + 2).split(' ');
    return Number(fields[11]) + Number(fields[12]);
  } catch {
    return null;
  }
}

export class MediaProcess {
  private readonly log: Logger;
  private readonly child: ChildProcess;
  private readonly lines: string[] = [];
  private goneCalled = false;
  private cost: { at: number; ticks: number } | null = null;
  private readonly gonePromise: Promise<void>;

  constructor(private readonly options: MediaProcessOptions) {
    this.log = new Logger(options.name);
    const args = ['-hide_banner', '-loglevel', 'error', '-nostdin', ...options.args];
    const [command, all] = options.secret === undefined ? [options.ffmpeg, args] : ['/bin/sh', ['-c', WITH_SECRET, options.ffmpeg, ...args]];
    this.child = spawn(command, all, { stdio: ['pipe', 'pipe', 'pipe'] });
    let resolveGone: () => void = () => undefined;
    this.gonePromise = new Promise((resolve) => (resolveGone = resolve));
    const gone = (why: string) => {
      if (this.goneCalled) return;
      this.goneCalled = true;
      resolveGone();
      options.onGone(why);
    };
    this.child.stdin!.on('error', () => undefined); // The end of the process is told by `close`.
    this.child.stdout!.on('data', (bytes: Buffer) => options.onOutput?.(bytes));
    this.child.stderr!.on('data', (bytes: Buffer) => this.hear(String(bytes)));
    this.child.on('error', (error) => gone(error.message));
    this.child.on('close', () => gone(this.lines.join(' ')));
    if (options.secret !== undefined) this.child.stdin!.write(`${options.secret}\n\n`);
  }

  /** Bytes given to the process and not yet taken by it. */
  get backlogBytes(): number {
    return this.child.stdin!.writableLength;
  }

  get pid(): number | undefined {
    return this.child.pid;
  }

  /** Gives way to everything else on the machine: somebody may be on air. */
  stepBack(): void {
    try {
      if (this.child.pid !== undefined) setPriority(this.child.pid, STEPS_BACK);
    } catch {
      // It is gone already, or the system does not let it.
    }
  }

  /** How much of one core it has taken since this was last asked; null: it cannot be told, or is asked for the first time. */
  coreShare(): number | null {
    const now = performance.now();
    const ticks = ticksOf(this.child.pid);
    const before = this.cost;
    this.cost = ticks === null ? null : { at: now, ticks };
    return ticks === null || !before ? null : ((ticks - before.ticks) * MS_A_TICK) / (now - before.at);
  }

  write(bytes: Uint8Array): void {
    if (this.child.stdin!.writable) this.child.stdin!.write(bytes);
  }

  /** Takes nothing of its output until `until` has come. */
  holdBack(until: Promise<void>): void {
    const { stdout } = this.child;
    stdout!.pause();
    const goOn = () => void stdout!.resume();
    until.then(goOn, goOn);
  }

  /** Lets the process finish what it was given, then makes sure that it is gone. True: it has ended by itself and well. May be called twice. */
  async end(patienceMs = PATIENCE_AT_END_MS): Promise<boolean> {
    this.child.stdin!.end();
    const timer = setTimeout(() => this.kill(), patienceMs);
    await this.gonePromise;
    clearTimeout(timer);
    return this.child.exitCode === 0;
  }

  kill(): void {
    this.child.kill('SIGKILL');
  }

  private hear(text: string): void {
    for (const line of withoutSecrets(text)
      .split('\n')
      .filter((each) => each.trim())) {
      this.lines.push(line.trim());
      if (this.lines.length > LAST_WORDS_LINES) this.lines.shift();
      this.log.debug(line);
    }
  }
}
