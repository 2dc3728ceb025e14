// Carries the shows that are on air, as the planning server orders.
import type { FlvTag, HandOver, HandOverEnd } from '@lantern/core';
import { Logger } from '@nestjs/common';
import { performance } from 'node:perf_hooks';
import {
  CardOrder,
  CarryOrder,
  checkedAs,
  WhenOutQuestion,
  type WhenOutAnswer,
  LineClosed,
  RelayOrder,
  SessionEnded,
  GuestNow,
  ShowNamed,
  type LineHad,
} from '../air-wire/messages';
import { WireTrouble } from '../air-wire/wire';
import { Clock } from '../foundation/clock';
import type { Settings } from '../foundation/settings';
import type { Desk } from './desk';
import type { OutsideFeed, OutsideLines } from './outside-lines';
import { Transmission } from './transmission';

const TELL_EVERY_MS = 1_000;
/** Changes within so long are told together. */
const TELL_SOON_MS = 40;

export interface CarrierListener {
  /** How a show stands has changed. */
  changed(showId: string): void;
  stretchBroke(showId: string): void;
  /** The stage has been handed over (null), or has not, and why. */
  handedOver(showId: string, handOver: HandOver, ended: HandOverEnd | null): void;
  sessionEnded(session: string): void;
  /** A guest goes by another name, or their pass is good no more. */
  guest(now: GuestNow): void;
  /** A show has begun to be carried: stages that are open already may have to do with it. */
  begun(showId: string): void;
  ended(showId: string): void;
  /** One tag of an outside line, for the stages on which it stands. */
  lineSeen(feed: OutsideFeed, tag: FlvTag): void;
  /** Something is known of a show that its stages are to be told now. */
  look(showId: string): void;
  /** Whether an outside line stands on a stage that is open. */
  lineStands(lineId: string): boolean;
}

export class Carrier {
  private readonly log = new Logger('carrier');
  private readonly shows = new Map<string, Transmission>();
  private readonly lines = new Map<string, LineHad>();
  private readonly soon = new Set<string>();
  private readonly timer: NodeJS.Timeout;
  listener: CarrierListener | null = null;

  constructor(
    private readonly settings: Settings,
    private readonly desk: Desk,
    private readonly clock: Clock,
    readonly outside: OutsideLines,
  ) {
    outside.listener = {
      tag: (feed, tag) => {
        for (const show of this.shows.values()) if (show.stationId === feed.stationId) show.hearOutside(feed, tag);
      },
      gone: (feed) => {
        for (const show of this.shows.values()) show.outsideGone(feed);
      },
      seen: (feed, tag) => this.listener?.lineSeen(feed, tag),
      wanted: (lineId, unread) => this.carried.some((show) => show.wants(lineId)) || (unread && this.listener?.lineStands(lineId) === true),
    };
    this.timer = setInterval(() => {
      for (const show of this.shows.values()) this.desk.tellState(show.state());
    }, TELL_EVERY_MS);
  }

  show(showId: string): Transmission | null {
    return this.shows.get(showId) ?? null;
  }

  /** Where the picture of a house page lies that is for everybody; null: there is none. */
  openFolder(slug: string): string | null {
    return this.carried.find((show) => show.slug === slug && show.open)?.liveFolder ?? null;
  }

  get carried(): Transmission[] {
    return [...this.shows.values()];
  }

  /** Obeys one order of the planning server. Throws where it is not as agreed. */
  async obey(name: string, body: unknown): Promise<unknown> {
    switch (name) {
      case 'held':
        return this.carried.map((show) => show.state());
      case 'carry': {
        const order = checkedAs(CarryOrder, body);
        if (!this.shows.has(order.showId)) {
          this.shows.set(order.showId, this.begin(order));
          this.listener?.begun(order.showId);
        }
        const show = this.shows.get(order.showId)!;
        show.open = order.open;
        return show.state();
      }
      case 'release': {
        const { showId } = checkedAs(ShowNamed, body);
        const show = this.shows.get(showId);
        this.shows.delete(showId);
        for (const key of this.lines.keys()) if (key.startsWith(showId)) this.lines.delete(key);
        this.listener?.ended(showId);
        await show?.close();
        return {};
      }
      case 'relay': {
        const { showId, airingId, to, why } = checkedAs(RelayOrder, body);
        await this.shows.get(showId)?.relay(airingId, to, why);
        return {};
      }
      case 'card': {
        const { showId, cardPath, musicPath } = checkedAs(CardOrder, body);
        await this.shows.get(showId)?.useCard(cardPath, musicPath ?? null);
        return {};
      }
      case 'when out': {
        const { showId, pictures } = checkedAs(WhenOutQuestion, body);
        const outgoing = this.shows.get(showId)?.outgoing;
        const at = (await outgoing?.whenOut(pictures.map((picture) => Buffer.from(picture, 'base64')))) ?? pictures.map(() => null);
        return { at } satisfies WhenOutAnswer;
      }
      case 'look':
        this.listener?.look(checkedAs(ShowNamed, body).showId);
        return {};
      case 'line closed':
        this.outside.closeLine(checkedAs(LineClosed, body).lineId);
        return {};
      case 'guest':
        this.listener?.guest(checkedAs(GuestNow, body));
        return {};
      case 'session ended':
        this.listener?.sessionEnded(checkedAs(SessionEnded, body).session);
        return {};
      default:
        throw new Error(`No such order: ${name.slice(0, 40)}`);
    }
  }

  async close(): Promise<void> {
    clearInterval(this.timer);
    await Promise.all(this.carried.map((show) => show.close()));
  }

  private begin(order: CarryOrder): Transmission {
    this.log.log(`carries ${order.showId}`);
    return new Transmission(order, {
      settings: this.settings,
      now: () => this.clock.now(),
      steadyNow: () => performance.now(),
      line: (showId, airingId) => this.line(showId, airingId),
      changed: (showId) => this.changed(showId),
      stretchBroke: (showId) => this.listener?.stretchBroke(showId),
      handedOver: (showId, handOver, ended) => this.listener?.handedOver(showId, handOver, ended),
    });
  }

  /** Asked at each attempt, since a network may have issued a new key; while nobody can be asked, the last one is good. */
  private async line(showId: string, airingId: string): Promise<LineHad> {
    const known = `${showId} ${airingId}`;
    try {
      const answer = await this.desk.line(showId, airingId);
      if ('words' in answer) throw new Error(answer.words);
      this.lines.set(known, answer);
      return answer;
    } catch (error) {
      const last = this.lines.get(known);
      if (error instanceof WireTrouble && last) return last;
      throw error instanceof WireTrouble ? new Error('its line could not be asked for') : error;
    }
  }

  private changed(showId: string): void {
    if (this.soon.has(showId)) return;
    this.soon.add(showId);
    setTimeout(() => {
      this.soon.delete(showId);
      const show = this.shows.get(showId);
      if (!show) return;
      this.desk.tellState(show.state());
      this.listener?.changed(showId);
    }, TELL_SOON_MS);
  }
}
