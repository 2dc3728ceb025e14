// Going on air, resuming and wrapping up. Owns the life of every show that is on air; the air process carries its pictures.
import { OF_AIRINGS, RemovalService } from '../shows/removal.service';
import type { AirView, ChannelResult, OnAirSummary, SignalTold, WatchingView, WrapResult } from '@lantern/contract';
import {
  DAY_MS,
  HOUR_MS,
  lastHour,
  lastHourTogether,
  may,
  MINUTE_MS,
  sayAlone,
  sayLampReason,
  type Happening,
  type Instant,
  type Lamp,
  sayEndedUnnoted,
  sayEnding,
  sayEndingWork,
  sayRoom,
} from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import type { Channel } from '../channels/channel.entities';
import { ChannelRows } from '../channels/channel-rows';
import { ChannelAccessService, channelInFull, placeName, wordsOfNetworkError } from '../channels/access.service';
import { identityOf } from '../channels/channels.service';
import { NetworkSilence, seenOrGone, type Connector } from '../channels/connectors/connector';
import { RuleBookService } from '../channels/rule-book.service';
import { Clock } from '../foundation/clock';
import { DiskSpace } from '../foundation/disk-space';
import { PlainError, Refused, storageTrouble } from '../foundation/errors';
import { letGo } from '../foundation/let-go';
import { together } from '../foundation/together';
import { SETTINGS, type Settings } from '../foundation/settings';
import { JobsService, NotDone } from '../jobs/jobs.service';
import { RecordingRows } from '../recording/recording-rows';
import { RecordingService } from '../recording/recording.service';
import { HouseAudience } from './house-audience';
import { LinesService } from '../lines/lines.service';
import { PlacingService } from '../placing/placing.service';
import type { Person } from '../people/people.entities';
import { AiringRows } from '../shows/airing-rows';
import type { Airing, Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { standsThere } from '../shows/show-facts';
import { ShowsService, type WholeShow } from '../shows/shows.service';
import { AirSamples } from './air-samples';
import { recordingFolder } from '../media/stretch';
import {
  CardQuestion,
  CarriedState,
  ArrivingNow,
  GuestQuestion,
  GuestsHere,
  checkedAs,
  KeyQuestion,
  LineQuestion,
  RestingTake,
  ShowNamed,
  StagesOpen,
  WhoQuestion,
  type LineAnswer,
  type Who,
} from '../air-wire/messages';
import { WireTrouble } from '../air-wire/wire';
import { StagesOnAir } from '../people/stages-on-air';
import { GuestsService } from '../guests/guests.service';
import { OutsideLinesService } from '../outside/outside-lines.service';
import { OutboxService } from '../mail/outbox.service';
import { PeopleService } from '../people/people.service';
import { RegularWork } from '../foundation/regular-work';
import { AirLink } from './air-link';
import { AirSession, baseOf } from './air-session';
import { BreakCards, type BreakCard } from './break-cards';
import { HappeningRows } from './happening-rows';
import { SignalRows } from './signal-rows';
import { StageRows } from './stage-rows';
import { Bus } from '../foundation/bus';

/** Ending an airing on a network that did not answer: tried again with doubling waits for some hours. */
const END = 'end';
const END_TRIES = 14;
const END_AGAIN_MS = 1_000;
const END_LONGEST_WAIT_MS = 30 * MINUTE_MS;
/** Further ahead than this it is a slip of the hand. */
const EARLIEST_AIR_MS = DAY_MS;
/** What comes from a stage and goes to networks is closed by then. */
const CLOSING_MAY_TAKE_MS = MINUTE_MS;
/** A show that nobody carried for longer is interrupted, and waits for a person; after a shorter while it goes on by itself. */
const TAKEN_UP_WITHIN_MS = 30 * MINUTE_MS;
/** A show that nobody is at for so long is told to the team. */
const ALONE_IS_TOLD_MS = 10 * MINUTE_MS;
const TEND_EVERY_MS = 5_000;
/** A recording at the stage's rate. */
const RECORDING_BYTES_A_MINUTE = 20_000_000;

/** Whether an airing has a part in going on air: it stands, may stand, or is made then. */
const goesOut = ({ placing }: Airing): boolean => placing === 'placed' || placing === 'awaits air' || placing === 'unsure';

/** A network has taken the end of a show and goes on with it: as good as no answer. */
class StillThere extends NetworkSilence {}

@Injectable()
export class AirService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('air');
  private readonly sessions = new Map<string, AirSession>();
  /** By show, the break card that was last made for it. */
  private readonly cardsSent = new Map<string, BreakCard>();
  private readonly lampsTold = new Map<string, string>();
  private readonly work = new RegularWork('shows on air', TEND_EVERY_MS, () => this.tend());

  constructor(
    private readonly database: DataSource,
    private readonly shows: ShowsService,
    private readonly showRows: ShowRows,
    private readonly airingRows: AiringRows,
    private readonly channelRows: ChannelRows,
    private readonly samples: AirSamples,
    private readonly stages: StageRows,
    private readonly happenings: HappeningRows,
    private readonly signal: SignalRows,
    private readonly recordingRows: RecordingRows,
    private readonly access: ChannelAccessService,
    private readonly lines: LinesService,
    private readonly ruleBook: RuleBookService,
    private readonly placing: PlacingService,
    private readonly recordings: RecordingService,
    private readonly link: AirLink,
    private readonly cards: BreakCards,
    private readonly stagesOpen: StagesOnAir,
    private readonly people: PeopleService,
    private readonly outbox: OutboxService,
    private readonly outside: OutsideLinesService,
    private readonly guests: GuestsService,
    private readonly audience: HouseAudience,
    private readonly disk: DiskSpace,
    private readonly jobs: JobsService,
    private readonly bus: Bus,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
    removal: RemovalService,
  ) {
    removal.takeAlong(
      { table: 'air_samples', where: OF_AIRINGS },
      { table: 'stages', where: 'showId = ?' },
      { table: 'happenings', where: 'showId = ?' },
      { table: 'signal_samples', where: 'showId = ?' },
    );
    jobs.takeUp({
      kind: END,
      atOnce: 4,
      triesMax: END_TRIES,
      waitMs: (tries) => Math.min(END_LONGEST_WAIT_MS, END_AGAIN_MS * 2 ** tries),
      run: (airingId) => this.endLater(airingId),
      gaveUp: (airingId) => this.endGivenUp(airingId),
      words: async (airingId) => this.endingWords(airingId),
    });
  }

  /** Shows that were on air when this server stopped are still on air, or go on: the air process says which it carries. */
  async onApplicationBootstrap(): Promise<void> {
    for (const show of await this.showRows.allInState('onAir')) await this.takeUp(show.stationId, show.id);
    this.link.connected.subscribe((yes) => {
      // Wrapped up by a server that was killed before it had seen all closed: what is let go is closed.
      if (yes) letGo('taking up what is on air', this.away(this.reconcile().then((held) => this.recordings.hurry(held))));
      else {
        letGo('forgetting who is in green rooms', this.guests.nobodyIsKnown());
        for (const session of this.sessions.values()) session.hear(null);
      }
    });
    this.bus.on('session ended').subscribe(({ session }) => letGo('ending stages', this.away(this.link.sessionEnded(session))));
    this.bus.on('guest').subscribe(({ guestId, name, caption }) => letGo('telling of a guest', this.away(this.link.guest({ guestId, name, caption }))));
    this.bus.on('outside line closed').subscribe(({ lineId }) => letGo('closing an outside line', this.away(this.link.lineClosed(lineId))));
    this.link.open((name, body) => this.answer(name, body));
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
    for (const session of this.sessions.values()) session.close();
  }

  /** The shows that are on air, by identifier. */
  get onAirNow(): string[] {
    return [...this.sessions.keys()];
  }

  session(showId: string): AirSession | null {
    return this.sessions.get(showId) ?? null;
  }

  /** Where the picture of a show on air is packed for its house page; null: it is not on air. */
  liveFolder({ id, slug }: Pick<Show, 'id' | 'slug'>): string | null {
    return this.sessions.get(id)?.isCarried ? join(this.settings.liveDir, slug) : null;
  }

  // ---- what the air process asks and tells

  private async answer(name: string, body: unknown): Promise<unknown> {
    switch (name) {
      case 'state': {
        const state = checkedAs(CarriedState, body);
        return this.sessions.get(state.showId)?.hear(state);
      }
      case 'stages': {
        const { showId, sessions, sharing } = checkedAs(StagesOpen, body);
        return this.stagesOpen.opened(showId, { sessions, sharing }, () => this.sessions.has(showId));
      }
      case 'who':
        return this.who(checkedAs(WhoQuestion, body));
      case 'line':
        return this.line(checkedAs(LineQuestion, body));
      case 'guest': {
        const { pass, showId } = checkedAs(GuestQuestion, body);
        return this.guests.whoIs(pass, showId);
      }
      case 'guests here': {
        const { showId, guests } = checkedAs(GuestsHere, body);
        return this.guests.hearWhoIsThere(showId, new Map(guests.map(({ id, place }) => [id, place])));
      }
      case 'view': {
        const { showId } = checkedAs(ShowNamed, body);
        const { stationId } = await this.showRows.mustBe(showId);
        return this.view(stationId, showId);
      }
      case 'resting take': {
        const { showId, scene, line } = checkedAs(RestingTake, body);
        // Where it cannot be kept, as on a full disk, the scene is taken all the same: only a stage that comes back would not find it.
        await this.stages.set(showId, { ...(scene && { programme: scene }), ...(line !== undefined && { lineOnStage: line }) }).catch((error: unknown) => {
          if (!storageTrouble(error)) throw error;
        });
        return this.bus.tell({ kind: 'air', showId });
      }
      case 'outside owner': {
        const line = await this.outside.byKey(checkedAs(KeyQuestion, body).key);
        return line && { lineId: line.id, stationId: line.stationId, name: line.name };
      }
      case 'arriving': {
        const { lines } = checkedAs(ArrivingNow, body);
        return this.outside.arriving(new Map(lines.map(({ lineId, facts, normalised }) => [lineId, { facts, normalised }])));
      }
      case 'want card': {
        const { showId, backAt } = checkedAs(CardQuestion, body);
        const session = this.sessions.get(showId);
        if (session) letGo('making a break card', this.sendCard(session, backAt));
        return null;
      }
      default:
        throw new Error(`No such question: ${name.slice(0, 40)}`);
    }
  }

  private async who({ token, showId }: WhoQuestion): Promise<Who | null> {
    const person = await this.people.personOf(token);
    const none = (error: unknown) => {
      // That nobody can look it up at this moment must sign nobody out.
      if (error instanceof PlainError && error.status === 404) return null;
      throw error;
    };
    const known = person && (await this.shows.whole(person.stationId, showId).catch(none));
    return (
      known && {
        id: person.id,
        name: person.name,
        stationId: person.stationId,
        mayRun: may(person.role, 'go on air'),
        mayHelp: may(person.role, 'help on the stage'),
        guestsOf: known.show.rehearsalOf ?? showId,
      }
    );
  }

  /** The address and key of an airing's line; what keeps it from being had, in words, is an answer too. */
  private async line({ showId, airingId }: LineQuestion): Promise<LineAnswer> {
    const { stationId } = await this.showRows.mustBe(showId);
    const found = (await this.shows.whole(stationId, showId)).airings.find(({ airing }) => airing.id === airingId);
    if (!found || !this.sessions.has(showId)) return { words: 'it is not on air any more' };
    try {
      const { address, key } = await this.lines.ingest(found.airing, found.channel);
      return { address, key, takes: this.ruleBook.rules(found.channel).video };
    } catch (error) {
      return { words: wordsOfNetworkError(error, found.channel, this.access.connectorOf(found.channel)) };
    }
  }

  /** The air process is there, for the first time or again: it lets go what is over and takes up what is not. Answers with what it carries. */
  private async reconcile(): Promise<ReadonlySet<string>> {
    const held = new Map((await this.link.held()).map((state) => checkedAs(CarriedState, state)).map((state) => [state.showId, state]));
    for (const showId of held.keys()) {
      if (this.sessions.get(showId)?.isCarried) continue;
      await this.away(this.link.release(showId));
      held.delete(showId);
    }
    for (const session of [...this.sessions.values()]) {
      if (!session.isCarried) continue;
      const aliveAt = await this.stages.aliveAt(session.show.id);
      const forLong = !held.has(session.show.id) && aliveAt !== null && this.clock.now() - aliveAt > TAKEN_UP_WITHIN_MS;
      if (forLong) await this.interrupt(session);
      else await this.carry(session);
    }
    return new Set(held.keys());
  }

  /** Nobody has carried it for long: whether it goes on is for a person to say. */
  private async interrupt(session: AirSession): Promise<void> {
    const { id: showId } = session.show;
    session.close();
    this.forget(showId);
    await this.showRows.move(showId, 'onAir', 'interrupted');
    this.bus.tell({ kind: 'air', showId });
    this.bus.tell({ kind: 'show', showId });
  }

  /** How a show goes out, as its stage measured it. Of one that is not on air nothing is kept. */
  async hearSignal(stationId: string, showId: string, { pictures, kbps }: SignalTold): Promise<void> {
    const { show } = await this.shows.whole(stationId, showId);
    if (show.state === 'onAir') await this.signal.add(showId, { at: this.clock.now(), pictures, kbps });
  }

  private forget(showId: string): void {
    this.sessions.delete(showId);
    this.signal.over(showId);
    this.cardsSent.delete(showId);
    this.lampsTold.delete(showId);
  }

  private async carry(session: AirSession): Promise<void> {
    const { show } = session;
    if (!session.isCarried) return;
    const card = this.cardsSent.get(show.id) ?? (await this.cards.there(show, session.order(null).backAt ?? null));
    // Whom its page is for may have been changed on the sheet since.
    const now = await this.showRows.mustBe(show.id);
    // It may have been wrapped up since it was looked at: asked last, so that nothing comes between this and the word that it is carried.
    if (this.sessions.get(show.id) !== session) return;
    session.hear(checkedAs(CarriedState, await this.link.carry(session.order(card, now))));
    for (const airingId of session.resting) await this.link.relay({ showId: show.id, airingId, to: 'start', why: '' });
    if (card === null) letGo('making a break card', this.sendCard(session, session.order(null).backAt ?? null));
  }

  /** Makes the card, if it is not there, and has it taken up. */
  private async sendCard({ show }: AirSession, backAt: number | null): Promise<void> {
    const card = await this.cards.make(show.id, backAt);
    if (!card || !this.sessions.has(show.id)) return;
    this.cardsSent.set(show.id, card);
    await this.away(this.link.card(show.id, card));
  }

  /** What cannot be said now is made good once the air process is back. */
  private async away(said: Promise<unknown>): Promise<void> {
    await said.catch((error: unknown) => {
      if (!(error instanceof WireTrouble)) throw error;
      this.log.warn(error.message);
    });
  }

  private async takeUp(stationId: string, showId: string): Promise<void> {
    const whole = await this.shows.whole(stationId, showId);
    const standing = await this.stages.of(showId);
    // From before there were holders, or its row could not be written: nobody's, until somebody takes it.
    standing.holder ??= { personId: '', name: 'Nobody', tab: null };
    this.open(whole, { standing, recordedMs: (await this.recordingRows.of(showId)).lengthMs, told: await this.happenings.last(showId) });
  }

  /** What an order that was lost, or a fault, has left undone is done now; and the team is told of a show that nobody is at. */
  private async tend(): Promise<void> {
    if (this.link.connected.value) await this.away(this.reconcile());
    await this.tellAlone();
  }

  private async tellAlone(): Promise<void> {
    const now = this.clock.now();
    for (const session of this.sessions.values()) {
      const { aloneSince, show } = session;
      if (aloneSince === null || now - aloneSince < ALONE_IS_TOLD_MS || show.rehearsalOf !== null) continue;
      const url = `${this.settings.publicUrl}/shows/${show.id}/stage`;
      for (const { email } of await this.people.whoMay(show.stationId, 'go on air')) {
        const { subject, text } = sayAlone({ title: show.title, since: aloneSince, zone: show.zone, url });
        await this.outbox.post({ stationId: show.stationId, to: email, subject, text, about: `alone ${show.id} ${aloneSince}` });
      }
    }
  }

  /** Goes on air, or on with a show that was interrupted. A second press finds it on air. */
  async begin(
    person: Pick<Person, 'id' | 'name' | 'stationId'>,
    showId: string,
    tab: string | null = null,
    only: readonly string[] | null = null,
  ): Promise<AirView> {
    const { stationId } = person;
    const whole = await this.shows.whole(stationId, showId);
    const { show, airings } = whole;
    if (show.state === 'onAir') return this.view(stationId, showId);
    if (show.state === 'over') throw new Refused('air: over');
    if (show.rehearsalOf === null && !airings.some(({ airing }) => goesOut(airing))) {
      throw new Refused('air: stands nowhere');
    }
    const now = this.clock.now();
    if (show.state !== 'interrupted' && show.startsAt - now > EARLIEST_AIR_MS) {
      throw new Refused('air: too early', { startsAt: show.startsAt, zone: show.zone });
    }
    if (show.pictureFrom === 'outside line' && !show.outsideLineId) throw new Refused('air: no outside line');
    // Nobody is told that it is on air before there is somebody who carries it.
    if (show.pictureFrom !== 'encoder') this.link.demand();
    // What a beginning that was taken back has left, where the server was killed in the middle of that, is no part of this show.
    if (show.onAirSince === null) await rm(recordingFolder(this.settings, showId), { recursive: true, force: true });
    const onAirSince = show.onAirSince ?? now;
    // Looked up before it is on air: from then on there is always somebody who has it.
    const before = await this.stages.of(show.id);
    const chosen = show.state === 'interrupted' ? before.chosen : baseOf(show);
    const ids = airings.map(({ airing }) => airing.id);
    if (only && !only.some((id) => ids.includes(id))) throw new Refused('air: starts nowhere');
    const heldBack = only ? ids.filter((id) => !only.includes(id)) : show.state === 'interrupted' ? before.heldBack : [];
    const standing = { ...before, chosen, heldBack, holder: { personId: person.id, name: person.name, tab } };
    const recordedMs = (await this.recordingRows.of(show.id)).lengthMs;
    // Only from the state that was looked at: two who press at once begin one show, not two.
    const begun = await together(this.database, async () => {
      if (!(await this.showRows.move(show.id, show.state, 'go on air', { onAirSince }))) return false;
      await this.stages.keep(show.id, standing);
      await this.stages.setStartsBy(show.id, null);
      await this.stages.noteAlive(show.id, now);
      return true;
    });
    if (begun) {
      const session = this.open(
        { show: Object.assign(show, { state: 'onAir' as const, onAirSince }), airings },
        { standing, recordedMs, told: await this.happenings.last(show.id) },
      );
      await this.away(this.carry(session));
    }
    // Whoever pressed there has the stage there: said at once, so that nothing on it is taken for another's.
    return { ...(await this.view(stationId, showId)), holdsIt: this.sessions.get(showId)?.isHeldBy(person.id, tab) ?? false };
  }

  /** Starts one channel that was held back. A second press finds it started. */
  async beginOne(stationId: string, showId: string, airingId: string): Promise<AirView> {
    const session = this.sessions.get(showId);
    if (!session || session.show.stationId !== stationId) throw new Refused('air: not on air');
    session.release(airingId);
    return this.view(stationId, showId);
  }

  /** Has another event made on a channel where the show's own has ended while it is on air. A second press finds it being made. */
  async makeAnew(stationId: string, showId: string, airingId: string): Promise<AirView> {
    const session = this.sessions.get(showId);
    if (!session || session.show.stationId !== stationId) throw new Refused('air: not on air');
    session.makeAnew(airingId);
    return this.view(stationId, showId);
  }

  /** What is on air at a station, for pages that are about something else. */
  async onAir(stationId: string): Promise<OnAirSummary[]> {
    const shows = [...(await this.showRows.inState(stationId, ['onAir', 'interrupted'])), ...(await this.showRows.rehearsing(stationId))];
    return shows
      .sort((a, b) => (a.onAirSince ?? 0) - (b.onAirSince ?? 0))
      .map(({ id, title, onAirSince, state, rehearsalOf }) => {
        const view = this.sessions.get(id)?.view();
        const watching = view ? view.airings.reduce((sum, airing) => sum + (airing.watching ?? 0), view.houseWatching) : 0;
        return { showId: id, title, onAirSince: onAirSince ?? 0, watching, state: state as OnAirSummary['state'], rehearsal: rehearsalOf !== null };
      });
  }

  /**
   * Takes back what was begun by mistake, as if it had not been: only where it has been public nowhere. What was made only for going on
   * air is withdrawn again; the events that stood before are left as they were. Answers with what a channel refused.
   */
  async takeBack(stationId: string, showId: string): Promise<ChannelResult[]> {
    const { show, airings } = await this.shows.whole(stationId, showId);
    const session = this.sessions.get(showId);
    if (show.state !== 'onAir' || !session) throw new Refused('air: not on air');
    const airingIds = airings.map(({ airing }) => airing.id);
    // What was public before the server was killed and went on is public all the same.
    if (session.hasBeenSeen || (await this.samples.wasLit(airingIds))) throw new Refused('air: was public');
    if (session.isCarried) this.link.demand();
    const made = airings.filter(({ airing, channel }) => airing.remoteId !== null && !this.ruleBook.rules(channel).maySchedule);
    const taken = await together(this.database, async () => {
      if (!(await this.showRows.move(showId, 'onAir', 'taken back', { onAirSince: null }))) return false;
      await this.stages.forget(showId);
      await this.happenings.forget(showId);
      await this.signal.forget(showId);
      await this.recordingRows.forget(showId);
      return true;
    });
    if (!taken) throw new Refused('air: being wrapped up');
    this.forget(showId);
    session.close();
    if (session.isCarried) await this.away(this.link.release(showId));
    await rm(recordingFolder(this.settings, showId), { recursive: true, force: true });
    // The report is of the evening that is still to come.
    await this.samples.forget(airingIds);
    const results = made.length
      ? await this.placing.undoNow(
          stationId,
          showId,
          made.map(({ airing }) => airing.id),
        )
      : [];
    this.bus.tell({ kind: 'air', showId });
    this.bus.tell({ kind: 'show', showId });
    return results;
  }

  /** How many watch on each channel that tells it, now and over the last hour. */
  async watching(stationId: string, showId: string): Promise<WatchingView> {
    const { show, airings } = await this.shows.whole(stationId, showId);
    const now = this.clock.now();
    const channels = await Promise.all(
      airings
        .filter(({ channel }) => channel.network !== 'typed-in')
        .map(async ({ airing, channel }) => {
          const hour = lastHour(await this.samples.since(airing.id, now - HOUR_MS), now);
          return { channelId: channel.id, name: channelInFull(channel), hour };
        }),
    );
    return { channels, together: lastHourTogether(channels.map(({ hour }) => hour)), house: this.audience.count(show.slug), now };
  }

  /** What the stage shows, whether the show is on air or not. */
  async view(stationId: string, showId: string): Promise<AirView> {
    const session = this.sessions.get(showId);
    if (session && session.show.stationId === stationId) return session.view();
    const { show, airings } = await this.shows.whole(stationId, showId);
    const now = this.clock.now();
    const [{ programme, ran, lineOnStage }, startsBy] = [await this.stages.of(showId), await this.stages.startsBy(showId)];
    return {
      showState: show.state,
      startsBy: startsBy && ((await this.people.byId(startsBy.personId))?.name ?? 'Somebody'),
      onAirSince: show.onAirSince,
      ...{ programme, ran, lineOnStage },
      graphic: null,
      ...{ source: null, sourceReason: 'nothing yet', chosen: 'stage', backAt: null, cardSince: null },
      stageArrives: false,
      holder: null,
      holdsIt: false,
      lines: [],
      houseWatching: this.audience.count(show.slug),
      farEnd: null,
      roomWords: this.roomWords(),
      recordedMs: (await this.recordingRows.of(showId)).lengthMs,
      airings: airings.map(({ airing, channel }) => this.restingView(show, airing, channel)),
      plannedAt: now,
      now,
    };
  }

  /** Ends the show on every channel. Each answers on its own; those that do not answer are asked again. */
  async wrap(stationId: string, showId: string): Promise<WrapResult> {
    const { show, airings } = await this.shows.whole(stationId, showId);
    if (show.state !== 'onAir' && show.state !== 'interrupted') throw new Refused('air: not on air');
    const session = this.sessions.get(showId);
    const placed = airings.filter(({ airing }) => standsThere(airing));
    const now = this.clock.now();
    // Together: a show that is over always has somebody who makes its recording, whenever the server is killed.
    const ended = await together(this.database, async () => {
      const over = await this.showRows.move(showId, show.state, 'wrapped', { endedAt: now });
      if (over) await this.recordings.want(show, now + CLOSING_MAY_TAKE_MS);
      return over;
    }).catch(async (error: unknown) => {
      const storage = storageTrouble(error);
      if (!storage) throw error;
      // A disk that is full must not keep a show before its viewers: what can be ended is ended all the same.
      const told = await Promise.all(placed.map((each) => this.endUnnoted(show, each)));
      throw new PlainError(storage.status, sayEndedUnnoted(told, storage.words));
    });
    if (!ended) throw new Refused('air: being wrapped up');
    // Only now: what could not be noted as over goes on, and can be wrapped up by another press.
    this.forget(showId);
    if (session) session.show.state = 'over';
    // The networks are told first, so that nobody sees a picture that merely stops.
    try {
      return { results: await Promise.all(placed.map(({ airing, channel }) => this.endThere(show, airing, channel))) };
    } finally {
      for (const { airing } of placed) this.keepSample(airing.id, this.clock.now(), 'out', null);
      this.bus.tell({ kind: 'air', showId });
      this.bus.tell({ kind: 'show', showId });
      letGo('wrapping up', this.finish(session, show));
    }
  }

  private async finish(session: AirSession | undefined, { id: showId, stationId }: Pick<Show, 'id' | 'stationId'>): Promise<void> {
    try {
      session?.close();
      // What came is closed before it is put together. Where the air process is away, it lets go once it is back.
      if (session?.isCarried) await this.away(this.link.release(showId));
    } finally {
      await this.recordings.ask({ id: showId, stationId });
      this.bus.tell({ kind: 'air', showId });
    }
  }

  /** Stages hear of a lamp that has changed at once: it is what a host waits for. */
  private changed(showId: string): void {
    this.bus.tell({ kind: 'air', showId });
    const session = this.sessions.get(showId);
    if (!session) return;
    const lamps = session.lamps;
    if (this.lampsTold.get(showId) === lamps) return;
    this.lampsTold.set(showId, lamps);
    letGo('telling a lamp', this.away(this.link.look(showId)));
  }

  private open({ show, airings }: WholeShow, found: ConstructorParameters<typeof AirSession>[1]): AirSession {
    const { id: showId } = show;
    const session = new AirSession(show, found, airings, {
      clock: this.clock,
      access: this.access,
      lines: this.lines,
      ruleBook: this.ruleBook,
      placeNow: (airing, channel, anew) => this.placing.placeNow(show, airing, channel, anew).finally(() => this.bus.tell({ kind: 'show', showId })),
      placedTooLate: (airing) => letGo('ending what was placed too late', this.endTooLate(show, airing)),
      relay: (airingId, to, why = '') => letGo('a relay', this.away(this.link.relay({ showId, airingId, to, why }))),
      litSince: (airingId) => this.samples.litSince(airingId),
      sample: (airingId, at, lamp, watching) => this.keepSample(airingId, at, lamp, watching),
      changed: () => this.changed(showId),
      houseWatching: () => this.audience.count(show.slug),
      recorded: (lengthMs) => {
        letGo('noting what is recorded', this.recordingRows.noteReceived(showId, lengthMs));
        letGo('noting that a show is carried', this.stages.noteAlive(showId, this.clock.now()));
      },
      keep: (standing) => letGo('keeping how a stage stands', this.keepStanding(showId, standing)),
      roomWords: () => this.roomWords(),
      happened: (news) => letGo('noting what happens', this.noteHappened(showId, news)),
    });
    this.sessions.set(showId, session);
    session.start();
    this.bus.tell({ kind: 'air', showId });
    this.bus.tell({ kind: 'show', showId });
    return session;
  }

  /** A full disk keeps nobody from anything: only the report knows less. */
  private async noteHappened(showId: string, news: readonly Happening[]): Promise<void> {
    await this.happenings.add(showId, news).catch((error: unknown) => {
      if (!storageTrouble(error)) throw error;
    });
  }

  /** A full disk keeps nobody from taking a scene: only a process that is started anew would not find it. */
  private async keepStanding(showId: string, standing: Parameters<StageRows['keep']>[1]): Promise<void> {
    await this.stages.keep(showId, standing).catch((error: unknown) => {
      if (!storageTrouble(error)) throw error;
    });
  }

  /** What was made on a channel while the show was being wrapped up is ended, as what stood there before; what was taken back is taken off again. */
  private async endTooLate({ id: showId, stationId }: Show, airing: Airing): Promise<void> {
    const state = (await this.showRows.byId(showId))?.state;
    if (state === 'over') await this.jobs.add(stationId, END, airing.id);
    else if (state === 'placed') await this.placing.undoNow(stationId, showId, [airing.id]);
  }

  private roomWords(): string {
    const { state, freeBytes } = this.disk.room;
    if (state === 'enough' || freeBytes === null) return '';
    const minutes = Math.floor(freeBytes / RECORDING_BYTES_A_MINUTE);
    return sayRoom(state === 'none' ? { code: 'all but full' } : { code: 'short', minutes });
  }

  private async endThere(show: Show, airing: Airing, channel: Channel): Promise<ChannelResult> {
    const connector = this.access.connectorOf(channel);
    const answer = async (done: boolean, words: string) => {
      await this.airingRows.change(airing.id, { endWords: words });
      return { airingId: airing.id, channelName: channelInFull(channel), done, words };
    };
    if (!connector) return answer(true, sayEnding({ code: 'no more picture', channel: channel.name }));
    try {
      await this.tellEnd(show, airing, channel, connector);
      return await answer(true, sayEnding({ code: 'ended', network: placeName(channel) }));
    } catch (error) {
      const words = wordsOfNetworkError(error, channel, connector);
      if (!(error instanceof NetworkSilence)) return answer(false, words);
      const code = error instanceof StillThere ? 'still runs' : 'asked again';
      await this.jobs.add(show.stationId, END, airing.id, this.clock.now() + END_AGAIN_MS);
      return answer(false, sayEnding({ code, network: placeName(channel) }));
    }
  }

  /** Tells one channel that the show is over where nothing can be noted here. Answers with what came of it, in words. */
  private async endUnnoted(show: Show, { airing, channel }: WholeShow['airings'][number]): Promise<string> {
    const connector = this.access.connectorOf(channel);
    if (!connector) return '';
    try {
      await this.tellEnd(show, airing, channel, connector);
      return sayEnding({ code: 'ended', network: placeName(channel) });
    } catch (error) {
      return wordsOfNetworkError(error, channel, connector);
    }
  }

  /** Ends an airing whose network did not answer when the show was wrapped up. */
  private async endLater(airingId: string): Promise<void> {
    const airing = await this.airingRows.byId(airingId);
    const show = airing && (await this.showRows.byId(airing.showId));
    const channel = airing && (await this.channelRows.byId(airing.channelId));
    const connector = channel && this.access.connectorOf(channel);
    // On air once more, or removed: there is nothing to be ended any more.
    if (!airing || !show || !channel || !connector || show.state !== 'over') return;
    try {
      await this.tellEnd(show, airing, channel, connector);
    } catch (error) {
      const words = wordsOfNetworkError(error, channel, connector, 'by itself');
      throw new NotDone(words, !(error instanceof NetworkSilence), error instanceof NetworkSilence ? error.retryAfterMs : null);
    }
    await this.airingRows.change(airing.id, { endWords: sayEnding({ code: 'ended later', network: placeName(channel) }) });
    this.bus.tell({ kind: 'air', showId: show.id });
  }

  private async endingWords(airingId: string): Promise<string> {
    const airing = await this.airingRows.byId(airingId);
    if (!airing) return sayEndingWork(null);
    const { title, startsAt, zone } = await this.showRows.mustBe(airing.showId);
    const channel = await this.channelRows.mustBe(airing.channelId);
    return sayEndingWork({ title, startsAt, zone, channel: channelInFull(channel) });
  }

  private async endGivenUp(airingId: string): Promise<void> {
    const airing = await this.airingRows.byId(airingId);
    const channel = airing && (await this.channelRows.byId(airing.channelId));
    if (!airing || !channel) return;
    await this.airingRows.change(airingId, { endWords: sayEnding({ code: 'given up', network: placeName(channel) }) });
    this.bus.tell({ kind: 'air', showId: airing.showId });
  }

  /** Whether it stands may not be known: then it is found and ended, or there is nothing to end. Throws what the network said. */
  private async tellEnd(show: Show, airing: Airing, channel: Channel, connector: Connector): Promise<void> {
    if (airing.placing === 'unsure') await this.placing.endUnsure(show, airing, channel);
    else {
      const access = this.access.of(channel);
      await connector.end(access, airing.remoteId!);
      // What it says of itself afterwards counts for more than what it answered to the telling; one that is too slow to be asked has at least answered.
      const now = await seenOrGone(connector.report(access, airing.remoteId!)).catch((error: unknown) => {
        if (error instanceof NetworkSilence) return null;
        throw error;
      });
      if (now?.event === 'public' || now?.event === 'planned') throw new StillThere('it took the end, and still shows it');
    }
  }

  private restingView(show: Show, airing: Airing, channel: Channel): AirView['airings'][number] {
    const over = show.state === 'over';
    const code = over ? 'over' : airing.placing === 'awaits air' ? 'awaits-air' : airing.placing === 'placed' ? 'nothing-arrives' : 'not-placed';
    const lamp: Lamp = over ? 'out' : 'dark';
    return {
      airingId: airing.id,
      channel: identityOf(channel),
      channelName: channel.name,
      network: placeName(channel),
      lamp,
      words: (over && airing.endWords) || sayLampReason({ code }, placeName(channel), show.zone),
      ahead: [],
      heldBack: false,
      mayBeMadeAnew: false,
      watching: null,
      behind: null,
      rendition: '',
      watchUrl: airing.watchUrl ?? channel.watchUrl,
    };
  }

  private keepSample(airingId: string, at: Instant, lamp: Lamp, watching: number | null): void {
    letGo('keeping a sample', this.samples.add({ airingId, at, lamp, watching }));
  }
}
