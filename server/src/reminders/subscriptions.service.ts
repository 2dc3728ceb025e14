// Whoever wants to hear of every new show of a station: told when shows are placed, several of them in one mail.
import { DAY_MS, instant, MINUTE_MS, sayWhen } from '@lantern/core';
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomBytes, randomUUID } from 'node:crypto';
import { DataSource, In, IsNull, LessThan, Not } from 'typeorm';
import { Clock } from '../foundation/clock';
import { RegularWork } from '../foundation/regular-work';
import { digestOf } from '../foundation/digest';
import { addRow, changeRow, together } from '../foundation/together';
import { PlainError } from '../foundation/errors';
import type { Station } from '../people/people.entities';
import { AiringsService } from '../shows/airings.service';
import { AskingLimits } from './asking-limits';
import { MailLinks } from '../mail/mail-links';
import { OutboxService, type Letter } from '../mail/outbox.service';
import { Subscription } from './reminder.entities';
import { breathe } from '../foundation/breathe';
import { ShowRows } from '../shows/show-rows';

const EVERY_MS = 30_000;
const FORGET_AFTER_MS = 2 * DAY_MS;
/** Dates of a series are placed one after the other, and a host may withdraw what was a mistake. */
const GATHERED_FOR_MS = 5 * MINUTE_MS;
const MOST_PER_STATION = 20_000;
/** Letters that are written in one go. */
const AT_ONCE = 25;

@Injectable()
export class SubscriptionsService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('subscriptions');
  private readonly work = new RegularWork('subscriptions', EVERY_MS, () => this.doAll());

  constructor(
    private readonly showRows: ShowRows,
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
    const stations: { stationId: string; newest: number }[] = await this.database.query(
      `SELECT stationId, MAX(placedAt) AS newest FROM shows
       WHERE state = 'placed' AND houseVisibility = 'everyone' AND startsAt > ? AND placedAt <= ? GROUP BY stationId`,
      [now, until],
    );
    for (const { stationId, newest } of stations) {
      await this.tellStation(stationId, newest, until).catch((error: unknown) => this.log.error(error instanceof Error ? error.message : String(error)));
    }
  }

  /** Writes to those who have not heard of the newest show, a few at a time; what was told is noted together with the letters. */
  private async tellStation(stationId: string, newest: number, until: number): Promise<void> {
    const station = await this.airings.station(stationId);
    /** What is new since a moment: most have heard the same last, and live in the same zone. */
    const news = new Map<string, News>();
    for (;;) {
      const wrote = await together(this.database, async (entities) => {
        const where = { stationId, confirmedAt: Not(IsNull()), toldUntil: LessThan(newest) };
        const subscribers = await entities.find(Subscription, { where, take: AT_ONCE });
        const letters: Letter[] = [];
        for (const { id, email, zone, toldUntil } of subscribers) {
          const key = `${toldUntil} ${zone}`;
          let its = news.get(key);
          if (!its) news.set(key, (its = await this.newSince(station, toldUntil, until, zone)));
          if (!its.shows) continue;
          const leaveUrl = this.links.leaveUrl('new shows', id);
          letters.push({
            ...{ stationId, to: email, leaveUrl, subject: its.subject, about: `new ${its.shows} ${id}` },
            text: `${its.text}\nTo hear no more of new shows: ${leaveUrl}\n`,
          });
        }
        if (letters.length) await this.outbox.postAll(letters, entities);
        if (subscribers.length) await entities.update(Subscription, { id: In(subscribers.map(({ id }) => id)) }, { toldUntil: until });
        return subscribers.length;
      });
      if (wrote < AT_ONCE) return;
      await breathe();
    }
  }

  private async newSince(station: Station, since: number, until: number, zone: string): Promise<News> {
    const shows = await this.showRows.placedBetween(station.id, since, until, this.clock.now(), 30);
    const titles = await Promise.all(shows.map((show) => this.airings.publicTitle(show)));
    const lines = shows.map((show, at) => `${titles[at]}\n${sayWhen(instant(show.startsAt), zone)}\n${this.airings.houseUrl(show, 'mail')}\n`);
    const subject = shows.length === 1 ? `New at ${station.name}: ${titles[0]}`.replace(/\s+/g, ' ') : `${shows.length} new shows at ${station.name}`;
    return { shows: shows.map(({ id }) => id).join(), subject, text: lines.join('\n') };
  }
}

interface News {
  /** Their identifiers; empty: there are none. */
  shows: string;
  subject: string;
  text: string;
}
