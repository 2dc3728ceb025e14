// The station's plans as a calendar, and calendars as plans.
import type { CalendarReading, RepeatRequest } from '@lantern/contract';
import { instant, toRRule, utcStamp, wallTimeOf, fillPlaceholders, occurrenceOn, writeCalendar, type CalendarEvent } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource, In, MoreThan } from 'typeorm';
import { Clock } from '../foundation/clock';
import { Person, Station } from '../people/people.entities';
import { SeriesService } from '../series/series.service';
import { AiringsService } from '../shows/airings.service';
import { Series, Show } from '../shows/show.entities';
import { ShowsService } from '../shows/shows.service';
import { StartingPointsService } from '../shows/starting-points.service';
import { readCalendar } from './read-calendar';

/** How far back a feed goes: calendars keep what they were told. */
const PAST_MS = 90 * 86_400_000;

@Injectable()
export class CalendarService {
  constructor(
    private readonly database: DataSource,
    private readonly shows: ShowsService,
    private readonly airings: AiringsService,
    private readonly series: SeriesService,
    private readonly starts: StartingPointsService,
    private readonly clock: Clock,
  ) {}

  /** All shows of the station from three months back on; series by their rule, dates that differ beside it. */
  async write(station: Station): Promise<string> {
    const now = this.clock.now();
    const shows = await this.database
      .getRepository(Show)
      .find({ where: { stationId: station.id, startsAt: MoreThan(now - PAST_MS) }, order: { startsAt: 'ASC' } });
    const series = await this.database.getRepository(Series).findBy({ id: In(shows.flatMap(({ seriesId }) => (seriesId ? [seriesId] : []))) });
    const events: CalendarEvent[] = [];
    for (const one of series) {
      const first = occurrenceOn(one.repeat.from, one.time, one.zone).startsAt;
      const at = (date: string) => occurrenceOn(date, one.time, one.zone).startsAt;
      const until = one.repeat.ends.kind === 'until' ? utcStamp(at(one.repeat.ends.date)) : null;
      const { pattern } = one;
      const model = shows.find(({ seriesId }) => seriesId === one.id)!;
      events.push({
        uid: `${one.id}@noble-lantern`,
        ...{ title: pattern.title, text: pattern.description, startsAt: first, lengthMs: pattern.lengthMin * 60_000, zone: one.zone, url: '' },
        ...{ sequence: model.version, changedAt: instant(model.changedAt), status: 'CONFIRMED' as const, insteadOf: null },
        repeat: { rule: toRRule(one.repeat, until), added: one.repeat.also.map(at), taken: one.repeat.dropped.map(at) },
      });
    }
    for (const show of shows) {
      const own = series.find(({ id }) => id === show.seriesId);
      const byRule = own ? occurrenceOn(show.seriesDate!, own.time, own.zone).startsAt : null;
      // A date that is as the rule says needs no words of its own.
      if (own && byRule === show.startsAt && !show.differs.length && show.state !== 'withdrawn') continue;
      const zone = own?.zone ?? show.zone;
      events.push({
        uid: own ? `${own.id}@noble-lantern` : `${show.id}@noble-lantern`,
        title: show.title || 'Untitled',
        text: fillPlaceholders(show.description, this.airings.filling(show, null, station)).text,
        startsAt: instant(show.startsAt),
        lengthMs: show.lengthMs,
        zone,
        url: show.state === 'draft' ? '' : this.airings.houseUrl(show),
        sequence: show.version,
        changedAt: instant(show.changedAt),
        status: show.state === 'withdrawn' ? 'CANCELLED' : show.state === 'draft' ? 'TENTATIVE' : 'CONFIRMED',
        repeat: null,
        insteadOf: byRule,
      });
    }
    return writeCalendar(station.name, events, now);
  }

  /** Looks at a calendar file; with `take`, makes drafts of the events named, series where they repeat. */
  async read(person: Person, text: string, take: readonly string[] | undefined): Promise<CalendarReading> {
    const station = await this.airings.station(person.stationId);
    const events = await readCalendar(text, station.zone);
    const made: CalendarReading['made'] = [];
    for (const event of events) {
      if (!take?.includes(event.id) || !event.possible) continue;
      const { title, text: description, zone, lengthMin, repeat } = event;
      const start = wallTimeOf(instant(event.startsAt!), zone);
      const show = await this.starts.blank(person, title, { description, ...start, zone, lengthMin, fold: 'earlier' });
      if (repeat) {
        const request: RepeatRequest = { ...repeat, also: [...repeat.also], dropped: [...repeat.dropped], placesByItself: false };
        await this.series.begin(person, show.id, request);
      }
      made.push({ id: show.id, title });
    }
    const entries = events.map(({ id, title, startsAt, zone, lengthMin, repeats, trouble, possible }) => ({
      ...{ id, title, startsAt, zone, lengthMin, repeats, trouble, possible },
    }));
    return { entries, made };
  }
}
