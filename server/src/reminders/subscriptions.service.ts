// Whoever wants to hear of every new show of a station: told when shows are placed, several of them in one mail.
import { DAY_MS, instant, MINUTE_MS, sayWhen } from '@lantern/core';
import { Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomBytes, randomUUID } from 'node:crypto';
import { Between, DataSource, IsNull, LessThan, MoreThan, Not } from 'typeorm';
import { Clock } from '../foundation/clock';
import { RegularWork } from '../foundation/regular-work';
import { digestOf } from '../foundation/digest';
import { addRow, changeRow } from '../foundation/together';
import { PlainError } from '../foundation/errors';
import type { Station } from '../people/people.entities';
import { AiringsService } from '../shows/airings.service';
import { Show } from '../shows/show.entities';
import { AskingLimits } from './asking-limits';
import { MailLinks } from './mail-links';
import { OutboxService } from './outbox.service';
import { Subscription } from './reminder.entities';

const EVERY_MS = 30_000;
const FORGET_AFTER_MS = 2 * DAY_MS;
/** Dates of a series are placed one after the other, and a host may withdraw what was a mistake. */
const GATHERED_FOR_MS = 5 * MINUTE_MS;
const MOST_PER_STATION = 20_000;

@Injectable()
export class SubscriptionsService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('subscriptions', EVERY_MS, () => this.doAll());

  constructor(
    private readonly database: DataSource,
    private readonly airings: AiringsService,
    private readonly outbox: OutboxService,
    private readonly asks: AskingLimits,
    private readonly links: MailLinks,
    private readonly clock: Clock,
  ) {}

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  /** Takes an address and asks its owner by mail. Says the same whether it was known already or not. */
  async ask(station: Station, email: string): Promise<void> {
    const subscriptions = this.database.getRepository(Subscription);
    if ((await subscriptions.countBy({ stationId: station.id })) >= MOST_PER_STATION)
      throw new PlainError(409, 'No more addresses can be taken. Use the feed instead.');
    const address = email.trim().toLowerCase();
    const known = await subscriptions.findOneBy({ stationId: station.id, email: address });
    if (known?.confirmedAt) return;
    // Nobody is to be written to again and again because somebody types their address into a form.
    if (await this.asks.tooSoon(address, known?.askedAt ?? null)) return;
    const secret = randomBytes(18).toString('base64url');
    const now = this.clock.now();
    const fresh = { stationId: station.id, email: address, zone: station.zone, tokenHash: digestOf(secret), askedAt: now, confirmedAt: null, toldUntil: now };
    if (known) await changeRow(this.database.manager, Subscription, { id: known.id, confirmedAt: IsNull() }, fresh);
    else await addRow(this.database.manager, Subscription, { id: randomUUID(), ...fresh });
    await this.outbox.post({
      stationId: station.id,
      to: address,
      subject: `Shall we tell you of new shows of ${station.name}?`,
      about: `subscribe ${secret}`,
      text: `Somebody asked to hear of new shows of ${station.name}.\n\nIf that was you, confirm it here:\n${this.links.confirmUrl(secret)}\n\nIf it was not, do nothing: you will hear no more.\n`,
    });
  }

  /** Confirms by the secret of the first mail. False: there is nothing for it. */
  async confirm(secret: string): Promise<boolean> {
    const subscriptions = this.database.getRepository(Subscription);
    const found = await subscriptions.findOneBy({ tokenHash: digestOf(secret) });
    if (found && found.confirmedAt === null) await subscriptions.update({ id: found.id }, { confirmedAt: this.clock.now(), toldUntil: this.clock.now() });
    return found !== null;
  }

  /** Forgets somebody by the link of any mail that they had. */
  async leave(secret: string): Promise<void> {
    const id = this.links.whoLeaves('new shows', secret);
    if (id !== null) await this.database.getRepository(Subscription).delete({ id });
  }

  count(stationId: string): Promise<number> {
    return this.database.getRepository(Subscription).countBy({ stationId, confirmedAt: Not(IsNull()) });
  }

  tick(): Promise<void> {
    return this.work.now();
  }

  private async doAll(): Promise<void> {
    const now = this.clock.now();
    const subscriptions = this.database.getRepository(Subscription);
    await subscriptions.delete({ confirmedAt: IsNull(), askedAt: LessThan(now - FORGET_AFTER_MS) });
    const until = now - GATHERED_FOR_MS;
    for (const subscription of await subscriptions.findBy({ confirmedAt: Not(IsNull()), toldUntil: LessThan(until) })) await this.tell(subscription, until);
  }

  private async tell(subscription: Subscription, until: number): Promise<void> {
    const { id, stationId, email, zone, toldUntil } = subscription;
    const where = {
      stationId,
      state: 'placed' as const,
      houseVisibility: 'everyone' as const,
      placedAt: Between(toldUntil + 1, until),
      startsAt: MoreThan(this.clock.now()),
    };
    const shows = await this.database.getRepository(Show).find({ where, order: { startsAt: 'ASC' }, take: 30 });
    if (shows.length) {
      const station = await this.airings.station(stationId);
      const lines = await Promise.all(
        shows.map(async (show) => `${await this.airings.publicTitle(show)}\n${sayWhen(instant(show.startsAt), zone)}\n${this.airings.houseUrl(show)}\n`),
      );
      const leaveUrl = this.links.leaveUrl('new shows', id);
      const [first] = shows as [Show];
      await this.outbox.post({
        ...{ stationId, to: email, leaveUrl },
        subject:
          shows.length === 1
            ? `New at ${station.name}: ${await this.airings.publicTitle(first)}`.replace(/\s+/g, ' ')
            : `${shows.length} new shows at ${station.name}`,
        about: `new ${shows.map((show) => show.id).join()} ${id}`,
        text: `${lines.join('\n')}\nTo hear no more of new shows: ${leaveUrl}\n`,
      });
    }
    await this.database.getRepository(Subscription).update({ id }, { toldUntil: until });
  }
}
