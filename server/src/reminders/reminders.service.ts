// Who asked to be reminded of a show, and what they are told: when they confirm, a day and an hour before, at the
// start, and when the show is moved or will not take place. Always on the clock of their own zone.
import { DAY_MS, HOUR_MS, instant, MINUTE_MS, sayWhen, writeCalendar, type Instant } from '@lantern/core';
import { Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomBytes, randomUUID } from 'node:crypto';
import { DataSource, In, IsNull, LessThan, Not } from 'typeorm';
import { Clock } from '../foundation/clock';
import { RegularWork } from '../foundation/regular-work';
import { digestOf } from '../foundation/digest';
import { addRow, changeRow } from '../foundation/together';
import { PlainError } from '../foundation/errors';
import { Invitation } from '../invitations/invitation.entities';
import { InvitationsService } from '../invitations/invitations.service';
import { AiringsService } from '../shows/airings.service';
import { Airing, isCalledOff, Show } from '../shows/show.entities';
import { AskingLimits } from './asking-limits';
import { MailLinks } from './mail-links';
import { OutboxService } from './outbox.service';
import { Registration } from './reminder.entities';

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

@Injectable()
export class RemindersService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('reminders', EVERY_MS, () => this.doAll());

  constructor(
    private readonly database: DataSource,
    private readonly airings: AiringsService,
    private readonly outbox: OutboxService,
    private readonly asks: AskingLimits,
    private readonly invitations: InvitationsService,
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
    const show = await this.database.getRepository(Show).findOneByOrFail({ id: registration.showId });
    if (registration.confirmedAt === null) {
      const title = await this.airings.publicTitle(show);
      await this.database.getRepository(Registration).update({ id: registration.id }, { confirmedAt: this.clock.now() });
      await this.outbox.post({
        ...{ stationId: show.stationId, to: registration.email, leaveUrl: this.links.leaveUrl('reminders', registration.id) },
        subject: `You will be reminded of ${oneLine(title)}`,
        about: `confirmed ${registration.id}`,
        text: `“${title}” begins on ${sayWhen(instant(show.startsAt), registration.zone)}.\n${this.airings.houseUrl(show)}\n\nYou hear from us a day and an hour before, and when it starts. The calendar file is for those who prefer that.\n${this.leaving(registration)}`,
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
    const rows: { showId: string }[] = await this.database.query(
      `SELECT showId FROM registrations WHERE confirmedAt IS NOT NULL UNION SELECT showId FROM invitations WHERE answer <> 'declined'`,
    );
    const shows = await this.database.getRepository(Show).findBy({ id: In(rows.map(({ showId }) => showId)) });
    for (const show of shows) await this.remind(show, now);
  }

  private async remind(show: Show, now: Instant): Promise<void> {
    if (show.state === 'placed' && now - show.changedAt > SETTLED_AFTER_MS) await this.tellMoved(show);
    const due = this.dueNow(show, now);
    if (!due) return;
    const title = await this.airings.publicTitle(show);
    const round = due.kind === 'off' ? ` ${await this.roundOf(show)}` : '';
    for (const listener of await this.listeners(show)) {
      // Whoever asked after that moment knows already; whoever has not said that they come is told of changes alone.
      if (due.at !== null && listener.since > due.at) continue;
      if (due.kind === 'off' ? listener.toldStart === CALLED_OFF : !listener.comes) continue;
      const told = { when: sayWhen(instant(show.startsAt), listener.zone), url: listener.url, title };
      await this.outbox.post({
        ...letterTo(listener, show),
        subject: due.subject(told).replace(/\s+/g, ' '),
        text: due.text(told) + listener.leaving,
        about: `${due.kind} ${listener.id}${round}`,
      });
      // Placed anew, it has another time for whoever was told that it has none.
      if (due.kind === 'off')
        await this.database.getRepository<Registration | Invitation>(listener.from).update({ id: listener.id }, { toldStart: CALLED_OFF });
    }
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
    for (const listener of await this.listeners(show)) {
      if (listener.toldStart === show.startsAt) continue;
      const afterAll = listener.toldStart === CALLED_OFF;
      await this.outbox.post({
        ...letterTo(listener, show),
        subject: `${oneLine(title)} ${afterAll ? 'takes place after all' : 'has another time'}`,
        about: `moved ${show.startsAt} ${listener.id} ${round}`,
        text: `“${title}” ${afterAll ? 'takes place after all, and' : 'now'} begins on ${sayWhen(instant(show.startsAt), listener.zone)}.\n${listener.url}\n${listener.leaving}`,
        calendar: await this.calendarOf(show),
      });
      await this.database.getRepository<Registration | Invitation>(listener.from).update({ id: listener.id }, { toldStart: show.startsAt });
    }
  }

  /** How often a show was placed anew: what is said of one time is not what is said of the next, and is sent once for each. */
  private async roundOf({ id }: Show): Promise<number> {
    return (await this.database.getRepository(Airing).sum('round', { showId: id })) ?? 0;
  }

  /** All who are told about a show: whoever asked for it, and whoever was invited and did not decline. Nobody twice. */
  private async listeners(show: Show): Promise<Listener[]> {
    const invitations = await this.database.getRepository(Invitation).findBy({ showId: show.id, answer: Not('declined') });
    const invited = new Set(invitations.map(({ email }) => email));
    const registered = (await this.confirmed(show.id)).filter(({ email }) => !invited.has(email));
    return [
      ...invitations.map((invitation): Listener => {
        const { id, email, invitedAt, toldStart, answer } = invitation;
        const url = this.invitations.linkOf(show, invitation);
        const leaving = answer === 'accepted' ? `\nIf you cannot come after all, say so there.\n` : '';
        return { from: Invitation, id, email, zone: show.zone, since: invitedAt, toldStart, comes: answer === 'accepted', url, leaving, leaveUrl: null };
      }),
      ...registered.map((registration): Listener => {
        const { id, email, zone, confirmedAt, toldStart } = registration;
        const leaving = this.leaving(registration);
        return {
          ...{ from: Registration, id, email, zone, since: confirmedAt!, toldStart, comes: true },
          ...{ url: this.airings.houseUrl(show), leaving, leaveUrl: this.links.leaveUrl('reminders', registration.id) },
        };
      }),
    ];
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
  from: typeof Registration | typeof Invitation;
  id: string;
  email: string;
  zone: string;
  since: number;
  /** The start that they were last told. */
  toldStart: number;
  /** Whether they are reminded, and not only told of changes. */
  comes: boolean;
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
