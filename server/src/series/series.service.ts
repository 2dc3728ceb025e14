// Series: their dates become shows as they come near, what is changed on one date can be brought to others,
// and each date is placed when its channels take it.
import type { DraftField, NewRuleRequest, RepeatRequest, SeriesField, SeriesResult, SeriesScope, SeriesView, ShowDraft } from '@lantern/contract';
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
  wallTimeOf,
  type Occurrence,
  type Repeat,
} from '@lantern/core';
import { Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { DataSource, In, MoreThan, Not } from 'typeorm';
import { ChannelAccessService } from '../channels/access.service';
import { RuleBookService } from '../channels/rule-book.service';
import { Clock } from '../foundation/clock';
import { RegularWork } from '../foundation/regular-work';
import { PlainError } from '../foundation/errors';
import { Person } from '../people/people.entities';
import { AiringsService } from '../shows/airings.service';
import { draftOf, plannedFacts, whenOf } from '../shows/draft';
import { PlacingService } from '../shows/placing.service';
import { Airing, Series, Show, standsThere } from '../shows/show.entities';
import { columnsOf, ShowsService } from '../shows/shows.service';
import { Thumbnails } from '../shows/thumbnails';

/** Dates this far ahead become shows: as far as any network reaches, and a little. */
export const HORIZON_MS = 190 * DAY_MS;
/** A series that repeats often is made up to so many dates at a time. */
const MOST_AHEAD = 120;
const TICK_MS = MINUTE_MS;
/** The HTTP status of what cannot be done just now. */
const BUSY = 409;

@Injectable()
export class SeriesService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('series', TICK_MS, () => this.doAll());

  constructor(
    private readonly database: DataSource,
    private readonly shows: ShowsService,
    private readonly airings: AiringsService,
    private readonly placing: PlacingService,
    private readonly ruleBook: RuleBookService,
    private readonly access: ChannelAccessService,
    private readonly thumbnails: Thumbnails,
    private readonly clock: Clock,
  ) {}

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  /** All series of a station, for a long look ahead. */
  async list(stationId: string): Promise<SeriesView[]> {
    const all = await this.database.getRepository(Series).findBy({ stationId });
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
  async begin(person: Person, showId: string, request: RepeatRequest): Promise<SeriesResult> {
    const { show, airings } = await this.shows.whole(person.stationId, showId);
    if (show.seriesId) throw new PlainError(409, 'This show belongs to a series already. Change its rule instead.');
    const { date, time } = whenOf(show);
    const repeat = { ...repeatOf(request), from: date };
    if (!datesOf(repeat, date, date).length)
      throw new PlainError(422, 'The rule leaves out the date of this show. Choose a rule that it is part of, or move the show.');
    const series = Object.assign(new Series(), {
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
    } satisfies Series);
    await this.takePicture(series, show);
    await this.database.transaction(async (entities) => {
      await entities.save(series);
      await entities.update(Show, { id: show.id }, { seriesId: series.id, seriesDate: date, differs: [], version: show.version + 1 });
    });
    return { changed: 0, made: await this.make(series), removed: 0, left: [] };
  }

  /** Makes the dates that have come within the horizon and are not there yet. Answers with how many. */
  async make(series: Series): Promise<number> {
    const dates = await this.database.getRepository(Show).find({ where: { seriesId: series.id }, select: { id: true, seriesDate: true } });
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
    const { show, airings } = await this.shows.whole(person.stationId, showId);
    const series = await this.seriesOf(show);
    const source = draftOf(
      show,
      airings.map(({ airing }) => airing),
    );
    const spreading = fields.filter((field) => show.differs.includes(field));
    const timed = spreading.some((field) => field === 'time' || field === 'zone' || field === 'date');
    const plain = spreading.filter((field): field is DraftField => !['time', 'zone', 'date', 'fold', 'thumbnail'].includes(field));
    const others = (await this.coming(series)).filter((other) => other.id !== show.id && (scope === 'all' || other.seriesDate! > show.seriesDate!));
    let changed = 0;
    for (const other of others) {
      const own = draftOf(other, await this.database.getRepository(Airing).findBy({ showId: other.id }));
      const merged: ShowDraft = {
        ...own,
        ...pick(
          source,
          plain.filter((field) => !other.differs.includes(field)),
        ),
      };
      if (timed && !other.differs.includes('time')) {
        const moved = movedWith(show, other, source);
        Object.assign(merged, { time: source.time, zone: source.zone, date: moved, fold: null });
      }
      await this.rewrite(other, merged, spreading, person);
      changed += 1;
    }
    if (spreading.includes('thumbnail')) {
      await this.takePicture(series, show);
      for (const other of others) await this.shows.givePictures(series, other);
    }
    Object.assign(series.pattern, pick(source, plain));
    if (timed) Object.assign(series, { time: source.time, zone: source.zone });
    await this.database.getRepository(Series).save(series);
    const differs = timed && source.date !== show.seriesDate ? (['date'] as const) : [];
    await this.database.getRepository(Show).update({ id: show.id }, { differs: [...show.differs.filter((field) => !spreading.includes(field)), ...differs] });
    return { changed, made: await this.make(series), removed: 0, left: [] };
  }

  /**
   * Gives the series another rule: for all dates to come, or from one date on, which then begins a series of its own.
   * Dates that no longer belong go; those that stand on channels are left as single shows, to be withdrawn by hand.
   */
  async newRule(person: Person, showId: string, request: NewRuleRequest): Promise<SeriesResult> {
    const { show } = await this.shows.whole(person.stationId, showId);
    let series = await this.seriesOf(show);
    const repeat = repeatOf(request);
    if (request.scope === 'later' && show.seriesDate! > series.repeat.from) {
      series = await this.split(series, show.seriesDate!, { ...repeat, from: show.seriesDate! });
    } else {
      series.repeat = { ...repeat, from: series.repeat.from };
    }
    series.placesByItself = request.placesByItself;
    await this.database.getRepository(Series).save(series);
    const { removed, left } = await this.prune(series);
    return { changed: 0, made: await this.make(series), removed, left };
  }

  /** Takes one date out of the series. It is withdrawn where it stands; answers with what a channel refused, in words. */
  async drop(person: Person, showId: string): Promise<string[]> {
    const { show, airings } = await this.shows.whole(person.stationId, showId);
    const series = await this.seriesOf(show);
    if (show.state !== 'draft' && show.state !== 'placed') throw new PlainError(409, 'This date has been on air. It cannot be dropped any more.');
    if (airings.some(({ airing }) => standsThere(airing))) {
      const failed = (await this.placing.withdraw(person.stationId, showId)).filter(({ done }) => !done);
      if (failed.length) return failed.map(({ words }) => words);
    }
    series.repeat = { ...series.repeat, dropped: [...new Set([...series.repeat.dropped, show.seriesDate!])].sort() };
    await this.database.getRepository(Series).save(series);
    const { state } = (await this.shows.whole(person.stationId, showId)).show;
    // What stood somewhere is kept as a withdrawn show; a mere draft leaves nothing behind.
    if (state === 'draft') await this.database.getRepository(Show).delete({ id: showId });
    else await this.database.getRepository(Show).update({ id: showId }, { state: 'withdrawn', seriesId: null, seriesDate: null });
    return [];
  }

  /** Makes coming dates, and places what has come into reach. Refusals stand at their airings, where readiness finds them. */
  tick(): Promise<void> {
    return this.work.now();
  }

  private async doAll(): Promise<void> {
    for (const series of await this.database.getRepository(Series).find()) await this.make(series);
    await this.placeInReach();
  }

  private async placeInReach(): Promise<void> {
    const now = this.clock.now();
    const waiting = await this.database
      .getRepository(Airing)
      .createQueryBuilder('airing')
      .innerJoin(Show, 'show', `show.id = airing.showId AND show.state IN ('draft', 'placed') AND show.startsAt > :now`, { now })
      .leftJoin(Series, 'series', 'series.id = show.seriesId')
      .where(`airing.placing = 'awaits reach' OR (airing.placing = 'none' AND series.placesByItself = 1)`)
      .orderBy('show.startsAt')
      .getMany();
    for (const showId of new Set(waiting.map((airing) => airing.showId))) {
      const show = await this.database.getRepository(Show).findOneByOrFail({ id: showId });
      if (show.toLook.includes('time')) continue;
      const station = await this.airings.station(show.stationId);
      const due = (await this.shows.airingsOf(show)).filter(({ airing, channel }) => {
        if (!waiting.some(({ id }) => id === airing.id) || this.access.stateOf(channel) !== 'good') return false;
        const findings = checkShow(this.airings.checked(show, airing, channel, station), this.ruleBook.rules(channel), now);
        return !findings.some(({ code }) => code === 'start-too-far');
      });
      if (!due.length) continue;
      const ids = due.map(({ airing }) => airing.id);
      await this.placing.place(show.stationId, show.id, ids).catch(async (error: unknown) => {
        if (!(error instanceof PlainError)) throw error;
        // Somebody is placing it at this moment: it is looked at again in a minute.
        if (error.status === BUSY) return;
        // It would be tried again every minute otherwise; whoever mends it places it.
        await this.database.getRepository(Airing).update({ id: In(ids) }, { placing: 'refused', refusal: error.words });
      });
    }
  }

  private async makeOne(series: Series, { date, startsAt, wall }: Occurrence): Promise<void> {
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
    const show = await this.shows.draft(series.stationId, { ...draft, lines }, null, { seriesId: series.id, seriesDate: date });
    if (series.picture || series.waiting) await this.shows.givePictures(series, show);
  }

  /** Channels of the pattern that are still the station's. */
  private async stillThere({ pattern }: Series): Promise<string[]> {
    const rows: { id: string }[] = await this.database.query(`SELECT id FROM channels WHERE access <> 'unlinked'`);
    const known = new Set(rows.map(({ id }) => id));
    return pattern.channelIds.filter((id) => known.has(id));
  }

  /** Episodes are counted on from the first of the series. */
  private async episodeOn({ pattern, repeat }: Series, date: string): Promise<number | null> {
    if (pattern.episode === null) return null;
    const before = datesOf(repeat, repeat.from, dateOfDay(dayNumber(date)! - 1)).length;
    return pattern.episode + before;
  }

  /** The picture of one date becomes that of the series; its file is the series' own, whatever becomes of the date. */
  private async takePicture(series: Series, show: Show): Promise<void> {
    const { thumbnail, waiting } = await this.shows.copiedPictures({ id: show.id, picture: show.thumbnail, waiting: show.waiting }, series);
    Object.assign(series, { picture: thumbnail, waiting });
  }

  private async rewrite(show: Show, draft: ShowDraft, fields: readonly string[], person: Person): Promise<void> {
    const { differs } = show;
    await this.database.transaction(async (entities) => {
      // A channel on which this date stands is not taken off unseen: it has to be withdrawn there first.
      const standing = (await entities.findBy(Airing, { showId: show.id })).filter(standsThere).map(({ channelId }) => channelId);
      await this.shows.tickChannels(entities, show.id, { ...draft, channelIds: [...new Set([...draft.channelIds, ...standing])] });
      await this.shows.write(entities, show.id, columnsOf(plannedFacts(draft), fields), fields, person.name);
      // What comes from the series is no difference from it; a date that stands on channels has to tell them.
      await entities.update(Show, { id: show.id }, { differs });
    });
  }

  private async prune(series: Series): Promise<Pick<SeriesResult, 'removed' | 'left'>> {
    const wanted = new Set(this.ahead(series).map(({ date }) => date));
    const left: SeriesResult['left'] = [];
    let removed = 0;
    for (const show of await this.coming(series)) {
      if (wanted.has(show.seriesDate!)) continue;
      const stands = (await this.database.getRepository(Airing).findBy({ showId: show.id })).some(standsThere);
      if (!stands) {
        await this.database.getRepository(Show).delete({ id: show.id });
        await this.thumbnails.forget(show);
        removed += 1;
        continue;
      }
      await this.database.getRepository(Show).update({ id: show.id }, { seriesId: null, seriesDate: null, differs: [] });
      left.push({ id: show.id, title: show.title, startsAt: show.startsAt, zone: show.zone });
    }
    return { removed, left };
  }

  /** Ends a series the day before `date` and makes another of what comes from then on. */
  private async split(series: Series, date: string, repeat: Repeat): Promise<Series> {
    const later = Object.assign(new Series(), series, {
      id: randomUUID(),
      repeat,
      pattern: { ...series.pattern, episode: await this.episodeOn(series, date) },
    });
    const dayBefore = dateOfDay(dayNumber(date)! - 1);
    const { pattern, from, ends, also, dropped } = series.repeat;
    const done = pattern && datesOf(series.repeat, from, dayBefore).length;
    series.repeat = {
      pattern,
      from,
      ends: ends.kind === 'count' && done ? { kind: 'count', count: done } : { kind: 'until', date: dayBefore },
      also: also.filter((each) => each < date),
      dropped: dropped.filter((each) => each < date),
    };
    await this.database.transaction(async (entities) => {
      await entities.save([series, later]);
      const rows = (await entities.findBy(Show, { seriesId: series.id })).filter(({ seriesDate }) => seriesDate! >= date);
      if (rows.length) await entities.update(Show, { id: In(rows.map(({ id }) => id)) }, { seriesId: later.id });
    });
    return later;
  }

  private ahead({ repeat, time, zone }: Series): Occurrence[] {
    const now = this.clock.now();
    return occurrencesOf(repeat, time, zone, now, instant(now + HORIZON_MS), MOST_AHEAD);
  }

  private coming(series: Series): Promise<Show[]> {
    const where = { seriesId: series.id, startsAt: MoreThan(this.clock.now()), state: Not(In(['onAir', 'interrupted', 'over', 'withdrawn'])) };
    return this.database.getRepository(Show).find({ where, order: { startsAt: 'ASC' } });
  }

  private async seriesOf(show: Show): Promise<Series> {
    const series = show.seriesId === null ? null : await this.database.getRepository(Series).findOneBy({ id: show.seriesId });
    if (!series) throw new PlainError(409, 'This show belongs to no series.');
    return series;
  }
}

function repeatOf({ pattern, from, ends, also, dropped }: RepeatRequest): Repeat {
  return { pattern, from, ends, also, dropped };
}

function pick(source: ShowDraft, fields: readonly DraftField[]): Partial<ShowDraft> {
  return Object.fromEntries(fields.filter((field) => field in source).map((field) => [field, source[field]]));
}

/** The date of `other` when it is moved by as many days as `show` was from its date by the rule. */
function movedWith(show: Show, other: Show, source: ShowDraft): string {
  const days = dayNumber(source.date)! - dayNumber(show.seriesDate!)!;
  const date = dateOfDay(dayNumber(other.seriesDate!)! + days);
  return wallTimeOf(occurrenceOn(date, source.time, source.zone).startsAt, source.zone).date;
}
