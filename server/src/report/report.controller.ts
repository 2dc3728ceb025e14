// The report of a past show, and its recording as a file that players can seek in.
import { ReplayRequest, type Comparison, type ShowReport } from '@lantern/contract';
import { instant, momentsOf, sayChange, totalOf, writeCsv, type Happening, type ShowPart } from '@lantern/core';
import { Body, Controller, Get, Post, Put, Query, Res } from '@nestjs/common';
import type { Response } from 'express';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import type { RecordingState } from '../recording/recording.entities';
import { HappeningRows } from '../air/happening-rows';
import { SignalRows } from '../air/signal-rows';
import { ChaptersService } from '../chapters/chapters.service';
import type { Show } from '../shows/show.entities';
import { RecordingRows } from '../recording/recording-rows';
import { RecordingService } from '../recording/recording.service';
import { placeName } from '../channels/access.service';
import { HouseViewsService } from '../house/house-views.service';
import { HouseCounts } from '../plays/house-counts';
import { PlaysService } from '../plays/plays.service';
import { AiringsService } from '../shows/airings.service';
import { ShowRows } from '../shows/show-rows';
import { ComparisonService } from './comparison.service';
import { PastFiguresRows } from './past-figures';
import type { Watched } from './report.entities';
import { WatchedService } from './watched.service';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { Bus } from '../foundation/bus';

const RECORDING_WORDS: Record<RecordingState, string> = {
  none: 'There is no recording: nothing was sent, or it was removed.',
  making: 'The recording is being put together. This takes a few seconds for each hour.',
  ready: '',
  failed: 'The recording could not be put together. Everything received is kept.',
};

@Controller('api/shows/:id')
export class ReportController {
  constructor(
    private readonly showRows: ShowRows,
    private readonly watched: WatchedService,
    private readonly past: PastFiguresRows,
    private readonly shows: ShowsService,
    private readonly recordings: RecordingService,
    private readonly recordingRows: RecordingRows,
    private readonly happenings: HappeningRows,
    private readonly signal: SignalRows,
    private readonly chapters: ChaptersService,
    private readonly airings: AiringsService,
    private readonly views: HouseViewsService,
    private readonly bus: Bus,
    private readonly comparisons: ComparisonService,
    private readonly plays: PlaysService,
    private readonly houseCounts: HouseCounts,
  ) {}

  @May('look at the station')
  @Get('report')
  async report(@SignedIn() person: Person, @ShowId() id: string): Promise<ShowReport> {
    const { show, airings } = await this.shows.whole(person.stationId, id);
    const trouble = await this.recordings.trouble(show.id);
    const recording = await this.recordingRows.of(show.id);
    const past = await this.past.of(show.id);
    const happenings = await this.happenings.of(show.id);
    const watched = await this.watched.of(
      show,
      airings.map(({ airing }) => airing.id),
    );
    const plays = await this.plays.of(airings.map(({ airing }) => airing.id));
    return {
      showId: show.id,
      rehearsalOf: show.rehearsalOf,
      title: show.title,
      startsAt: show.startsAt,
      zone: show.zone,
      startedAt: show.onAirSince,
      endedAt: show.endedAt,
      lengthMs: show.onAirSince !== null && show.endedAt !== null ? show.endedAt - show.onAirSince : 0,
      plannedMs: show.lengthMs,
      signal: await this.signal.of(show.id),
      ran: ranOf(show, happenings),
      peakTogether: past ? past.peakTogether : watched.peakTogether,
      people: await this.past.counts(show.id, past),
      house: await this.houseCounts.of(show.id),
      ...watchingOf(
        show,
        watched,
        happenings,
        airings.map(({ channel }) => placeName(channel)),
      ),
      airings: airings.map(({ airing, channel }, at) => {
        const { litMs, faultMs, peakWatching, watchedMs, toldMs } = watched.byAiring[at]!;
        return {
          airingId: airing.id,
          channelName: channel.name,
          network: placeName(channel),
          litMs,
          faultMs,
          peakWatching,
          tells: channel.network !== 'typed-in',
          endWords: airing.endWords,
          watchedMs: toldMs > 0 ? watchedMs : null,
          averageWatching: toldMs > 0 ? watchedMs / toldMs : null,
          plays: plays.get(airing.id) ?? null,
        };
      }),
      replay: {
        shown: show.houseReplay,
        until: this.views.replayUntil(show, await this.airings.station(show.stationId)),
        pageUrl: this.airings.houseUrl(show),
      },
      chapters: (await this.chapters.list(show)).chapters,
      recording: {
        state: recording.state,
        url: recording.state === 'ready' ? `/api/shows/${show.id}/recording.mp4` : null,
        lengthMs: recording.lengthMs,
        words: recordingWords(recording.state, trouble),
        canTryAgain: recording.state === 'failed' || (recording.state === 'making' && trouble !== null),
      },
    };
  }

  /** The show beside earlier ones, of a range of days where one is asked for. */
  @May('look at the station')
  @Get('comparison')
  async comparison(@SignedIn() person: Person, @ShowId() id: string, @Query('from') from: unknown, @Query('to') to: unknown): Promise<Comparison> {
    const { show } = await this.shows.whole(person.stationId, id);
    return this.comparisons.of(show, momentOf(from) ?? 0, momentOf(to) ?? Number.MAX_SAFE_INTEGER);
  }

  /** The same as a file, for whatever else a station keeps. */
  @May('look at the station')
  @Get('report.json')
  async asJson(@SignedIn() person: Person, @ShowId() id: string, @Res({ passthrough: true }) response: Response): Promise<ShowReport> {
    const report = await this.report(person, id);
    response.attachment(`${fileName(report.title)}.json`);
    return report;
  }

  /** How many watched on each channel, moment by moment (RFC 4180). */
  @May('look at the station')
  @Get('report.csv')
  async asCsv(@SignedIn() person: Person, @ShowId() id: string, @Res({ passthrough: true }) response: Response): Promise<string> {
    const { title, airings, watching } = await this.report(person, id);
    response.attachment(`${fileName(title)}.csv`).type('text/csv; charset=utf-8');
    const names = airings.map(({ channelName, network }) => (channelName === network ? channelName : `${channelName} (${network})`));
    const rows = watching.map((moment) => [
      new Date(moment.at).toISOString(),
      ...[...moment.by, totalOf({ at: instant(moment.at), by: moment.by })].map((count) => (count === null ? '' : String(count))),
    ]);
    return writeCsv([['Time (UTC)', ...names, 'Together'], ...rows]);
  }

  /** Whether the recording may be seen on the station's own page; also long after the show. */
  @May('plan shows')
  @Put('replay')
  async replay(@SignedIn() person: Person, @ShowId() id: string, @Body() { shown }: ReplayRequest): Promise<ShowReport> {
    const { show } = await this.shows.whole(person.stationId, id);
    await this.showRows.setReplay(show.id, shown);
    this.bus.tell({ kind: 'show', showId: show.id });
    return this.report(person, id);
  }

  /** Has the recording made once more, after it could not be. */
  @May('plan shows')
  @Post('recording')
  async again(@SignedIn() person: Person, @ShowId() id: string): Promise<ShowReport> {
    const { show } = await this.shows.whole(person.stationId, id);
    if ((await this.recordingRows.of(id)).state !== 'failed' && !(await this.recordings.trouble(id)))
      throw new PlainError(409, 'There is no recording that could not be put together.');
    await this.recordings.ask(show);
    return this.report(person, id);
  }

  /** What has gone out so far of a show that is on air. */
  @May('look at the station')
  @Get('so-far.mp4')
  async soFar(@SignedIn() person: Person, @ShowId() id: string, @Res() response: Response): Promise<void> {
    const { show } = await this.shows.whole(person.stationId, id);
    if (show.state !== 'onAir' && show.state !== 'interrupted') throw new PlainError(404, 'This show is not on air.');
    response.sendFile(await this.recordings.soFar(show.id), { headers: { 'content-type': 'video/mp4', 'cache-control': 'no-store' } });
  }

  @May('look at the station')
  @Get('recording.mp4')
  async recording(@SignedIn() person: Person, @ShowId() id: string, @Res() response: Response): Promise<void> {
    const { show } = await this.shows.whole(person.stationId, id);
    const { state } = await this.recordingRows.of(id);
    if (state !== 'ready') throw new PlainError(404, RECORDING_WORDS[state]);
    response.sendFile(this.recordings.file(show.id), { headers: { 'content-type': 'video/mp4' } }); // Answers ranges (RFC 9110 section 14).
  }
}

const momentOf = (value: unknown): number | null => (typeof value === 'string' && /^\d{1,15}$/.test(value) ? Number(value) : null);

function recordingWords(state: RecordingState, trouble: { words: string; nextTryAt: number | null } | null): string {
  const usual = RECORDING_WORDS[state];
  if (!trouble || state === 'ready') return usual;
  if (trouble.nextTryAt === null) return `${usual} ${trouble.words}`;
  return `The recording could not be put together yet: ${trouble.words} Everything received is kept, and it is tried again by itself.`;
}

/** The cues as they ran, each until the next or until the end. */
function ranOf({ cues, onAirSince, endedAt }: Show, happenings: readonly Happening[]): ShowReport['ran'] {
  const ran = happenings.filter(({ kind }) => kind === 'cue');
  return ran.map(({ what, at }, index) => {
    const cue = cues.find(({ id }) => id === what);
    const until = ran[index + 1]?.at ?? endedAt;
    return { name: cueName(cues, what), at: at - (onAirSince ?? at), lengthMs: until && until - at, plannedMs: cue ? cue.lengthS * 1_000 : null };
  });
}

/** How many watched over the time of a show, and what was going on when most came and went. */
function watchingOf(
  { cues, onAirSince, endedAt }: Show,
  { watching, byAiring }: Watched,
  happenings: readonly Happening[],
  names: readonly string[],
): Pick<ShowReport, 'watching' | 'parts' | 'moments'> {
  if (onAirSince === null || endedAt === null) return { watching: [], parts: [], moments: [] };
  const faults = byAiring.flatMap((each, at) => each.faults.map(({ from, to }): ShowPart => ({ kind: 'fault', name: names[at]!, from, to })));
  const parts = [...breaksOf(happenings, endedAt), ...faults];
  const ran = happenings.filter(({ kind }) => kind === 'cue');
  const begun = ran.map(({ what, at }, index): ShowPart => ({ kind: 'cue', name: cueName(cues, what), from: at, to: ran[index + 1]?.at ?? endedAt }));
  const { gain, loss } = momentsOf(watching, [...parts, ...begun]);
  const moments = [gain, loss].flatMap((moment) => (moment ? [{ from: moment.from, to: moment.to, by: moment.by, words: sayChange(moment) }] : []));
  return { watching, parts, moments: moments.sort((a, b) => a.from - b.from) };
}

/** The times in which viewers saw the break card. */
function breaksOf(happenings: readonly Happening[], endedAt: number): ShowPart[] {
  const sources = happenings.filter(({ kind }) => kind === 'source');
  return sources.flatMap(({ what, at }, index) =>
    what === 'break card' ? [{ kind: 'break' as const, name: 'Break', from: at, to: sources[index + 1]?.at ?? endedAt }] : [],
  );
}

const cueName = (cues: Show['cues'], id: string | null): string => cues.find((cue) => cue.id === id)?.name.trim() || 'A cue';

/** As it may stand in any file system. */
const fileName = (title: string): string =>
  title
    .replace(/[^\p{L}\p{N} _-]+/gu, '')
    .trim()
    .slice(0, 60) || 'report';
