// Sends the programme of one airing to its channel: own process, own restart with back-off. What
// happens here never reaches another airing.
import { backoffMs, type Instant, type RelayState } from '@lantern/core';
import { Logger } from '@nestjs/common';
import { letGo } from '../foundation/let-go';
import { IngestTunnel, Unreachable } from './ingest-tunnel';
import { MediaProcess, READ_FLV, rtmpSecret, SECRET_FILE } from './media-process';
import type { Programme } from './programme';

/** More than this waiting to be taken (about ten seconds of picture), and the far end has stalled. */
const STALLED_BACKLOG_BYTES = 4_000_000;
/** A connection that held this long starts its back-off anew. */
const STEADY_MS = 20_000;

export interface RelayOptions {
  name: string;
  ffmpeg: string;
  programme: Programme;
  privateTargets: boolean;
  /** Asked at each attempt, since a network may have issued a new key meanwhile. */
  line: () => Promise<{ address: string; key: string }>;
  /** What an error of `line` means, in words. */
  wordsOf: (error: unknown) => string;
  now: () => Instant;
  /** The far end has begun to take the picture. */
  onSending?: () => void;
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
  /** Raised with each try and each stop: what a try waited for may come when it is no longer wanted. */
  private turn = 0;
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
    letGo('connecting', this.connect());
  }

  /** Drops the connection and makes a new one after the usual wait: the far end says that nothing arrives. */
  tryAgain(why: string): void {
    if (this.current.state !== 'sending') return;
    this.log.warn(why);
    this.fail(why);
  }

  async stop(): Promise<void> {
    this.stopped = true;
    this.turn += 1;
    if (this.retry) clearTimeout(this.retry);
    this.leave?.();
    const process = this.process;
    this.process = null;
    this.become({ state: 'idle', said: '', nextTryAt: null });
    await process?.end();
  }

  /** A try. Whatever goes wrong in it, it is a try that failed, and another follows. */
  private async connect(): Promise<void> {
    const turn = ++this.turn;
    try {
      await this.connectOnce(() => this.turn !== turn);
    } catch (error) {
      this.log.error(error instanceof Error ? error.message : String(error), error instanceof Error ? error.stack : undefined);
      this.fail('the connection could not be begun here');
    }
  }

  private async connectOnce(isLate: () => boolean): Promise<void> {
    this.become({ state: 'connecting', said: this.current.said, nextTryAt: null });
    let line: { address: string; key: string };
    let tunnel: IngestTunnel;
    try {
      line = await this.options.line();
      tunnel = await IngestTunnel.open(line.address, this.options.privateTargets);
    } catch (error) {
      if (isLate()) return;
      return this.fail(error instanceof Unreachable ? error.message : this.options.wordsOf(error));
    }
    if (isLate()) return tunnel.close();
    const process = new MediaProcess({
      name: `relay ${this.options.name}`,
      ffmpeg: this.options.ffmpeg,
      args: [...READ_FLV, '-c', 'copy', '-progress', 'pipe:1', '-f', 'flv'].concat([
        '-flvflags',
        'no_duration_filesize',
        '-fpre',
        SECRET_FILE,
        tunnel.nearAddress,
      ]),
      secret: rtmpSecret(line.address, line.key),
      onOutput: () => this.noteProgress(process),
      onGone: (lastWords) => {
        tunnel.close();
        if (this.process === process) this.fail(plainReason(lastWords));
      },
    });
    this.process = process;
    this.connectedAt = null;
    this.leave = this.options.programme.read((bytes) => {
      if (process.backlogBytes > STALLED_BACKLOG_BYTES && this.process === process) return this.fail('it stopped taking the picture');
      process.write(bytes);
    }, 'at once');
  }

  /** ffmpeg reports progress only once the far end has accepted the connection. */
  private noteProgress(process: MediaProcess): void {
    if (this.process !== process || this.current.state !== 'connecting') return;
    this.connectedAt = this.options.now();
    this.become({ state: 'sending', said: '', nextTryAt: null });
    this.options.onSending?.();
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
    this.retry = setTimeout(() => letGo('connecting', this.connect()), waitMs);
  }

  private become(state: RelayState): void {
    this.current = state;
    this.options.onChange();
  }
}

/** The far end's own words out of ffmpeg's, if there are any. */
export function farWords(lastWords: string): string | null {
  return /Server error: ([^[\]]+?)\.?(?: rtmps?:|$)/.exec(lastWords)?.[1]?.trim() ?? null;
}

/** Why a connection ended, in words that fit after "broke the connection:". */
export const plainReason = (lastWords: string): string => farWords(lastWords) ?? 'it hung up';
