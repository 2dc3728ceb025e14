// The planning server's side of the wire: connects to the air process, again and again, orders, and answers what it is asked.
import { NOT_CARRIED } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { connect } from 'node:net';
import { BehaviorSubject } from 'rxjs';
import type { CarriedState, CarryOrder, GuestNow, RelayOrder, WhenOutAnswer } from '../air-wire/messages';
import { Wire, WireTrouble, type Hear } from '../air-wire/wire';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import type { BreakCard } from './break-cards';

const FIRST_AGAIN_MS = 100;
const LONGEST_AGAIN_MS = 1_000;
/** Finishing files takes its time. */
const RELEASE_MAY_TAKE_MS = 45_000;
/** Pictures are read for it. */
const LOOKING_MAY_TAKE_MS = 20_000;

@Injectable()
export class AirLink implements OnApplicationShutdown {
  private readonly log = new Logger('air');
  private wire: Wire | null = null;
  private timer: NodeJS.Timeout | null = null;
  private failures = 0;
  private stopped = false;
  private hear: Hear = () => undefined;
  /** Whether the air process is there. */
  readonly connected = new BehaviorSubject(false);

  constructor(@Inject(SETTINGS) private readonly settings: Settings) {}

  /** Connects from now on. `hear` answers what the air process asks and tells. */
  open(hear: Hear): void {
    this.hear = hear;
    this.connect();
  }

  onApplicationShutdown(): void {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
    this.wire?.close();
  }

  /** Throws, in words, where there is nobody who could carry a show. */
  demand(): void {
    if (!this.wire) throw new PlainError(503, NOT_CARRIED);
  }

  held(): Promise<CarriedState[]> {
    return this.ask('held', {});
  }

  carry(order: CarryOrder): Promise<CarriedState> {
    return this.ask('carry', order);
  }

  /** Resolves once all that was received is on the disk. */
  release(showId: string): Promise<unknown> {
    return this.ask('release', { showId }, RELEASE_MAY_TAKE_MS);
  }

  relay(order: RelayOrder): Promise<unknown> {
    return this.ask('relay', order);
  }

  card(showId: string, card: BreakCard): Promise<unknown> {
    return this.ask('card', { showId, ...card });
  }

  /** When small pictures of a show went out, in ms since the epoch of this machine's clock. */
  async whenOut(showId: string, pictures: readonly Uint8Array[]): Promise<(number | null)[]> {
    const { at } = await this.ask<WhenOutAnswer>(
      'when out',
      { showId, pictures: pictures.map((each) => Buffer.from(each).toString('base64')) },
      LOOKING_MAY_TAKE_MS,
    );
    return at;
  }

  /** What is known of a show has changed: its stages are told at once, and not at their next beat. */
  look(showId: string): Promise<unknown> {
    return this.ask('look', { showId });
  }

  lineClosed(lineId: string): Promise<unknown> {
    return this.ask('line closed', { lineId });
  }

  guest(now: GuestNow): Promise<unknown> {
    return this.ask('guest', now);
  }

  sessionEnded(session: string): Promise<unknown> {
    return this.ask('session ended', { session });
  }

  private ask<Answer>(name: string, body: object, mayTakeMs?: number): Promise<Answer> {
    return this.wire ? this.wire.ask<Answer>(name, body, mayTakeMs) : Promise.reject(new WireTrouble('The air process is not there at this moment.'));
  }

  private connect(): void {
    if (this.stopped) return;
    const socket = connect(this.settings.airSocket);
    socket.once('error', () => this.again());
    socket.once('connect', () => {
      socket.removeAllListeners('error');
      this.failures = 0;
      const wire = new Wire(
        socket,
        (name, body) => this.hear(name, body),
        () => {
          if (this.wire !== wire) return;
          this.wire = null;
          if (!this.stopped) this.log.warn('the air process is gone');
          this.connected.next(false);
          this.again();
        },
      );
      this.wire = wire;
      this.connected.next(true);
    });
  }

  private again(): void {
    if (this.stopped) return;
    this.timer = setTimeout(() => this.connect(), Math.min(LONGEST_AGAIN_MS, FIRST_AGAIN_MS * 2 ** this.failures++));
  }
}
