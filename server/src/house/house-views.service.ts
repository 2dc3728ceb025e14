// What a visitor sees of a show, and when that changes. All who wait for one show share one look at it.
import { NETWORK_NAMES, type HouseView } from '@lantern/contract';
import { fillPlaceholders, instant, isShipped, TALK_OPENS_BEFORE_MS, type LookChoices, type PublicShow } from '@lantern/core';
import { Inject, Injectable } from '@nestjs/common';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { concatMap, distinctUntilChanged, filter, from, interval, merge, share, startWith, throttleTime, type Observable, finalize } from 'rxjs';
import { ComposerService } from '../artwork/composer.service';
import { PiecesService } from '../artwork/pieces.service';
import { AirService } from '../air/air.service';
import { PlainError } from '../foundation/errors';
import { Clock } from '../foundation/clock';
import { SETTINGS, type Settings } from '../foundation/settings';
import type { Station } from '../people/people.entities';
import { AiringsService } from '../shows/airings.service';
import type { Show } from '../shows/show.entities';
import { ShowsService } from '../shows/shows.service';
import type { Admitted } from './visitors.service';
import { GuestsService } from '../guests/guests.service';
import { HouseTalkService } from '../mailbag/house-talk.service';
import { QuestionsService } from '../questions/questions.service';
import { RecordingRows } from '../recording/recording-rows';
import { ReplaysService, type Replay } from '../cutting/replays.service';
import { Bus } from '../foundation/bus';
import { ShowRows } from '../shows/show-rows';
import { Stations } from '../people/stations';

const HOUSE_STATES: Record<Show['state'], HouseView['state']> = {
  placed: 'coming',
  // A draft has a page only where people were told of it before it was withdrawn.
  draft: 'withdrawn',
  onAir: 'onAir',
  interrupted: 'paused',
  over: 'over',
  withdrawn: 'withdrawn',
};

/** Finds changes that were made elsewhere, and keeps proxies from closing a silent stream. */
const LOOK_AGAIN_MS = 10_000;

@Injectable()
export class HouseViewsService {
  private readonly watched = new Map<string, Observable<HouseView>>();

  constructor(
    private readonly stations: Stations,
    private readonly showRows: ShowRows,
    private readonly shows: ShowsService,
    private readonly airings: AiringsService,
    private readonly air: AirService,
    private readonly pictures: ComposerService,
    private readonly pieces: PiecesService,
    private readonly recordings: RecordingRows,
    private readonly guests: GuestsService,
    private readonly questions: QuestionsService,
    private readonly talk: HouseTalkService,
    private readonly bus: Bus,
    private readonly replays: ReplaysService,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  stationUrl(station: Pick<Station, 'slug'>): string {
    return `${this.settings.publicUrl}/at/${station.slug}`;
  }

  /** The file of the letters in which a show's countdown is written, where they are the station's own; null: they are not. */
  async letters(show: Show): Promise<Buffer | null> {
    const { letters } = await this.pictures.lookOf(show);
    return isShipped(letters.display) ? null : this.pieces.file(letters.display);
  }

  /** A show as this visitor sees it. */
  async view({ show, station, invitation }: Admitted): Promise<HouseView> {
    return { ...(await this.common(show, station)), invitation: invitation && { name: invitation.name, answer: invitation.answer } };
  }

  /** The show as it is now and whenever it changes, for all who wait for it. Whether one still may see it is the caller's to ask. */
  changes({ show, station }: Admitted): Observable<HouseView> {
    let shared = this.watched.get(show.id);
    if (!shared) {
      const changed = this.bus.on('air', 'show', 'recording').pipe(filter(({ showId }) => showId === show.id));
      const hints = merge(changed, interval(LOOK_AGAIN_MS));
      shared = hints.pipe(
        startWith(null),
        throttleTime(500, undefined, { leading: true, trailing: true }),
        concatMap(() => from(this.now(show.id, station.id))),
        distinctUntilChanged((a, b) => JSON.stringify({ ...a, now: 0 }) === JSON.stringify({ ...b, now: 0 })),
        finalize(() => this.watched.delete(show.id)),
        share({ resetOnRefCountZero: true }),
      );
      this.watched.set(show.id, shared);
    }
    return shared;
  }

  /** The facts of a show for crawlers, feeds and messages. */
  async publicShow(show: Show, station: Station): Promise<PublicShow> {
    const view = await this.common(show, station);
    const { title, description, startsAt, lengthMs, zone, state, thumbnailUrl } = view;
    const pictureUrl = thumbnailUrl === null ? null : `${this.settings.publicUrl}${thumbnailUrl}`;
    return { title, description, stationName: station.name, startsAt: instant(startsAt), lengthMs, zone, url: this.airings.houseUrl(show), pictureUrl, state };
  }

  /** Until when the recording may be seen on the page; null: without end. */
  replayUntil({ endedAt, milestoneTimes }: Show, station: Pick<Station, 'milestoneTimes'>): number | null {
    const after = { ...station.milestoneTimes, ...milestoneTimes }['replay down'];
    return after === null || endedAt === null ? null : endedAt + after;
  }

  private async replay(show: Show, station: Station): Promise<HouseView['replay']> {
    if (show.state !== 'over' || !show.houseReplay) return null;
    const until = this.replayUntil(show, station);
    if (until !== null && this.clock.now() >= until) return null;
    const replay = await this.replays.of(show);
    if (!replay) return (await this.recordings.of(show.id)).state === 'making' ? 'coming' : null;
    const { lengthMs, chapters, captions, language, version } = replay;
    const base = `/api/house/${show.slug}`;
    return {
      url: `${base}/replay.mp4?v=${version}`,
      lengthMs,
      chapters,
      captions: captions.length ? { url: `${base}/captions.vtt?v=${version}`, language } : null,
    };
  }

  /** What visitors may watch of the recording. Throws where they may not, or there is none. */
  async watchable(show: Show, station: Station): Promise<Replay> {
    const seen = await this.replay(show, station);
    const replay = seen === null || seen === 'coming' ? null : await this.replays.of(show);
    if (!replay) throw new PlainError(404, 'There is no recording to watch here.');
    return replay;
  }

  private async talkOn(show: Show): Promise<HouseView['talk']> {
    if (!this.talk.isThere(show) || !(await this.talk.rulesOf(show.id)).open) return null;
    return { from: show.state === 'placed' ? show.startsAt - TALK_OPENS_BEFORE_MS : 0 };
  }

  private async now(showId: string, stationId: string): Promise<HouseView> {
    const show = await this.showRows.mustBe(showId);
    const station = await this.stations.mustBe(stationId);
    return this.common(show, station);
  }

  private async common(show: Show, station: Station): Promise<HouseView> {
    const folder = this.air.liveFolder(show);
    const base = `/api/house/${show.slug}`;
    const plays = folder !== null && existsSync(join(folder, 'live.m3u8'));
    const { airUrl, airPort } = this.settings;
    const filling = this.airings.filling(show, null, station);
    return {
      title: fillPlaceholders(show.title, filling).text,
      description: fillPlaceholders(show.description, filling).text,
      stationName: station.name,
      stationUrl: this.stationUrl(station),
      state: HOUSE_STATES[show.state],
      startsAt: show.startsAt,
      zone: show.zone,
      lengthMs: show.lengthMs,
      people: await this.guests.publicPeople(show),
      thumbnailUrl: show.thumbnail ? `${base}/thumbnail?v=${show.thumbnail.version}` : null,
      waitingUrl: show.waiting ? `${base}/waiting?v=${show.waiting.version}` : null,
      waitingLook: show.waiting?.recipe ? lookOnPage(await this.pictures.lookOf(show), base) : null,
      thumbnailAlternative: show.thumbnailAlternative,
      playlistUrl: plays ? `${base}/live/live.m3u8` : null,
      playlistBeside: plays && show.houseVisibility === 'everyone' ? { url: airUrl, port: airPort, path: `/live/${show.slug}/live.m3u8` } : null,
      trailerUrl: show.trailer?.state === 'ready' ? `${base}/trailer.mp4?v=${show.trailer.version}` : null,
      replay: await this.replay(show, station),
      fromOutside: show.pictureFrom === 'encoder',
      elsewhere: (await this.shows.airingsOf(show)).flatMap(({ airing, channel }) => {
        const watchUrl = airing.watchUrl ?? channel.watchUrl;
        // What is not for everybody there must not be found from here.
        return airing.placing === 'placed' && airing.visibility === 'everyone' && watchUrl
          ? [{ name: channel.name, network: channel.network === 'typed-in' ? '' : NETWORK_NAMES[channel.network], watchUrl }]
          : [];
      }),
      shareUrl: this.airings.shortUrl(show) ?? (show.houseVisibility === 'link holders' ? this.airings.houseUrl(show) : null),
      calendarUrl: `${base}/calendar.ics`,
      questions: await this.questions.taken(show),
      talk: await this.talkOn(show),
      reminders: show.reminders && show.state === 'placed',
      invitation: null,
      now: this.clock.now(),
    };
  }
}

const lookOnPage = ({ palette, letters: { display } }: LookChoices, base: string): HouseView['waitingLook'] => ({
  ...{ palette, letters: display },
  url: isShipped(display) ? null : `${base}/letters?v=${display}`,
});
