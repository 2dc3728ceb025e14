// Who asked to be reminded of a show, and what they are told: when they confirm, a day and an hour before, at the
// start, and when the show is moved or will not take place. Always on the clock of their own zone.
import { RemovalService } from '../shows/removal.service';
import { DAY_MS, HOUR_MS, instant, MINUTE_MS, sayWhen, writeCalendar, type Instant } from '@lantern/core';
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomBytes, randomUUID } from 'node:crypto';
import { DataSource, In, IsNull, LessThan, Not } from 'typeorm';
import { Clock } from '../foundation/clock';
import { RegularWork } from '../foundation/regular-work';
import { digestOf } from '../foundation/digest';
import { addRow, changeRow, together } from '../foundation/together';
import { PlainError } from '../foundation/errors';
import type { Invitation } from '../invitations/invitation.entities';
import { InvitationsService } from '../invitations/invitations.service';
import { AiringsService } from '../shows/airings.service';
import type { Show } from '../shows/show.entities';
import { isCalledOff } from '../shows/show-facts';
import { AskingLimits } from './asking-limits';
import { MailLinks } from '../mail/mail-links';
import { OutboxService, type Letter } from '../mail/outbox.service';
import { Registration } from './reminder.entities';
import { breathe } from '../foundation/breathe';
import { ShowRows } from '../shows/show-rows';
import { AiringRows } from '../shows/airing-rows';

const EVERY_MS = 10_000;
/** How late a reminder may still be sent; later it would only puzzle. */
const STILL_OF_USE_MS = 20 * MINUTE_MS;
/** Unconfirmed addresses are forgotten after this. */
const FORGET_AFTER_MS = 2 * DAY_MS;
/** A sheet that has not been touched for so long is taken to be meant: nobody is written to while a host is typing. */
const SETTLED_AFTER_MS = 5 * MINUTE_MS;
const MOST_PER_SHOW = 20_000;
/** The start that somebody was last told where they were told that there is none. */
const CALLED_OFF = 0;
/** Letters that are written in one go: a few ms, since pictures pass here too. */
const AT_ONCE = 25;
/** Everybody who is told of a show. */
const LISTENERS = `SELECT 1 FROM registrations WHERE showId = shows.id AND confirmedAt IS NOT NULL
  UNION ALL SELECT 1 FROM invitations WHERE showId = shows.id AND answer <> 'declined' AND leftAt IS NULL`;
/** Whether anybody knows of another start than `start`. */
const knowOther = (start: string) =>
  `EXISTS (SELECT 1 FROM registrations WHERE showId = shows.id AND confirmedAt IS NOT NULL AND toldStart <> ${start}
    UNION ALL SELECT 1 FROM invitations WHERE showId = shows.id AND answer <> 'declined' AND leftAt IS NULL AND toldStart <> ${start})`;
/** Shows of which somebody is to be told something: twice a range of starts, what lies ahead, and since when a change is meant. */
const DUE = `state = 'onAir'
  OR (state = 'placed' AND (startsAt BETWEEN ? AND ? OR startsAt BETWEEN ? AND ?))
  OR (state = 'placed' AND startsAt > ? AND changedAt < ? AND ${knowOther('shows.startsAt')})
  OR ((state = 'withdrawn' OR (state = 'draft' AND placedAt IS NOT NULL)) AND ${knowOther(String(CALLED_OFF))})`;

@Injectable()
export class RemindersService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('reminders');
  private readonly work = new RegularWork('reminders', EVERY_MS, () => this.doAll());

  constructor(
    private readonly airingRows: AiringRows,
    private readonly showRows: ShowRows,
    private readonly database: DataSource,
    private readonly airings: AiringsService,
    private readonly outbox: OutboxService,
    private readonly asks: AskingLimits,
    private readonly invitations: InvitationsService,
    private readonly links: MailLinks,
    private readonly clock: Clock,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'registrations', where: 'showId = ?' });
  }

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  /** Takes an address and asks its owner by mail. Says the same whether it was known already or not. */
  async ask(show: Show, email: string, zone: string): Promise<void> {
    if (!show.reminders || show.state !== 'placed') throw new PlainError(409, 'This show sends no reminders. Save it in your calendar instead.');
    const registrations = this.database.getRepository(Registration);
    if ((await registrations.countBy({ showId: show.id })) >= MOST_PER_SHOW) throw new PlainError(409, 'No more reminders can be taken for this show.');
    const address = email.trim().toLowerCase();
    const known = await registrations.findOneBy({ showId: show.id, email: address });
    if (known?.confirmedAt) return;
    // Nobody is to be written to again and again because somebody types their address into a form.
    if (await this.asks.tooSoon(address, known?.askedAt ?? null)) return;
    const secret = randomBytes(18).toString('base64url');
    const fresh = {
      showId: show.id,
      email: address,
      zone,
      tokenHash: digestOf(secret),
      askedAt: this.clock.now(),
      confirmedAt: null,
      toldStart: show.startsAt,
      told: '',
    };
    if (known) await changeRow(this.database.manager, Registration, { id: known.id, confirmedAt: IsNull() }, fresh);
    else await addRow(this.database.manager, Registration, { id: randomUUID(), ...fresh });
    const { name } = await this.airings.station(show.stationId);
    const title = await this.airings.publicTitle(show);
    await this.outbox.post({
      stationId: show.stationId,
      to: address,
      subject: `Shall we remind you of ${oneLine(title)}?`,
      about: `ask ${secret}`,
      text: `${name} was asked to remind you of “${title}”, ${sayWhen(instant(show.startsAt), zone)}.\n\nIf that was you, confirm it here:\n${this.links.confirmUrl(secret)}\n\nIf it was not, do nothing: you will hear no more.\n`,
    });
  }

  /** Confirms by the secret of the first mail. Null: there is nothing for it. */
  async confirm(secret: string): Promise<Show | null> {
    const registration = await this.bySecret(secret);
    if (!registration) return null;
    const show = await this.showRows.mustBe(registration.showId);
    if (registration.confirmedAt === null) {
      const title = await this.airings.publicTitle(show);
      await this.database.getRepository(Registration).update({ id: registration.id }, { confirmedAt: this.clock.now() });
      await this.outbox.post({
        ...{ stationId: show.stationId, to: registration.email, leaveUrl: this.links.leaveUrl('reminders', registration.id) },
        subject: `You will be reminded of ${oneLine(title)}`,
        about: `confirmed ${registration.id}`,
        text: `“${title}” begins on ${sayWhen(instant(show.startsAt), registration.zone)}.\n${this.airings.houseUrl(show, 'mail')}\n\nYou hear from us a day and an hour before, and when it starts. The calendar file is for those who prefer that.\n${this.leaving(registration)}`,
        calendar: await this.calendarOf(show),
      });
    }
    return show;
  }

  /** Forgets somebody by the link of any mail that they had. Leaving twice does no harm. */
  async leave(secret: string): Promise<void> {
    const id = this.links.whoLeaves('reminders', secret);
    // The first mail's own secret leaves as well.
    await this.database.getRepository(Registration).delete(id === null ? { tokenHash: digestOf(secret) } : { id });
  }

  async counts(showId: string): Promise<{ asked: number; confirmed: number }> {
    const registrations = this.database.getRepository(Registration);
    return { asked: await registrations.countBy({ showId }), confirmed: await registrations.countBy({ showId, confirmedAt: Not(IsNull()) }) };
  }

  confirmed(showId: string): Promise<Registration[]> {
    return this.database.getRepository(Registration).find({ where: { showId, confirmedAt: Not(IsNull()) }, order: { confirmedAt: 'ASC' } });
  }

  /** Whoever asked to be reminded and was not invited as well, to be written to once more. */
  async thankable(show: Show): Promise<{ id: string; to: string; url: string; leaving: string; leaveUrl: string }[]> {
    const invited = new Set((await this.invitations.list(show.id)).map(({ email }) => email));
    return (await this.confirmed(show.id))
      .filter(({ email }) => !invited.has(email))
      .map((registration) => ({
        ...{ id: registration.id, to: registration.email, url: this.airings.houseUrl(show, 'mail'), leaving: this.leaving(registration) },
        leaveUrl: this.links.leaveUrl('reminders', registration.id),
      }));
  }

  /** The show alone as a calendar file. */
  async calendarOf(show: Show): Promise<string> {
    const { name } = await this.airings.station(show.stationId);
    const event = {
      ...{
        uid: `${show.id}@noble-lantern`,
        title: await this.airings.publicTitle(show),
        text: '',
        startsAt: instant(show.startsAt),
        lengthMs: show.lengthMs,
        zone: show.zone,
      },
      ...{ url: this.airings.houseUrl(show), sequence: show.version, changedAt: instant(show.changedAt), repeat: null, insteadOf: null },
      status: isCalledOff(show) ? ('CANCELLED' as const) : ('CONFIRMED' as const),
    };
    return writeCalendar(name, [event], this.clock.now());
  }

  tick(): Promise<void> {
    return this.work.now();
  }

  private async doAll(): Promise<void> {
    const now = this.clock.now();
    await this.database.getRepository(Registration).delete({ confirmedAt: IsNull(), askedAt: LessThan(now - FORGET_AFTER_MS) });
    const rows: { id: string }[] = await this.database.query(`SELECT id FROM shows WHERE (${DUE}) AND EXISTS (${LISTENERS})`, [
      ...[now - STILL_OF_USE_MS + HOUR_MS, now + HOUR_MS, now - STILL_OF_USE_MS + DAY_MS, now + DAY_MS],
      ...[now, now - SETTLED_AFTER_MS],
    ]);
    for (const { id } of rows) {
      const show = await this.showRows.byId(id);
      if (show) await this.remind(show, now).catch((error: unknown) => this.log.error(error instanceof Error ? error.message : String(error)));
    }
  }

  private async remind(show: Show, now: Instant): Promise<void> {
    if (show.state === 'placed' && now - show.changedAt > SETTLED_AFTER_MS) await this.tellMoved(show);
    const due = this.dueNow(show, now);
    if (!due) return;
    const title = await this.airings.publicTitle(show);
    const off = due.kind === 'off';
    const round = off ? ` ${await this.roundOf(show)}` : '';
    // Whoever asked after that moment knows already; whoever has not said that they come is told of changes alone. Placed anew, it has
    // another time for whoever was told that it has none.
    const [which, told] = off ? [`toldStart <> ${CALLED_OFF}`, { toldStart: CALLED_OFF }] : [`told <> '${due.kind}'`, { told: due.kind }];
    await this.tellEach(show, which, { comingAlone: !off, since: due.at }, told, (listener, when) => ({
      subject: due.subject({ title, when: '' }).replace(/\s+/g, ' '),
      text: due.text({ title, when, url: listener.url }) + listener.leaving,
      about: `${due.kind} ${listener.id}${round}`,
    }));
  }

  /**
   * Writes to each whom `which` leaves, a few at a time, with everything else in between; who was written to is noted together with the
   * letters, so that a server that is killed in the middle goes on where it was.
   */
  private async tellEach(
    show: Show,
    which: string,
    { comingAlone, since }: { comingAlone: boolean; since: number | null },
    told: { told?: string; toldStart?: number },
    letter: (listener: Listener, when: string) => Pick<Letter, 'subject' | 'text' | 'about' | 'calendar'>,
  ): Promise<void> {
    const until = since ?? this.clock.now();
    const whens = new Map<string, string>();
    const whenIn = (zone: string): string => {
      if (!whens.has(zone)) whens.set(zone, sayWhen(instant(show.startsAt), zone));
      return whens.get(zone)!;
    };
    const sources = [
      {
        next: () => this.invitations.notYetTold(show.id, { comingAlone, until, which }, AT_ONCE),
        note: (ids: string[]) => this.invitations.noteTold(ids, told),
      },
      { next: () => this.notYetTold(show.id, until, which), note: (ids: string[]) => this.noteTold(ids, told) },
    ];
    for (const { next, note } of sources) {
      for (;;) {
        const wrote = await together(this.database, async (entities) => {
          const rows = await next();
          if (!rows.length) return 0;
          const listeners = rows.map((row) => this.listener(show, row));
          await this.outbox.postAll(
            listeners.map((listener) => ({ ...letterTo(listener, show), ...letter(listener, whenIn(listener.zone)) })),
            entities,
          );
          await note(rows.map(({ id }) => id));
          return rows.length;
        });
        if (wrote < AT_ONCE) break;
        await breathe();
      }
    }
  }

  /** Whoever is invited as well hears of it by the invitation. */
  private notYetTold(showId: string, until: number, which: string): Promise<Registration[]> {
    const mine = `confirmedAt IS NOT NULL AND email NOT IN (SELECT email FROM invitations WHERE showId = registrations.showId AND answer <> 'declined' AND leftAt IS NULL)`;
    return this.database
      .getRepository(Registration)
      .createQueryBuilder('registrations')
      .where(`showId = :showId AND ${mine} AND confirmedAt <= :until AND ${which}`, { showId, until })
      .limit(AT_ONCE)
      .getMany();
  }

  private async noteTold(ids: string[], told: { told?: string; toldStart?: number }): Promise<void> {
    await this.database.getRepository(Registration).update({ id: In(ids) }, told);
  }

  /** What those who wait for a show are to be told at `now`; the outbox sees to it that nobody is told twice. */
  private dueNow(show: Show, now: Instant): Due | null {
    const { startsAt } = show;
    const within = (at: number) => now >= at && now < at + STILL_OF_USE_MS;
    if (show.state === 'onAir') {
      return { kind: `start`, at: null, subject: ({ title }) => `${title} is on now`, text: ({ title, url }) => `“${title}” has begun:\n${url}\n` };
    }
    if (isCalledOff(show)) {
      return {
        kind: 'off',
        at: null,
        subject: ({ title }) => `${title} will not take place`,
        text: ({ title, when }) => `“${title}”, planned for ${when}, will not take place.\n`,
      };
    }
    if (show.state !== 'placed') return null;
    const kind = (name: string) => `${name} ${startsAt}`;
    if (within(startsAt - HOUR_MS)) {
      return {
        kind: kind('hour'),
        at: startsAt - HOUR_MS,
        subject: ({ title }) => `${title} in an hour`,
        text: ({ title, when, url }) => `“${title}” begins on ${when}.\n${url}\n`,
      };
    }
    if (within(startsAt - DAY_MS)) {
      return {
        kind: kind('day'),
        at: startsAt - DAY_MS,
        subject: ({ title }) => `${title} tomorrow`,
        text: ({ title, when, url }) => `“${title}” begins on ${when}.\n${url}\n`,
      };
    }
    return null;
  }

  /** Tells those who know of another start that the show was moved. */
  private async tellMoved(show: Show): Promise<void> {
    const title = await this.airings.publicTitle(show);
    const round = await this.roundOf(show);
    const calendar = await this.calendarOf(show);
    await this.tellEach(
      show,
      `toldStart <> ${show.startsAt}`,
      { comingAlone: false, since: null },
      { toldStart: show.startsAt },
      ({ id, toldStart, url, leaving }, when) => {
        const afterAll = toldStart === CALLED_OFF;
        return {
          subject: `${oneLine(title)} ${afterAll ? 'takes place after all' : 'has another time'}`,
          about: `moved ${show.startsAt} ${id} ${round}`,
          text: `“${title}” ${afterAll ? 'takes place after all, and' : 'now'} begins on ${when}.\n${url}\n${leaving}`,
          calendar,
        };
      },
    );
  }

  /** How often a show was placed anew: what is said of one time is not what is said of the next, and is sent once for each. */
  private async roundOf({ id }: Show): Promise<number> {
    return this.airingRows.rounds(id);
  }

  private listener(show: Show, row: Registration | Invitation): Listener {
    const { id, email, toldStart } = row;
    if ('answer' in row) {
      const leaving = row.answer === 'accepted' ? `\nIf you cannot come after all, say so there.\n` : '';
      return { id, email, zone: show.zone, toldStart, url: this.invitations.linkOf(show, row), leaving, leaveUrl: null };
    }
    const leaveUrl = this.links.leaveUrl('reminders', id);
    return { id, email, zone: row.zone, toldStart, url: this.airings.houseUrl(show, 'mail'), leaving: this.leaving(row), leaveUrl };
  }

  private async bySecret(secret: string): Promise<Registration | null> {
    return this.database.getRepository(Registration).findOneBy({ tokenHash: digestOf(secret) });
  }

  private leaving(registration: Registration): string {
    return `\nTo hear no more of it: ${this.links.leaveUrl('reminders', registration.id)}\n`;
  }
}

/** Somebody who is told about a show. */
interface Listener {
  id: string;
  email: string;
  zone: string;
  /** The start that they were last told. */
  toldStart: number;
  url: string;
  /** How they hear no more, as the end of a mail. */
  leaving: string;
  leaveUrl: string | null;
}

const letterTo = ({ email, leaveUrl }: Listener, { stationId }: Show) => ({ stationId, to: email, ...(leaveUrl && { leaveUrl }) });

interface Due {
  kind: string;
  /** The moment it belongs to; null: whoever waits is told. */
  at: number | null;
  subject: (told: { title: string; when: string }) => string;
  text: (told: { title: string; when: string; url: string }) => string;
}

const oneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();
