// Going on air, resuming and wrapping up. Owns every show that is on air; stages come and go.
import type { AirView, ChannelResult, WrapResult } from '@lantern/contract';
import { backoffMs, sayLampReason, type Instant, type Lamp, type SceneId } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { Subject } from 'rxjs';
import { DataSource } from 'typeorm';
import type { Channel } from '../channels/channel.entities';
import { ChannelAccessService, placeName, wordsOfNetworkError } from '../channels/access.service';
import { identityOf } from '../channels/channels.service';
import { NetworkSilence } from '../channels/connectors/connector';
import { RuleBookService } from '../channels/rule-book.service';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { RecordingService } from '../recording/recording.service';
import { LinesService } from '../lines/lines.service';
import { PlacingService } from '../shows/placing.service';
import { Airing, Show } from '../shows/show.entities';
import { ShowsService, type WholeShow } from '../shows/shows.service';
import { AirSampleRow } from './air.entities';
import { AirSession } from './air-session';

/** How often ending is tried again on a network that does not answer. */
const END_TRIES = 12;

@Injectable()
export class AirService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('air');
  private readonly sessions = new Map<string, AirSession>();
  /** The identifier of each show whose state on air has just changed. */
  readonly changes = new Subject<string>();

  constructor(
    private readonly database: DataSource,
    private readonly shows: ShowsService,
    private readonly access: ChannelAccessService,
    private readonly lines: LinesService,
    private readonly ruleBook: RuleBookService,
    private readonly placing: PlacingService,
    private readonly recordings: RecordingService,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  /** A show that was on air when the server stopped is interrupted: it can be resumed or wrapped up. */
  async onApplicationBootstrap(): Promise<void> {
    const shows = this.database.getRepository(Show);
    await shows.update({ state: 'onAir' }, { state: 'interrupted' });
    for (const show of await shows.findBy({ recording: 'making' })) void this.recordings.make(show.id);
  }

  async onApplicationShutdown(): Promise<void> {
    await Promise.all([...this.sessions.values()].map((session) => session.close()));
  }

  session(showId: string): AirSession | null {
    return this.sessions.get(showId) ?? null;
  }

  async begin(stationId: string, showId: string): Promise<AirView> {
    const whole = await this.shows.whole(stationId, showId);
    const { show, airings } = whole;
    if (show.state === 'onAir') return this.view(stationId, showId);
    if (show.state === 'over' || show.state === 'withdrawn') throw new PlainError(409, 'This show is over. Draft a new one to go on air again.');
    if (!airings.some(({ airing }) => airing.placing === 'placed' || airing.placing === 'awaits air')) {
      throw new PlainError(409, 'The show stands on no channel yet. Place it on at least one, then go on air.');
    }
    show.state = 'onAir';
    show.onAirSince ??= this.clock.now();
    await this.database.getRepository(Show).update({ id: show.id }, { state: show.state, onAirSince: show.onAirSince });
    this.open(whole);
    return this.view(stationId, showId);
  }

  async take(showId: string, scene: SceneId): Promise<void> {
    await this.database.getRepository(Show).update({ id: showId }, { programme: scene });
    this.sessions.get(showId)?.take(scene);
    this.changes.next(showId);
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
      programme: show.programme,
      stageArrives: false,
      stageElsewhere: false,
      recordedMs: show.recordingMs,
      airings: airings.map(({ airing, channel }) => this.restingView(show, airing, channel)),
      now,
    };
  }

  /** Ends the show on every channel. Each answers on its own; those that do not answer are asked again. */
  async wrap(stationId: string, showId: string): Promise<WrapResult> {
    const { show, airings } = await this.shows.whole(stationId, showId);
    if (show.state !== 'onAir' && show.state !== 'interrupted') throw new PlainError(409, 'This show is not on air.');
    const session = this.sessions.get(showId);
    this.sessions.delete(showId);
    const placed = airings.filter(({ airing }) => airing.placing === 'placed');
    await this.database.getRepository(Show).update({ id: showId }, { state: 'over', endedAt: this.clock.now(), recording: 'making' });
    if (session) session.show.state = 'over';
    // The networks are told first, so that nobody sees a picture that merely stops.
    const results = await Promise.all(placed.map(({ airing, channel }) => this.endThere(airing, channel)));
    for (const { airing } of placed) this.keepSample(airing.id, this.clock.now(), 'out', null);
    this.changes.next(showId);
    void (async () => {
      await session?.close();
      await this.recordings.make(showId);
      this.changes.next(showId);
    })();
    return { results };
  }

  private open({ show, airings }: WholeShow): void {
    const session = new AirSession(show, airings, {
      settings: this.settings,
      clock: this.clock,
      access: this.access,
      lines: this.lines,
      ruleBook: this.ruleBook,
      placeNow: (airing, channel) => this.placing.placeNow(show, airing, channel),
      sample: (airingId, at, lamp, watching) => this.keepSample(airingId, at, lamp, watching),
      changed: () => this.changes.next(show.id),
    });
    this.sessions.set(show.id, session);
    this.changes.next(show.id);
  }

  private async endThere(airing: Airing, channel: Channel): Promise<ChannelResult> {
    const connector = this.access.connectorOf(channel);
    const answer = async (done: boolean, words: string) => {
      await this.database.getRepository(Airing).update({ id: airing.id }, { endWords: words });
      return { airingId: airing.id, channelName: channel.name, done, words };
    };
    if (!connector) return answer(true, `${channel.name} gets no more picture. End the show there too, if the service asks for it.`);
    try {
      await connector.end(this.access.of(channel), airing.remoteId!);
      return await answer(true, `Ended on ${placeName(channel)}.`);
    } catch (error) {
      const words = wordsOfNetworkError(error, channel, connector);
      if (!(error instanceof NetworkSilence)) return answer(false, words);
      void this.endLater(airing, channel, 1);
      return answer(false, `${placeName(channel)} does not answer, so the show may still stand there. It is being asked again by itself.`);
    }
  }

  private async endLater(airing: Airing, channel: Channel, tries: number): Promise<void> {
    await new Promise((resolve) => setTimeout(resolve, backoffMs(tries + 1, Math.random())).unref());
    const connector = this.access.connectorOf(channel)!;
    const airings = this.database.getRepository(Airing);
    try {
      await connector.end(this.access.of(channel), airing.remoteId!);
      await airings.update({ id: airing.id }, { endWords: `Ended on ${placeName(channel)}, after it had not answered at first.` });
    } catch (error) {
      if (error instanceof NetworkSilence && tries < END_TRIES) return this.endLater(airing, channel, tries + 1);
      this.log.warn(`an airing could not be ended: ${error instanceof Error ? error.message : String(error)}`);
      await airings.update({ id: airing.id }, { endWords: `${placeName(channel)} could not be told that the show is over. End it there by hand.` });
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
      watching: null,
      watchUrl: airing.watchUrl ?? channel.watchUrl,
    };
  }

  private keepSample(airingId: string, at: Instant, lamp: Lamp, watching: number | null): void {
    this.database
      .getRepository(AirSampleRow)
      .insert({ airingId, at, lamp, watching })
      .catch((error: Error) => this.log.error(`a sample was lost: ${error.message}`));
  }
}
