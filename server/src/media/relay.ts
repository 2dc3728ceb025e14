// Sends the programme of one airing to its channel: own process, own restart with back-off. What
// happens here never reaches another airing.
import { backoffMs, hasRoom, renditionFor, type Instant, type RelayState, type Rendition, type Takes } from '@lantern/core';
import { Logger } from '@nestjs/common';
import { availableParallelism, loadavg } from 'node:os';
import { letGo } from '../foundation/let-go';
import { IngestTunnel, Unreachable } from './ingest-tunnel';
import { MediaProcess, READ_FLV, rtmpSecret, SECRET_FILE } from './media-process';
import type { Programme } from './programme';

/** More than this waiting to be taken (about ten seconds of picture), and the far end has stalled. */
const STALLED_BACKLOG_BYTES = 4_000_000;
/** A connection that held this long starts its back-off anew. */
const STEADY_MS = 20_000;

const COST_EVERY_MS = 10_000;

const roomHere = (): boolean => hasRoom(loadavg()[0]!, availableParallelism());

/** A key frame every two seconds is as often as any network asks for one. The sound stays as it is. */
function smaller({ height, kbps }: Rendition): string[] {
  const rate = ['-b:v', `${kbps}k`, '-maxrate', `${kbps}k`, '-bufsize', `${kbps}k`, '-force_key_frames', 'expr:gte(t,n_forced*2)', '-sc_threshold', '0'];
  const picture = ['-vf', `scale=-2:${height}`, '-c:v', 'libx264', '-preset', 'veryfast', '-tune', 'zerolatency', '-profile:v', 'main'];
  return [...picture, '-pix_fmt', 'yuv420p', '-bf', '0', '-threads', '1', ...rate, '-c:a', 'copy', '-flush_packets', '1'];
}

export interface RelayOptions {
  name: string;
  ffmpeg: string;
  programme: Programme;
  privateTargets: boolean;
  /** Asked at each attempt, since a network may have issued a new key meanwhile. */
  line: () => Promise<{ address: string; key: string; takes?: Takes | null }>;
  /** What goes out at the most. */
  goesOut?: () => Rendition;
  /** Whether the machine has room to make something smaller for a channel. */
  room?: () => boolean;
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
  /** This machine could not make the picture smaller in time. */
  private tooMuch = false;
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
    let line: Awaited<ReturnType<RelayOptions['line']>>;
    let tunnel: IngestTunnel;
    try {
      line = await this.options.line();
      tunnel = await IngestTunnel.open(line.address, this.options.privateTargets);
    } catch (error) {
      if (isLate()) return;
      return this.fail(error instanceof Unreachable ? error.message : this.options.wordsOf(error));
    }
    if (isLate()) return tunnel.close();
    const wanted = this.options.goesOut ? renditionFor(this.options.goesOut(), line.takes ?? null) : null;
    const made = wanted && !this.tooMuch && (this.options.room ?? roomHere)() ? wanted : null;
    this.become({ ...this.current, rendition: made ? { ...made, share: null } : wanted && 'no room' });
    const process = new MediaProcess({
      name: `relay ${this.options.name}`,
      ffmpeg: this.options.ffmpeg,
      args: [...READ_FLV, ...(made ? smaller(made) : ['-c', 'copy']), '-progress', 'pipe:1', '-f', 'flv'].concat([
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
      if (process.backlogBytes > STALLED_BACKLOG_BYTES && this.process === process) {
        // It may be this machine that does not keep up: from now on the picture goes there as it is.
        if (made) this.tooMuch = true;
        return this.fail(made ? 'this machine could not make it small enough in time' : 'it stopped taking the picture');
      }
      process.write(bytes);
    }, 'at once');
    if (made) this.watchCost(process);
  }

  /** What making it smaller costs, measured while it is made. */
  private watchCost(process: MediaProcess): void {
    const timer = setInterval(() => {
      const { rendition } = this.current;
      if (this.process !== process || !rendition || rendition === 'no room') return clearInterval(timer);
      const share = process.coreShare();
      if (share !== null) this.become({ ...this.current, rendition: { ...rendition, share } });
    }, COST_EVERY_MS);
    timer.unref();
  }

  /** ffmpeg reports progress only once the far end has accepted the connection. */
  private noteProgress(process: MediaProcess): void {
    if (this.process !== process || this.current.state !== 'connecting') return;
    this.connectedAt = this.options.now();
    this.become({ ...this.current, state: 'sending', said: '', nextTryAt: null });
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
