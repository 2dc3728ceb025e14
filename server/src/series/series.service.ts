// Series: their dates become shows as they come near, what is changed on one date can be brought to others,
// and each date is placed when its channels take it.
import type {
  DateOfSeries,
  DraftField,
  DropResult,
  NewRuleRequest,
  RepeatRequest,
  SeriesField,
  SeriesResult,
  SeriesScope,
  SeriesView,
  ShowDraft,
} from '@lantern/contract';
import { LATEST_START } from '@lantern/contract';
import {
  checkShow,
  DAY_MS,
  dateOfDay,
  datesOf,
  dayNumber,
  instant,
  MINUTE_MS,
  occurrenceOn,
  occurrencesOf,
  repeatTrouble,
  splitRepeat,
  wallTimeOf,
  type Occurrence,
  type Repeat,
  SHEET,
  whenOf,
} from '@lantern/core';
import { Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { DataSource } from 'typeorm';
import { ChannelAccessService } from '../channels/access.service';
import { RuleBookService } from '../channels/rule-book.service';
import { Clock } from '../foundation/clock';
import { JobsService } from '../jobs/jobs.service';
import { RegularWork } from '../foundation/regular-work';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import type { ReadChange } from '../foreign/read-calendar';
import { AiringsService } from '../shows/airings.service';
import { draftOf, plannedFacts } from '../shows/draft';
import { PlacingService } from '../placing/placing.service';
import { RemovalService } from '../shows/removal.service';
import { AiringRows } from '../shows/airing-rows';
import { SeriesRows } from '../shows/series-rows';
import type { Series, Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { ChannelRows } from '../channels/channel-rows';
import { isCalledOff, isStillPlanned, standsThere } from '../shows/show-facts';
import { columnsOf, ShowsService } from '../shows/shows.service';
import { Thumbnails } from '../shows/thumbnails';
import { together, TurnByTurn } from '../foundation/together';
import { Bus } from '../foundation/bus';

/** Dates this far ahead become shows: as far as any network reaches, and a little. */
export const HORIZON_MS = 190 * DAY_MS;
/** A series that repeats often is made up to so many dates at a time. */
const MOST_AHEAD = 120;
const TICK_MS = MINUTE_MS;
const NOTHING: SeriesResult = { changed: 0, made: 0, removed: 0, left: [], clocks: [] };
/** The HTTP status of what cannot be done just now. */
const BUSY = 409;
const MAKE = 'series';
const REACH = 'place in reach';
/** Airings that wait until their channel takes them, of shows that start after `?`. */
const WAITING = `FROM airings
  JOIN shows ON shows.id = airings.showId AND shows.state IN ('draft', 'placed')
  LEFT JOIN series ON series.id = shows.seriesId
  WHERE (airings.placing = 'awaits reach' OR (airings.placing = 'none' AND series.placesByItself = 1)) AND shows.startsAt > ?`;

@Injectable()
export class SeriesService implements OnApplicationBootstrap, OnApplicationShutdown {
  /** What is done to one series is done one after the other: a rule is not changed while its dates are being made. */
  private readonly turns = new TurnByTurn();
  private readonly work = new RegularWork('series', TICK_MS, () => this.seek());

  constructor(
    private readonly database: DataSource,
    private readonly showRows: ShowRows,
    private readonly airingRows: AiringRows,
    private readonly seriesRows: SeriesRows,
    private readonly channelRows: ChannelRows,
    private readonly shows: ShowsService,
    private readonly airings: AiringsService,
    private readonly placing: PlacingService,
    private readonly ruleBook: RuleBookService,
    private readonly access: ChannelAccessService,
    private readonly thumbnails: Thumbnails,
    private readonly removal: RemovalService,
    private readonly jobs: JobsService,
    private readonly bus: Bus,
    private readonly clock: Clock,
  ) {
    const everyMinute = { triesMax: Infinity, waitMs: () => MINUTE_MS };
    jobs.takeUp({
      ...{ kind: MAKE, atOnce: 1, ...everyMinute },
      run: (id) => this.makeById(id),
      words: async (id) => `Make the coming dates of “${(await this.seriesRows.byId(id))?.pattern.title ?? 'a series'}”`,
    });
    jobs.takeUp({
      ...{ kind: REACH, atOnce: 4, ...everyMinute },
      run: (id) => this.placeInReach(id),
      words: async (id) => `Place “${await this.showRows.titleOf(id)}” on the channels that take it by now`,
    });
  }

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  /** All series of a station, for a long look ahead. */
  async list(stationId: string): Promise<SeriesView[]> {
    const all = await this.seriesRows.atStation(stationId);
    return all.map((series) => {
      const { id, repeat, time, zone, pattern } = series;
      const ahead = this.ahead(series);
      return {
        ...{ id, title: pattern.title, repeat, time, zone, lengthMs: pattern.lengthMin * MINUTE_MS, channelIds: pattern.channelIds, room: pattern.room },
        lines: Object.fromEntries(pattern.lines.map(({ channelId, lineId }) => [channelId, lineId])),
        people: pattern.people.map(({ name }) => name),
        madeUntil: ahead.length === MOST_AHEAD ? ahead.at(-1)!.startsAt : this.clock.now() + HORIZON_MS,
      };
    });
  }

  /** Makes a single show the first date of a series. */
  begin(person: Person, showId: string, request: RepeatRequest): Promise<SeriesResult> {
    return this.turns.run(showId, () => this.beginAlone(person, showId, request));
  }

  private async beginAlone(person: Person, showId: string, request: RepeatRequest): Promise<SeriesResult> {
    const { show, airings } = await this.shows.whole(person.stationId, showId);
    if (show.seriesId) throw new PlainError(409, 'This show belongs to a series already. Change its rule instead.');
    const { date, time } = whenOf(show.startsAt, show.zone);
    const repeat = { ...repeatOf(request), from: date };
    if (!datesOf(repeat, date, date).length)
      throw new PlainError(422, 'The rule leaves out the date of this show. Choose a rule that it is part of, or move the show.');
    const series: Series = {
      id: randomUUID(),
      stationId: show.stationId,
      repeat,
      time,
      zone: show.zone,
      placesByItself: request.placesByItself,
      pattern: draftOf(
        show,
        airings.map(({ airing }) => airing),
      ),
      picture: null,
      waiting: null,
    };
    await this.takePicture(series, show);
    await together(this.database, async () => {
      await this.seriesRows.add(series);
      await this.shows.joinSeries(show.id, { seriesId: series.id, seriesDate: date, differs: [] });
    });
    return { ...NOTHING, made: await this.make(series) };
  }

  /** A series as a calendar told it: all of it or nothing. `changes`: dates that are otherwise than the rule says. Answers with its first date to come. */
  async takeOver(person: Person, draft: ShowDraft, repeat: Repeat, changes: readonly ReadChange[]): Promise<string> {
    const { stationId } = person;
    const { time, zone } = draft;
    const now = this.clock.now();
    const coming = changes.filter(({ startsAt }) => startsAt > now);
    if (!coming.length && !occurrencesOf(repeat, time, zone, now, instant(LATEST_START), 1).length) throw new PlainError(422, 'None of its dates lies ahead.');
    const series = { id: randomUUID(), stationId, repeat, time, zone, placesByItself: false, pattern: draft, picture: null, waiting: null };
    await together(this.database, async () => {
      await this.seriesRows.add(series);
      for (const { date, startsAt, lengthMin, title, text: description } of coming) {
        const own: ShowDraft = { ...draft, ...whenOf(startsAt, zone), lengthMin, title, description };
        const byRule = occurrenceOn(date, time, zone).startsAt;
        const differs = [
          ...(startsAt === byRule ? [] : (['date', 'time'] as const)),
          ...(['lengthMin', 'title', 'description'] as const).filter((field) => own[field] !== draft[field]),
        ];
        await this.shows.draft(stationId, own, person, { seriesId: series.id, seriesDate: date, differs });
      }
    });
    await this.make(series);
    const [first] = await this.coming(series);
    if (first) return first.id;
    // None within reach yet: the first is made all the same, so that there is something to look at.
    const [next] = occurrencesOf(repeat, time, zone, now, instant(LATEST_START), 1);
    return (await this.makeOne(series, next!)).id;
  }

  /** Makes the dates that have come within the horizon and are not there yet. Answers with how many. */
  make(series: Series): Promise<number> {
    return this.turns.run(series.id, () => this.makeAlone(series));
  }

  private async makeAlone(series: Series): Promise<number> {
    const dates = await this.showRows.datesOf(series.id);
    const known = new Set(dates.map(({ seriesDate }) => seriesDate));
    let made = 0;
    for (const occurrence of this.ahead(series)) {
      if (known.has(occurrence.date)) continue;
      await this.makeOne(series, occurrence);
      made += 1;
    }
    return made;
  }

  /** Brings fields that differ on one date to later dates or to all coming ones; they are the series' own from then on. */
  async spread(person: Person, showId: string, scope: SeriesScope, fields: SeriesField[]): Promise<SeriesResult> {
    const { show } = await this.shows.whole(person.stationId, showId);
    const { id } = await this.seriesOf(show);
    const spread = await this.turns.run(id, () => this.spreadAlone(person, showId, scope, fields));
    return { ...spread, made: await this.make(await this.seriesOf(show)) };
  }

  private async spreadAlone(person: Person, showId: string, scope: SeriesScope, fields: SeriesField[]): Promise<SeriesResult> {
    const { show, airings } = await this.shows.whole(person.stationId, showId);
    const series = await this.seriesOf(show);
    const source = draftOf(
      show,
      airings.map(({ airing }) => airing),
    );
    const spreading = fields.filter((field) => show.differs.includes(field));
    const timed = spreading.some((field) => field === 'time' || field === 'zone' || field === 'date');
    const plain = spreading.filter((field): field is DraftField => field !== 'thumbnail' && SHEET[field].kept !== 'start');
    const others = (await this.coming(series)).filter((other) => other.id !== show.id && (scope === 'all' || other.seriesDate! > show.seriesDate!));
    const clocks: DateOfSeries[] = [];
    Object.assign(series.pattern, pick(source, plain));
    if (timed) Object.assign(series, { time: source.time, zone: source.zone });
    // All dates or none: half a change is worse than none, and nobody could tell which half.
    await together(this.database, async () => {
      for (const other of others) {
        const own = draftOf(other, await this.airingRows.ofShow(other.id));
        const mine = plain.filter((field) => !other.differs.includes(field));
        const merged: ShowDraft = { ...own, ...pick(source, mine) };
        const keys: string[] = [...spreading];
        if (timed && !other.differs.includes('time')) {
          const { wall, startsAt } = movedWith(show, other, source);
          Object.assign(merged, { ...wallTimeOf(startsAt, source.zone), zone: source.zone, fold: wall === 'twice' ? 'earlier' : null });
          if (wall !== 'once') {
            // Clocks change over this start: it is asked about before that date is placed, and named at once.
            merged.toLook = [...new Set([...own.toLook, 'time' as const])];
            keys.push('toLook');
            clocks.push({ id: other.id, title: other.title, startsAt, zone: source.zone });
          }
        }
        await this.rewrite(other, merged, keys, person);
      }
      const { pattern, time, zone } = series;
      await this.seriesRows.change(series.id, { pattern, time, zone });
      const differs = timed && source.date !== show.seriesDate ? (['date'] as const) : [];
      await this.showRows.setSeries(show.id, { differs: [...show.differs.filter((field) => !spreading.includes(field)), ...differs] });
    });
    if (spreading.includes('thumbnail')) {
      await this.takePicture(series, show);
      const { picture, waiting } = series;
      await this.seriesRows.change(series.id, { picture, waiting });
      for (const other of others) await this.shows.givePictures(series, other);
    }
    for (const { id } of others) this.bus.tell({ kind: 'show', showId: id });
    return { ...NOTHING, changed: others.length, clocks };
  }

  /**
   * Gives the series another rule: for all dates to come, or from one date on, which then begins a series of its own.
   * Dates that no longer belong go; those that stand on channels are left as single shows, to be withdrawn by hand.
   */
  async newRule(person: Person, showId: string, request: NewRuleRequest): Promise<SeriesResult> {
    const { show } = await this.shows.whole(person.stationId, showId);
    const { id } = await this.seriesOf(show);
    const { series, pruned } = await this.turns.run(id, () => this.newRuleAlone(person, showId, request));
    return { ...NOTHING, ...pruned, made: await this.make(series) };
  }

  private async newRuleAlone(person: Person, showId: string, request: NewRuleRequest) {
    const { show } = await this.shows.whole(person.stationId, showId);
    const series = await this.seriesOf(show);
    const { placesByItself } = request;
    const date = show.seriesDate!;
    const { earlier, later } = this.ruled(series, date, request);
    let pattern = series.pattern;
    if (earlier) pattern = { ...pattern, episode: await this.episodeOn(series, date) };
    const next: Series = { ...series, id: earlier ? randomUUID() : series.id, repeat: later, placesByItself, pattern };
    if (earlier) Object.assign(next, await this.copiedPictures(series, next));
    const pruned = await together(this.database, async () => {
      if (earlier) {
        await this.seriesRows.change(series.id, { repeat: earlier });
        await this.seriesRows.add(next);
        await this.showRows.moveDates(series.id, date, next.id);
      } else await this.seriesRows.change(series.id, { repeat: later, placesByItself });
      return this.prune(next);
    });
    for (const id of pruned.forgotten) await this.thumbnails.forget({ id });
    return { series: next, pruned: { removed: pruned.forgotten.length, left: pruned.left } };
  }

  /** The rules after a change, looked at before anything is kept. `earlier` null: the whole series gets the new one. */
  private ruled(series: Series, date: string, request: NewRuleRequest): { earlier: Repeat | null; later: Repeat } {
    const repeat = repeatOf(request);
    const parting = request.scope === 'later' && date > series.repeat.from;
    const ruled = parting ? splitRepeat(series.repeat, date, repeat) : { earlier: null, later: { ...repeat, from: series.repeat.from } };
    const trouble = 'refused' in ruled ? ruled.refused : repeatTrouble(ruled.later);
    if (trouble !== null || 'refused' in ruled) throw new PlainError(422, trouble ?? '');
    return ruled;
  }

  /** Takes one date out of the series. It is withdrawn where it stands; answers with what a channel refused, in words. */
  async drop(person: Person, showId: string): Promise<DropResult> {
    const { show } = await this.shows.whole(person.stationId, showId);
    const { id } = await this.seriesOf(show);
    return this.turns.run(id, () => this.dropAlone(person, showId));
  }

  private async dropAlone(person: Person, showId: string): Promise<DropResult> {
    const { show, airings } = await this.shows.whole(person.stationId, showId);
    await this.seriesOf(show);
    if (!isStillPlanned(show)) throw new PlainError(409, 'This date has been on air. It cannot be dropped any more.');
    if (airings.some(({ airing }) => standsThere(airing))) {
      const failed = (await this.placing.withdraw(person.stationId, showId)).filter(({ done }) => !done);
      if (failed.length) return { refused: failed.map(({ words }) => words), removed: null };
    }
    const after = (await this.shows.whole(person.stationId, showId)).show;
    // What people were told of stays, and its page says that it does not take place; a mere draft leaves nothing behind.
    if (!isCalledOff(after)) return { refused: [], removed: await this.removal.remove(person, showId) };
    await together(this.database, async () => {
      await this.seriesRows.leaveOut(after.seriesId, after.seriesDate!);
      await this.showRows.setSeries(showId, NO_SERIES);
      await this.showRows.move(showId, after.state, 'left out');
    });
    this.bus.tell({ kind: 'show', showId });
    return { refused: [], removed: null };
  }

  /** Makes coming dates, and places what has come into reach. Refusals stand at their airings, where readiness finds them. */
  async tick(): Promise<void> {
    await this.work.now();
    await this.jobs.settled(MAKE);
    // What was made just now may be in reach.
    await this.work.now();
    await this.jobs.settled(REACH);
  }

  /** Each series and each show on its own: one that cannot be made or placed holds up no other. */
  private async seek(): Promise<void> {
    await this.jobs.needEach(MAKE, 'SELECT stationId, id FROM series');
    await this.jobs.needEach(REACH, `SELECT DISTINCT shows.stationId, shows.id ${WAITING}`, [this.clock.now()]);
  }

  private async makeById(id: string): Promise<void> {
    const series = await this.seriesRows.byId(id);
    if (series) await this.make(series);
  }

  /** Places what waits for it on the channels that take it by now. */
  private async placeInReach(showId: string): Promise<void> {
    const now = this.clock.now();
    const rows: { id: string }[] = await this.database.query(`SELECT airings.id ${WAITING} AND shows.id = ?`, [now, showId]);
    const waiting = new Set(rows.map(({ id }) => id));
    const show = await this.showRows.byId(showId);
    if (!waiting.size || !show || show.toLook.includes('time')) return;
    const station = await this.airings.station(show.stationId);
    const due = (await this.shows.airingsOf(show)).filter(({ airing, channel }) => {
      if (!waiting.has(airing.id) || this.access.stateOf(channel) !== 'good') return false;
      const findings = checkShow(this.airings.checked(show, airing, channel, station), this.ruleBook.rules(channel), now);
      return !findings.some(({ code }) => code === 'start-too-far');
    });
    if (!due.length) return;
    const ids = due.map(({ airing }) => airing.id);
    await this.placing.place(show.stationId, show.id, ids).catch(async (error: unknown) => {
      if (!(error instanceof PlainError)) throw error;
      // Somebody is placing it at this moment: it is looked at again in a minute.
      if (error.status === BUSY) return;
      // It would be tried again every minute otherwise; whoever mends it places it.
      await this.airingRows.refuse(ids, error.words);
    });
  }

  private async makeOne(series: Series, { date, startsAt, wall }: Occurrence): Promise<Show> {
    const draft: ShowDraft = {
      ...series.pattern,
      ...wallTimeOf(startsAt, series.zone),
      zone: series.zone,
      fold: wall === 'twice' ? 'earlier' : null,
      episode: await this.episodeOn(series, date),
      channelIds: await this.stillThere(series),
      ticked: [],
      said: [],
      // A start that a clock change skips or doubles is asked about before it is placed.
      toLook: wall === 'once' ? [] : ['time'],
    };
    const lines = draft.lines.filter(({ channelId }) => draft.channelIds.includes(channelId));
    return this.shows.draftWithPictures(series.stationId, { ...draft, lines }, null, series, { seriesId: series.id, seriesDate: date });
  }

  /** Channels of the pattern that are still the station's. */
  private async stillThere({ pattern }: Series): Promise<string[]> {
    const known = await this.channelRows.linkedIds();
    return pattern.channelIds.filter((id) => known.has(id));
  }

  /** Episodes are counted on from the first of the series, dropped dates too; a number that another date has by now is never given twice. */
  private async episodeOn({ id, pattern, repeat }: Series, date: string): Promise<number | null> {
    if (pattern.episode === null) return null;
    const before = datesOf({ ...repeat, dropped: [] }, repeat.from, dateOfDay(dayNumber(date)! - 1)).length;
    const rows = (await this.showRows.datesOf(id)).filter(({ seriesDate }) => seriesDate !== date);
    const taken = new Set(rows.map(({ episode }) => episode));
    const own = pattern.episode + before;
    return taken.has(own) ? Math.max(own, ...rows.map(({ episode }) => episode ?? 0)) + 1 : own;
  }

  private async copiedPictures(from: Series, to: Series): Promise<Pick<Series, 'picture' | 'waiting'>> {
    const { thumbnail, waiting } = await this.shows.copiedPictures(from, to);
    return { picture: thumbnail, waiting };
  }

  /** The picture of one date becomes that of the series; its file is the series' own, whatever becomes of the date. */
  private async takePicture(series: Series, show: Show): Promise<void> {
    const { thumbnail, waiting } = await this.shows.copiedPictures({ id: show.id, picture: show.thumbnail, waiting: show.waiting }, series);
    Object.assign(series, { picture: thumbnail, waiting });
  }

  private async rewrite(show: Show, draft: ShowDraft, fields: readonly string[], person: Person): Promise<void> {
    const { differs } = show;
    // A channel on which this date stands is not taken off unseen: it has to be withdrawn there first.
    const standing = (await this.airingRows.ofShow(show.id)).filter(standsThere).map(({ channelId }) => channelId);
    await this.shows.tickChannels(show.id, { ...draft, channelIds: [...new Set([...draft.channelIds, ...standing])] });
    await this.shows.write(show.id, columnsOf(plannedFacts(draft), fields), fields, person.name);
    // What comes from the series is no difference from it; a date that stands on channels has to tell them.
    await this.showRows.setSeries(show.id, { differs });
  }

  private async prune(series: Series): Promise<{ forgotten: string[]; left: DateOfSeries[] }> {
    const wanted = new Set(this.ahead(series).map(({ date }) => date));
    const left: DateOfSeries[] = [];
    const forgotten: string[] = [];
    for (const show of await this.coming(series)) {
      if (wanted.has(show.seriesDate!)) continue;
      const stands = (await this.airingRows.ofShow(show.id)).some(standsThere);
      if (!stands) {
        await this.showRows.remove(show.id);
        forgotten.push(show.id);
        continue;
      }
      await this.showRows.setSeries(show.id, NO_SERIES);
      left.push({ id: show.id, title: show.title, startsAt: show.startsAt, zone: show.zone });
    }
    return { forgotten, left };
  }

  private ahead({ repeat, time, zone }: Series): Occurrence[] {
    const now = this.clock.now();
    return occurrencesOf(repeat, time, zone, now, instant(now + HORIZON_MS), MOST_AHEAD);
  }

  private coming(series: Series): Promise<Show[]> {
    return this.showRows.comingOf(series.id, this.clock.now());
  }

  private async seriesOf(show: Show): Promise<Series> {
    const series = await this.seriesRows.byId(show.seriesId);
    if (!series) throw new PlainError(409, 'This show belongs to no series.');
    return series;
  }
}

/** What a show has that is no date of a series. */
const NO_SERIES = { seriesId: null, seriesDate: null, differs: [] };

function repeatOf({ pattern, from, ends, also, dropped }: RepeatRequest): Repeat {
  return { pattern, from, ends, also, dropped };
}

function pick(source: ShowDraft, fields: readonly DraftField[]): Partial<ShowDraft> {
  return Object.fromEntries(fields.filter((field) => field in source).map((field) => [field, source[field]]));
}

/** The start of `other` when it is moved by as many days as `show` was from its date by the rule. */
function movedWith(show: Show, other: Show, source: ShowDraft): Occurrence {
  const days = dayNumber(source.date)! - dayNumber(show.seriesDate!)!;
  return occurrenceOn(dateOfDay(dayNumber(other.seriesDate!)! + days), source.time, source.zone);
}
