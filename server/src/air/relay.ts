// Sends the programme of one airing to its channel: own process, own restart with back-off. What
// happens here never reaches another airing.
import { backoffMs, type Instant, type RelayState } from '@lantern/core';
import { Logger } from '@nestjs/common';
import type { IngestLine } from '../channels/connectors/connector';
import { MediaProcess } from './media-process';
import type { Programme } from './programme';

/** More than this waiting to be taken (about ten seconds of picture), and the far end has stalled. */
const STALLED_BACKLOG_BYTES = 4_000_000;
/** A connection that held this long starts its back-off anew. */
const STEADY_MS = 20_000;

export interface RelayOptions {
  name: string;
  ffmpeg: string;
  programme: Programme;
  /** Asked at each attempt, since a network may have issued a new key meanwhile. */
  line: () => Promise<IngestLine>;
  /** What an error of `line` means, in words. */
  wordsOf: (error: unknown) => string;
  now: () => Instant;
  onChange: () => void;
}

export class Relay {
  private readonly log: Logger;
  private process: MediaProcess | null = null;
  private leave: (() => void) | null = null;
  private retry: NodeJS.Timeout | null = null;
  private failures = 0;
  private connectedAt: Instant | null = null;
  private stopped = true;
  private current: RelayState = { state: 'idle', said: '', nextTryAt: null };

  constructor(private readonly options: RelayOptions) {
    this.log = new Logger(`relay ${options.name}`);
  }

  get state(): RelayState {
    return this.current;
  }

  /** Begins sending; while nothing is in the programme it waits. May be called twice. */
  start(): void {
    if (!this.stopped) return;
    this.stopped = false;
    void this.connect();
  }

  /** Drops the connection and makes a new one after the usual wait: the far end says that nothing arrives. */
  tryAgain(why: string): void {
    if (this.current.state !== 'sending') return;
    this.log.warn(why);
    this.fail(why);
  }

  async stop(): Promise<void> {
    this.stopped = true;
    if (this.retry) clearTimeout(this.retry);
    this.leave?.();
    const process = this.process;
    this.process = null;
    this.become({ state: 'idle', said: '', nextTryAt: null });
    await process?.end();
  }

  private async connect(): Promise<void> {
    this.become({ state: 'connecting', said: this.current.said, nextTryAt: null });
    let line: IngestLine;
    try {
      line = await this.options.line();
    } catch (error) {
      return this.fail(this.options.wordsOf(error));
    }
    if (this.stopped) return;
    const process = new MediaProcess({
      name: `relay ${this.options.name}`,
      ffmpeg: this.options.ffmpeg,
      args: ['-probesize', '100000', '-f', 'flv', '-i', 'pipe:0', '-c', 'copy', '-progress', 'pipe:1', '-f', 'flv']
        // The key comes from file 3 and not from the arguments, which every user of the machine can read.
        .concat(['-flvflags', 'no_duration_filesize', '-fpre', '/dev/fd/3', line.address]),
      secret: `rtmp_playpath=${line.key}\n`,
      onOutput: () => this.noteProgress(process),
      onGone: (lastWords) => {
        if (this.process === process) this.fail(plainReason(lastWords));
      },
    });
    this.process = process;
    this.connectedAt = null;
    this.leave = this.options.programme.read((bytes) => {
      if (process.backlogBytes > STALLED_BACKLOG_BYTES && this.process === process) return this.fail('it stopped taking the picture');
      process.write(bytes);
    });
  }

  /** ffmpeg reports progress only once the far end has accepted the connection. */
  private noteProgress(process: MediaProcess): void {
    if (this.process !== process || this.current.state !== 'connecting') return;
    this.connectedAt = this.options.now();
    this.become({ state: 'sending', said: '', nextTryAt: null });
  }

  private fail(said: string): void {
    if (this.stopped) return;
    const steady = this.connectedAt !== null && this.options.now() - this.connectedAt > STEADY_MS;
    this.failures = steady ? 1 : this.failures + 1;
    this.connectedAt = null;
    this.leave?.();
    const process = this.process;
    this.process = null;
    process?.kill();
    const waitMs = backoffMs(this.failures, Math.random());
    this.log.warn(`${said}; next try in ${waitMs} ms`);
    this.become({ state: 'waiting', said, nextTryAt: (this.options.now() + waitMs) as Instant });
    this.retry = setTimeout(() => void this.connect(), waitMs);
  }

  private become(state: RelayState): void {
    this.current = state;
    this.options.onChange();
  }
}

/** The far end's own words out of ffmpeg's, or what its message means. */
export function plainReason(lastWords: string): string {
  const said = /Server error: ([^[\]]+?)(?: rtmps?:|$)/.exec(lastWords)?.[1];
  if (said) return said.trim().replace(/\.$/, '');
  if (/refused/i.test(lastWords)) return 'nobody answers at its address';
  if (/resolve|not known/i.test(lastWords)) return 'its address cannot be found';
  if (/timed out/i.test(lastWords)) return 'it did not answer in time';
  if (/certificate|TLS|SSL/i.test(lastWords)) return 'its certificate cannot be trusted';
  return 'it hung up';
}
