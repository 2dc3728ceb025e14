// The air process's side of the wire: it listens where the planning server connects, and asks it what only that knows.
import type { AirView } from '@lantern/contract';
import type { OutsideFacts } from '@lantern/core';
import { Logger } from '@nestjs/common';
import { chmodSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:net';
import { Wire, WireTrouble, type Hear } from '../air-wire/wire';
import type { CardQuestion, CarriedState, GuestAnswered, GuestsHere, LineAnswer, OutsideOwner, RestingTake, StagesOpen, Who } from '../air-wire/messages';

/** What comes on one outside line. */
interface Arriving {
  lineId: string;
  facts: OutsideFacts;
  normalised: boolean;
}

export class Desk {
  private readonly log = new Logger('desk');
  private server: Server | null = null;
  private wire: Wire | null = null;

  constructor(private readonly path: string) {}

  /** `hear` answers what the planning server orders; `came`: it has (again) connected. */
  listen(hear: Hear, came: () => void): Promise<void> {
    // What a killed process left; a living one is found out by whoever connects.
    rmSync(this.path, { force: true });
    this.server = createServer((socket) => {
      // One planning server: the newest, since an older one may hang without being gone.
      this.wire?.close();
      const wire = new Wire(socket, hear, () => {
        if (this.wire === wire) this.wire = null;
        this.log.warn('the planning server is gone; what is on air stays on air');
      });
      this.wire = wire;
      came();
    });
    return new Promise((done, failed) =>
      this.server!.once('error', failed).listen(this.path, () => {
        chmodSync(this.path, 0o600);
        done();
      }),
    );
  }

  get connected(): boolean {
    return this.wire !== null;
  }

  close(): void {
    this.wire?.close();
    this.server?.close();
  }

  /** Null: nobody is signed in there, or there is no such show at their station. */
  who(token: string, showId: string): Promise<Who | null> {
    return this.ask('who', { token, showId });
  }

  /** Null: this pass opens nothing there. */
  guest(pass: string, showId: string): Promise<GuestAnswered | null> {
    return this.ask('guest', { pass, showId });
  }

  tellGuests(here: GuestsHere): void {
    this.wire?.tell('guests here', here);
  }

  line(showId: string, airingId: string): Promise<LineAnswer> {
    return this.ask('line', { showId, airingId }, 15_000);
  }

  view(showId: string): Promise<AirView> {
    return this.ask('view', { showId });
  }

  restingTake(take: RestingTake): Promise<unknown> {
    return this.ask('resting take', take);
  }

  /** Has the card made anew with another time on it; it comes as an order, once it is there. */
  wantCard(question: CardQuestion): void {
    this.wire?.tell('want card', question);
  }

  /** Null: this key is nobody's. */
  outsideOwner(key: string): Promise<OutsideOwner | null> {
    return this.ask('outside owner', { key });
  }

  tellArriving(lines: readonly Arriving[]): void {
    this.wire?.tell('arriving', { lines: lines.map(({ lineId, facts, normalised }) => ({ lineId, facts, normalised })) });
  }

  tellState(state: CarriedState): void {
    this.wire?.tell('state', state);
  }

  tellStages(open: StagesOpen): void {
    this.wire?.tell('stages', open);
  }

  private ask<Answer>(name: string, body: object, mayTakeMs?: number): Promise<Answer> {
    return this.wire ? this.wire.ask<Answer>(name, body, mayTakeMs) : Promise.reject(new WireTrouble('The planning server is not there at this moment.'));
  }
}
