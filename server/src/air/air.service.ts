// Going on air, resuming and wrapping up. Owns every show that is on air; stages come and go.
import { OF_AIRINGS, RemovalService } from '../shows/removal.service';
import type { AirView, ChannelResult, OnAirSummary, WrapResult } from '@lantern/contract';
import { DAY_MS, MINUTE_MS, sayLampReason, type Instant, type Lamp, type SceneId, sayEndedUnnoted, sayEnding, sayEndingWork, sayRoom } from '@lantern/core';
import { Inject, Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { rm } from 'node:fs/promises';
import { DataSource } from 'typeorm';
import type { Channel } from '../channels/channel.entities';
import { ChannelRows } from '../channels/channel-rows';
import { ChannelAccessService, channelInFull, placeName, wordsOfNetworkError } from '../channels/access.service';
import { identityOf } from '../channels/channels.service';
import { NetworkSilence, type Connector } from '../channels/connectors/connector';
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
import { AirSession, type Found } from './air-session';
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
/** A recording at the stage's rate. */
const RECORDING_BYTES_A_MINUTE = 20_000_000;

/** Whether an airing has a part in going on air: it stands, may stand, or is made then. */
const goesOut = ({ placing }: Airing): boolean => placing === 'placed' || placing === 'awaits air' || placing === 'unsure';

@Injectable()
export class AirService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly sessions = new Map<string, AirSession>();

  constructor(
    private readonly database: DataSource,
    private readonly shows: ShowsService,
    private readonly showRows: ShowRows,
    private readonly airingRows: AiringRows,
    private readonly channelRows: ChannelRows,
    private readonly samples: AirSamples,
    private readonly stages: StageRows,
    private readonly recordingRows: RecordingRows,
    private readonly access: ChannelAccessService,
    private readonly lines: LinesService,
    private readonly ruleBook: RuleBookService,
    private readonly placing: PlacingService,
    private readonly recordings: RecordingService,
    private readonly audience: HouseAudience,
    private readonly disk: DiskSpace,
    private readonly jobs: JobsService,
    private readonly bus: Bus,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'air_samples', where: OF_AIRINGS }, { table: 'stages', where: 'showId = ?' });
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

  /** A show that was on air when the server stopped is interrupted: it can be resumed or wrapped up. */
  async onApplicationBootstrap(): Promise<void> {
    await this.showRows.interruptAll();
  }

  async onApplicationShutdown(): Promise<void> {
    await Promise.all([...this.sessions.values()].map((session) => session.close()));
  }

  session(showId: string): AirSession | null {
    return this.sessions.get(showId) ?? null;
  }

  /** Goes on air, or on with a show that was interrupted. A second press finds it on air. */
  async begin(person: Pick<Person, 'id' | 'name' | 'stationId'>, showId: string): Promise<AirView> {
    const { stationId } = person;
    const whole = await this.shows.whole(stationId, showId);
    const { show, airings } = whole;
    if (show.state === 'onAir') return this.view(stationId, showId);
    if (show.state === 'over') throw new Refused('air: over');
    if (!airings.some(({ airing }) => goesOut(airing))) {
      throw new Refused('air: stands nowhere');
    }
    const now = this.clock.now();
    if (show.state !== 'interrupted' && show.startsAt - now > EARLIEST_AIR_MS) {
      throw new Refused('air: too early', { startsAt: show.startsAt, zone: show.zone });
    }
    // What a beginning that was taken back has left, where the server was killed in the middle of that, is no part of this show.
    if (show.onAirSince === null) await rm(recordingFolder(this.settings, showId), { recursive: true, force: true });
    const onAirSince = show.onAirSince ?? now;
    // Looked up before it is on air: from then on there is always somebody who has it.
    const found = { programme: await this.stages.programmeOf(show.id), recordedMs: (await this.recordingRows.of(show.id)).lengthMs };
    // Only from the state that was looked at: two who press at once begin one show, not two.
    if (await this.showRows.become(show.id, show.state, { state: 'onAir', onAirSince }))
      this.open({ show: Object.assign(show, { state: 'onAir' as const, onAirSince }), airings }, person, found);
    return this.view(stationId, showId);
  }

  /** What is on air at a station, for pages that are about something else. */
  async onAir(stationId: string): Promise<OnAirSummary[]> {
    const shows = await this.showRows.inState(stationId, ['onAir', 'interrupted']);
    return shows
      .sort((a, b) => (a.onAirSince ?? 0) - (b.onAirSince ?? 0))
      .map(({ id, title, onAirSince, state }) => {
        const view = this.sessions.get(id)?.view();
        const watching = view ? view.airings.reduce((sum, airing) => sum + (airing.watching ?? 0), view.houseWatching) : 0;
        return { showId: id, title, onAirSince: onAirSince ?? 0, watching, state: state as OnAirSummary['state'] };
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
    const made = airings.filter(({ airing, channel }) => airing.remoteId !== null && !this.ruleBook.rules(channel).maySchedule);
    const taken = await together(this.database, async () => {
      if (!(await this.showRows.become(showId, 'onAir', { state: 'placed', onAirSince: null }))) return false;
      await this.stages.forget(showId);
      await this.recordingRows.forget(showId);
      return true;
    });
    if (!taken) throw new Refused('air: being wrapped up');
    this.sessions.delete(showId);
    await session.close();
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

  async take(showId: string, scene: SceneId): Promise<void> {
    this.sessions.get(showId)?.take(scene);
    this.bus.tell({ kind: 'air', showId });
    // Where it cannot be kept, as on a full disk, the scene is taken all the same: only a stage that comes back would not find it.
    await this.stages.take(showId, scene).catch((error: unknown) => {
      if (!storageTrouble(error)) throw error;
    });
  }

  /** What the stage shows, whether the show is on air or not. */
  async view(stationId: string, showId: string): Promise<AirView> {
    const session = this.sessions.get(showId);
    if (session && session.show.stationId === stationId) return session.view();
    const { show, airings } = await this.shows.whole(stationId, showId);
    const now = this.clock.now();
    return {
      showState: show.state,
      onAirSince: show.onAirSince,
      programme: await this.stages.programmeOf(showId),
      stageArrives: false,
      holder: null,
      holdsIt: false,
      houseWatching: this.audience.count(show.slug),
      roomWords: this.roomWords(),
      recordedMs: (await this.recordingRows.of(showId)).lengthMs,
      airings: airings.map(({ airing, channel }) => this.restingView(show, airing, channel)),
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
      const over = await this.showRows.become(showId, show.state, { state: 'over', endedAt: now });
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
    this.sessions.delete(showId);
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
      await session?.close();
    } finally {
      await this.recordings.ask({ id: showId, stationId });
      this.bus.tell({ kind: 'air', showId });
    }
  }

  private open({ show, airings }: WholeShow, begunBy: Pick<Person, 'id' | 'name'>, found: Found): void {
    const session = new AirSession(show, begunBy, found, airings, {
      settings: this.settings,
      clock: this.clock,
      access: this.access,
      lines: this.lines,
      ruleBook: this.ruleBook,
      placeNow: (airing, channel) => this.placing.placeNow(show, airing, channel),
      sample: (airingId, at, lamp, watching) => this.keepSample(airingId, at, lamp, watching),
      changed: () => this.bus.tell({ kind: 'air', showId: show.id }),
      houseWatching: () => this.audience.count(show.slug),
      recorded: (lengthMs) => letGo('noting what is recorded', this.recordingRows.noteReceived(show.id, lengthMs)),
      stretchBroke: () => this.bus.tell({ kind: 'stretch broke', showId: show.id }),
      roomWords: () => this.roomWords(),
    });
    this.sessions.set(show.id, session);
    this.bus.tell({ kind: 'air', showId: show.id });
    this.bus.tell({ kind: 'show', showId: show.id });
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
      await this.jobs.add(show.stationId, END, airing.id, this.clock.now() + END_AGAIN_MS);
      return answer(false, sayEnding({ code: 'asked again', network: placeName(channel) }));
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
    else await connector.end(this.access.of(channel), airing.remoteId!);
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
      watching: null,
      watchUrl: airing.watchUrl ?? channel.watchUrl,
    };
  }

  private keepSample(airingId: string, at: Instant, lamp: Lamp, watching: number | null): void {
    letGo('keeping a sample', this.samples.add({ airingId, at, lamp, watching }));
  }
}
