// Who is asked to be in a show: each with a pass for that date alone, by mail or by hand, who hears of it when the show is moved.
import type { AnswerChange, DoorView, GuestInvite, GuestPassLink, GuestView, OwnSoundConsent, StrapChange, TriedOut } from '@lantern/contract';
import {
  COME_EARLY_MS,
  HOUR_MS,
  instant,
  MINUTE_MS,
  sayWhen,
  scenesOfShow,
  shows,
  standingOf,
  writeCalendar,
  type LookChoices,
  type Scene,
} from '@lantern/core';
import { Inject, Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { DataSource, EntityManager, In } from 'typeorm';
import { channelInFull } from '../channels/access.service';
import { ChannelRows } from '../channels/channel-rows';
import { ContactsService } from '../contacts/contacts.service';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { digestOf } from '../foundation/digest';
import { PlainError } from '../foundation/errors';
import { RegularWork } from '../foundation/regular-work';
import { SETTINGS, type Settings } from '../foundation/settings';
import { addRow, changeRow, together } from '../foundation/together';
import { Vault } from '../foundation/vault';
import { LooksService } from '../artwork/looks.service';
import { OutboxService, type Letter } from '../mail/outbox.service';
import { takesIn } from '../media/own-sound-files';
import { recordingFolder } from '../media/stretch';
import { AuditService } from '../people/audit.service';
import type { Person, Station } from '../people/people.entities';
import { PeopleService } from '../people/people.service';
import { ScenesService } from '../scenes/scenes.service';
import { AiringRows } from '../shows/airing-rows';
import { RemovalService } from '../shows/removal.service';
import type { Show } from '../shows/show.entities';
import { isCalledOff } from '../shows/show-facts';
import { ShowRows } from '../shows/show-rows';
import { Guest } from './guest.entities';
import { SpeakersService } from './speakers.service';

const MOST_PER_SHOW = 40;
const EVERY_MS = 10_000;
/** A sheet that has not been touched for so long is taken to be meant: nobody is written to while a host is typing. */
const SETTLED_AFTER_MS = 5 * MINUTE_MS;
const AT_ONCE = 25;
/** The start that somebody was told where they were told that there is none. */
const CALLED_OFF = 0;
/** A tour of those who may still be told of a change. */
const OF_USE_MS = HOUR_MS;

const notGood = () =>
  new PlainError(404, 'This pass opens no door: it was withdrawn, is for another date, or not whole. Open the address from the mail again, or ask the host.');
const unknown = () => new PlainError(404, 'This guest is not asked any more.');

/** Of whom something is known at this moment, by the air process. */
export type GuestHere = 'green room' | 'on air';

@Injectable()
export class GuestsService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('guests of moved shows', EVERY_MS, () => this.tellMoved());
  /** By show, who is in its green room. */
  private readonly here = new Map<string, ReadonlyMap<string, GuestHere>>();

  constructor(
    private readonly database: DataSource,
    private readonly showRows: ShowRows,
    private readonly airingRows: AiringRows,
    private readonly channelRows: ChannelRows,
    private readonly people: PeopleService,
    private readonly contacts: ContactsService,
    private readonly scenes: ScenesService,
    private readonly speakers: SpeakersService,
    private readonly looks: LooksService,
    private readonly outbox: OutboxService,
    private readonly audit: AuditService,
    private readonly vault: Vault,
    private readonly clock: Clock,
    private readonly bus: Bus,
    @Inject(SETTINGS) private readonly settings: Settings,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'guests', where: 'showId = ?' });
  }

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  private get rows() {
    return this.database.getRepository(Guest);
  }

  /** `withAddresses`: addresses of people are not for everybody of the station. */
  async list(showId: string, withAddresses: boolean): Promise<GuestView[]> {
    const rows = await this.rows.find({ where: { showId }, order: { invitedAt: 'ASC', id: 'ASC' } });
    const here = this.here.get(showId);
    const named = await this.speakers.ofShow(showId);
    return rows.map(({ id, name, caption, zone, email, answer, word, invitedAt, tried, triedAt, leftAt, ownSound }) => ({
      ...{ id, name, caption, zone, answer, word, invitedAt, email: withAddresses ? email : null },
      onPages: (named.get(id) ?? []).map(({ channel, words }) => ({ channel, words })),
      ownSound: consentOf(ownSound),
      tried: tried && { ...tried, at: triedAt ?? 0 },
      standing: standingOf(answer, tried !== null, here?.get(id) ?? (leftAt === null ? null : 'gone')),
    }));
  }

  /** The people of a show as the public is told of them: nobody who was asked and has not said yes. */
  async publicPeople({ id, people }: Pick<Show, 'id' | 'people'>): Promise<{ name: string; role: 'host' | 'guest' }[]> {
    const asked = await this.rows.find({ where: { showId: id }, select: { name: true, answer: true } });
    const isOpen = (name: string) => asked.some((guest) => same(guest.name, name) && guest.answer !== 'accepted');
    return people.filter(({ name, role }) => role !== 'guest' || !isOpen(name)).map(({ name, role }) => ({ name, role }));
  }

  /** Asks somebody; with an address by mail at once, without one the pass is handed over by hand. With `allDates` for the dates to come of its series as well. */
  async invite(by: Person, show: Show, { name: written, caption, zone, email: address, allDates }: GuestInvite): Promise<void> {
    if (show.state === 'over') throw new PlainError(409, 'This show is over: nobody can come to it any more.');
    const email = address?.trim().toLowerCase() || null;
    const name = written.trim();
    const dates = allDates && show.seriesId ? await this.showRows.datesToCome(show.seriesId, show.startsAt) : [show];
    const station = await this.people.station(by.stationId);
    let asked = 0;
    await together(this.database, async (entities) => {
      for (const date of dates) {
        const known = await entities.findBy(Guest, { showId: date.id });
        if (known.some((guest) => (email !== null ? guest.email === email : guest.email === null && guest.name === name))) {
          if (date.id === show.id) throw new PlainError(409, `${name} is asked already. Withdraw that pass first, if it is to be another.`);
          continue;
        }
        if (known.length >= MOST_PER_SHOW) throw new PlainError(409, `A show asks at most ${MOST_PER_SHOW} guests.`);
        const id = randomUUID();
        const row: Guest = {
          ...{
            id,
            showId: date.id,
            stationId: by.stationId,
            tokenHash: digestOf(this.passOf(id)),
            name,
            caption: caption?.trim() ?? '',
            zone: zone ?? null,
            email,
          },
          ...{ answer: 'asked', word: '', invitedAt: this.clock.now(), toldStart: date.startsAt, tried: null, triedAt: null, leftAt: null },
          ownSound: 'unasked',
        };
        await addRow(entities, Guest, row);
        if (email !== null) await this.outbox.postAll([this.letterOf(station, date, row, by.name)], entities);
        asked++;
      }
    });
    if (email !== null) await this.contacts.noteGuest(by.stationId, { name, email, caption: caption?.trim() ?? '', zone: zone ?? null });
    await this.audit.note(by, 'asked', asked === 1 ? `${name} to be in “${show.title}”` : `${name} to be in “${show.title}” and ${asked - 1} dates after it`);
    this.changed(...dates.map(({ id }) => id));
  }

  /** Somebody comes in whom nobody has asked before, as a viewer does: with a pass of their own, and a yes. Answers with who they are; belongs to the caller's transaction. */
  async comesIn(entities: EntityManager, show: Show, stationId: string, name: string): Promise<string> {
    if ((await entities.countBy(Guest, { showId: show.id })) >= MOST_PER_SHOW) throw new PlainError(409, 'The green room has no more places.');
    const id = randomUUID();
    await addRow(entities, Guest, {
      ...{ id, showId: show.id, stationId, tokenHash: digestOf(this.passOf(id)), name, caption: '', zone: null, email: null },
      ...{ answer: 'accepted', word: '', invitedAt: this.clock.now(), toldStart: show.startsAt, tried: null, triedAt: null, leftAt: null },
      ownSound: 'unasked',
    });
    return id;
  }

  /** Which of them have a pass still. */
  async there(ids: readonly string[]): Promise<ReadonlySet<string>> {
    const rows = ids.length ? await this.rows.find({ where: { id: In([...ids]) }, select: { id: true } }) : [];
    return new Set(rows.map(({ id }) => id));
  }

  /** The address of the guest door for somebody who has a pass; null: they have none any more. Theirs alone to be told. */
  async doorOf(id: string): Promise<string | null> {
    return (await this.rows.existsBy({ id })) ? this.urlOf(id) : null;
  }

  /** Takes a pass back: whoever is in the green room with it goes, on air or not. */
  async withdraw(by: Person, show: Show, id: string): Promise<void> {
    const guest = await this.rows.findOneBy({ id, showId: show.id });
    if (!guest) throw unknown();
    await this.rows.delete({ id });
    this.bus.tell({ kind: 'guest', guestId: id, name: null, caption: '' });
    await this.audit.note(by, 'withdrew', `the pass of ${guest.name} for “${show.title}”`);
    this.changed(show.id);
  }

  /** The pass itself, for somebody who asks to hand it over. */
  async link(by: Person, show: Show, id: string): Promise<GuestPassLink> {
    const guest = await this.rows.findOneBy({ id, showId: show.id });
    if (!guest) throw unknown();
    await this.audit.note(by, 'looked at', `the pass of ${guest.name} for “${show.title}”`);
    return { url: this.urlOf(id) };
  }

  // ---- what a pass opens

  /** What the door says. Throws, in words, where the pass is not good. */
  async door(pass: string): Promise<DoorView> {
    const { guest, show } = await this.byPass(pass);
    const station = await this.people.station(guest.stationId);
    const { id: guestId, name, caption, answer, word } = guest;
    const { title, startsAt, lengthMs, zone } = show;
    const takes = await takesIn(recordingFolder(this.settings, show.id));
    const look = await this.looks.ofShow(guest.stationId, show.waiting ?? show.thumbnail);
    return {
      ...{ guestId, showId: show.id, stationName: station.name, title, rehearsal: show.rehearsalOf !== null, startsAt, lengthMs, name, caption, answer, word },
      ...{ comeAt: startsAt - COME_EARLY_MS, zone, isOver: show.state === 'over' },
      ownSound: { wanted: show.ownSounds, said: consentOf(guest.ownSound), kept: takes.some((take) => take.guestId === guestId) },
      sentTo: show.rehearsalOf === null ? await this.sentTo(show) : [],
      seenBy: SEEN_BY[show.houseVisibility],
      onPages: ((await this.speakers.ofShow(show.id)).get(guestId) ?? []).flatMap(({ channel, answer: there, url }) =>
        url === null ? [] : { channel, answer: there, url },
      ),
      houseUrl: `${this.settings.publicUrl}/on/${show.slug}`,
      scene: await this.sceneOf(show),
      look: forStrangers(look),
      air: { port: this.settings.airPort, url: this.settings.airUrl },
    };
  }

  async answer({ pass, answer, word }: AnswerChange): Promise<DoorView> {
    const { guest, show } = await this.byPass(pass);
    if (show.state === 'over') throw new PlainError(409, 'This evening is over.');
    if (!(await changeRow(this.database.manager, Guest, { id: guest.id }, { answer, word: word.trim() }))) throw notGood();
    this.changed(show.id);
    return this.door(pass);
  }

  async strap({ pass, name, caption }: StrapChange): Promise<DoorView> {
    const { guest, show } = await this.byPass(pass);
    if (!(await changeRow(this.database.manager, Guest, { id: guest.id }, { name: name.trim(), caption: caption.trim() }))) throw notGood();
    this.bus.tell({ kind: 'guest', guestId: guest.id, name: name.trim(), caption: caption.trim() });
    this.changed(show.id);
    return this.door(pass);
  }

  /** Whoever shows a pass, and the show that it is for. Throws, in words, where it is not good. */
  async bearer(pass: string): Promise<{ guest: Readonly<Guest>; show: Show }> {
    return this.byPass(pass);
  }

  /** Notes what somebody has said to having their own sound kept. False: they have no pass any more. */
  async noteOwnSound({ id, showId }: Pick<Guest, 'id' | 'showId'>, ownSound: Guest['ownSound']): Promise<boolean> {
    const noted = (await changeRow(this.database.manager, Guest, { id }, { ownSound })) > 0;
    if (noted) this.changed(showId);
    return noted;
  }

  /** By identifier, those of a show: their names, and what they have said to having their own sound kept. */
  async ownSoundsOf(showId: string): Promise<ReadonlyMap<string, { name: string; said: Guest['ownSound'] }>> {
    const rows = await this.rows.find({ where: { showId }, select: { id: true, name: true, ownSound: true } });
    return new Map(rows.map(({ id, name, ownSound }) => [id, { name, said: ownSound }]));
  }

  /** Those who have taken it back while their sounds were being removed and a server was killed. */
  async ownSoundsToRemove(): Promise<{ id: string; showId: string }[]> {
    return this.rows.find({ where: { ownSound: 'removing' }, select: { id: true, showId: true } });
  }

  /** Whoever tries it out means to come. */
  async triedOut(pass: string, found: TriedOut): Promise<void> {
    const { guest, show } = await this.byPass(pass);
    const answer = guest.answer === 'asked' ? 'accepted' : guest.answer;
    if (!(await changeRow(this.database.manager, Guest, { id: guest.id }, { tried: { ...found }, triedAt: this.clock.now(), answer }))) throw notGood();
    this.changed(show.id);
  }

  /** When they are to come, as a calendar file. */
  async calendar(pass: string): Promise<string> {
    const { guest, show } = await this.byPass(pass);
    return this.calendarOf(await this.people.station(guest.stationId), show, guest);
  }

  /** Whoever has this pass, where it is for this show; null: nobody. */
  async whoIs(pass: string, showId: string): Promise<{ id: string; stationId: string; name: string; caption: string } | null> {
    const guest = await this.rows.findOneBy({ tokenHash: digestOf(pass), showId });
    const show = guest && (await this.showRows.byId(showId));
    if (!guest || !show || show.state === 'over') return null;
    const { id, stationId, name, caption } = guest;
    return { id, stationId, name, caption };
  }

  /** Who is in the green room of a show by now, as the air process says. */
  async hearWhoIsThere(showId: string, there: ReadonlyMap<string, GuestHere>): Promise<void> {
    const before = this.here.get(showId) ?? new Map<string, GuestHere>();
    if (there.size) this.here.set(showId, there);
    else this.here.delete(showId);
    const went = [...before.keys()].filter((id) => !there.has(id));
    const came = [...there.keys()].filter((id) => !before.has(id));
    for (const id of went) await changeRow(this.database.manager, Guest, { id, showId }, { leftAt: this.clock.now() });
    for (const id of came) await changeRow(this.database.manager, Guest, { id, showId }, { leftAt: null, answer: 'accepted' });
    const moved = [...there].some(([id, place]) => before.get(id) !== place);
    if (went.length || moved) this.changed(showId);
  }

  /** The air process is gone: who is in a green room is not known before it, or the next one, says so. */
  async nobodyIsKnown(): Promise<void> {
    for (const showId of [...this.here.keys()]) await this.hearWhoIsThere(showId, new Map());
  }

  tick(): Promise<void> {
    return this.work.now();
  }

  private async byPass(pass: string): Promise<{ guest: Guest; show: Show }> {
    const guest = await this.rows.findOneBy({ tokenHash: digestOf(pass) });
    const show = guest && (await this.showRows.byId(guest.showId));
    if (!guest || !show) throw notGood();
    return { guest, show };
  }

  /** Made again whenever it is written, so that it need not be kept. */
  private passOf(id: string): string {
    return this.vault.mark(`guest ${id}`);
  }

  /** Behind “#” in the address: no server and no log sees it. */
  private urlOf(id: string): string {
    return `${this.settings.publicUrl}/door#${this.passOf(id)}`;
  }

  private letterOf(station: Station, show: Show, guest: Guest, by: string): Letter {
    const title = oneLine(show.title);
    const zone = guest.zone ?? show.zone;
    return {
      stationId: station.id,
      to: guest.email!,
      subject: `${by} asks you into “${title}”`,
      about: `guest ${guest.id}`,
      text: `Dear ${guest.name},\n\n${by} of ${station.name} asks you to be a guest in “${title}”.\n\nIt begins on ${sayWhen(instant(show.startsAt), zone)}. Please come to the guest door half an hour before, on ${sayWhen(instant(show.startsAt - COME_EARLY_MS), zone)}.\n\nThis is your guest pass. It is yours alone, for this date, and lets whoever has it in as you: please do not pass it on.\n${this.urlOf(guest.id)}\n\nSay there whether you come. You can try out camera and microphone there at any time before; you need a browser and nothing else.\n`,
      calendar: this.calendarOf(station, show, guest),
    };
  }

  private calendarOf(station: Station, show: Show, guest: Guest): string {
    const event = {
      ...{ uid: `${guest.id}@noble-lantern`, title: `${oneLine(show.title)}: be at the guest door`, text: `With ${station.name}. The pass is in the mail.` },
      ...{ startsAt: instant(show.startsAt - COME_EARLY_MS), lengthMs: show.lengthMs + COME_EARLY_MS, zone: guest.zone ?? show.zone },
      ...{ url: `${this.settings.publicUrl}/door`, sequence: show.version, changedAt: instant(show.changedAt), repeat: null, insteadOf: null },
      status: isCalledOff(show) ? ('CANCELLED' as const) : ('CONFIRMED' as const),
    };
    return writeCalendar(station.name, [event], this.clock.now());
  }

  private async sentTo({ id }: Show): Promise<string[]> {
    const airings = await this.airingRows.ofShow(id);
    const channels = await this.channelRows.some(airings.map(({ channelId }) => channelId));
    return channels.map(channelInFull).sort((a, b) => a.localeCompare(b, 'en-GB'));
  }

  /** The first scene of the show on which a guest is seen, else the one of a single person. */
  private async sceneOf(show: Show): Promise<Scene> {
    const all = scenesOfShow<Scene>(await this.scenes.list(show.stationId), show.scenes);
    const { id, name, layout, card, seats, straps, bug, microphones, comes } = (all.find((scene) => shows(scene, 'guest 1')) ??
      all.find((scene) => shows(scene, 'host')) ??
      all[0])!;
    return { id, name, layout, card, seats, straps, bug, microphones, comes };
  }

  /** Whoever knows of another start, or of one where there is none any more, is told. Who was told is noted together with the letters. */
  private async tellMoved(): Promise<void> {
    const now = this.clock.now();
    for (;;) {
      const wrote = await together(this.database, async (entities) => {
        const due: { id: string }[] = await entities.query(
          `SELECT guests.id FROM guests JOIN shows ON shows.id = guests.showId
            WHERE guests.email IS NOT NULL AND guests.answer <> 'declined' AND shows.changedAt < ?
              AND ((shows.state IN ('draft', 'placed') AND shows.startsAt > ? AND guests.toldStart <> shows.startsAt)
                OR (shows.state = 'withdrawn' AND guests.toldStart <> ${CALLED_OFF})) LIMIT ${AT_ONCE}`,
          [now - SETTLED_AFTER_MS, now - OF_USE_MS],
        );
        for (const { id } of due) {
          const guest = await entities.findOneByOrFail(Guest, { id });
          const show = await this.showRows.mustBe(guest.showId);
          const station = await this.people.station(guest.stationId);
          await this.outbox.postAll([this.movedLetter(station, show, guest)], entities);
          await changeRow(entities, Guest, { id }, { toldStart: show.state === 'withdrawn' ? CALLED_OFF : show.startsAt });
        }
        return due.length;
      });
      if (wrote < AT_ONCE) return;
    }
  }

  private movedLetter(station: Station, show: Show, guest: Guest): Letter {
    const zone = guest.zone ?? show.zone;
    const title = oneLine(show.title);
    const off = show.state === 'withdrawn';
    const text = off
      ? `Dear ${guest.name},\n\n“${title}” does not take place on the evening that you were told. ${station.name} will write to you, should there be another.\n`
      : `Dear ${guest.name},\n\n“${title}” has another time: it begins on ${sayWhen(instant(show.startsAt), zone)}. Please come to the guest door half an hour before, on ${sayWhen(instant(show.startsAt - COME_EARLY_MS), zone)}.\n\nYour pass is the same:\n${this.urlOf(guest.id)}\n\nIf you cannot come then, say so there.\n`;
    return {
      ...{ stationId: station.id, to: guest.email!, subject: off ? `“${title}” does not take place` : `“${title}” has another time`, text },
      ...{ about: `guest moved ${guest.id} ${off ? `off ${show.version}` : show.startsAt}`, calendar: this.calendarOf(station, show, guest) },
    };
  }

  private changed(...showIds: string[]): void {
    for (const showId of showIds) this.bus.tell({ kind: 'show', showId });
  }
}

/** What they have said: whoever takes it back has refused from then on. */
const consentOf = (kept: Guest['ownSound']): OwnSoundConsent => (kept === 'removing' ? 'refused' : kept);
const same = (one: string, other: string): boolean => one.trim().toLowerCase() === other.trim().toLowerCase();
const oneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();

/** What of a look can be seen by whoever is not of the station: nothing of its library. */
function forStrangers(look: LookChoices): LookChoices {
  const { background } = look;
  return { ...look, logoId: null, sponsors: [], stingId: null, background: background?.kind === 'colour' ? background : null };
}

const SEEN_BY: Record<Show['houseVisibility'], string> = {
  everyone: 'everybody',
  'link holders': 'everybody who has the link',
  'invited people': 'people who are invited',
  supporters: 'people with a code for those who support the show',
};
