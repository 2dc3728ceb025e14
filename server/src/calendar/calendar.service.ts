// The station's plans as a calendar, and calendars as plans.
import type { CalendarReading, ShowDraft } from '@lantern/contract';
import {
  fillPlaceholders,
  instant,
  occurrenceOn,
  seriesEvents,
  writeCalendar,
  type CalendarEvent,
  type CalendarWords,
  BLANK_SHEET,
  whenOf,
} from '@lantern/core';
import { Injectable, Logger } from '@nestjs/common';
import { ForeignFiles } from '../foreign/foreign-files';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import type { Person, Station } from '../people/people.entities';
import { SeriesService } from '../series/series.service';
import { AiringsService } from '../shows/airings.service';
import type { Show } from '../shows/show.entities';
import { isCalledOff } from '../shows/show-facts';
import { ShowsService } from '../shows/shows.service';
import type { ReadEvent } from '../foreign/read-calendar';
import { ShowRows } from '../shows/show-rows';
import { SeriesRows } from '../shows/series-rows';

/** How far back a feed goes: calendars keep what they were told. */
const PAST_MS = 90 * 86_400_000;

@Injectable()
export class CalendarService {
  private readonly log = new Logger('calendar');

  constructor(
    private readonly seriesRows: SeriesRows,
    private readonly showRows: ShowRows,
    private readonly shows: ShowsService,
    private readonly airings: AiringsService,
    private readonly series: SeriesService,
    private readonly foreign: ForeignFiles,
    private readonly clock: Clock,
  ) {}

  /** All shows of the station from three months back on; series by their rule, dates that differ beside it. */
  async write(station: Station): Promise<string> {
    const now = this.clock.now();
    const shows = await this.showRows.startingAfter(station.id, now - PAST_MS);
    const series = await this.seriesRows.some([...new Set(shows.flatMap(({ seriesId }) => (seriesId ? [seriesId] : [])))]);
    const events: CalendarEvent[] = [];
    for (const one of series) {
      const { id, repeat, time, zone, pattern } = one;
      const dates = shows.filter(({ seriesId }) => seriesId === id);
      const { version: sequence, changedAt } = dates[0]!;
      const words = { title: pattern.title, text: pattern.description, lengthMs: pattern.lengthMin * 60_000, url: '', sequence, changedAt: instant(changedAt) };
      // A date that is as the rule says needs no words of its own.
      const differing = dates.filter(
        (show) => occurrenceOn(show.seriesDate!, time, zone).startsAt !== show.startsAt || show.differs.length > 0 || isCalledOff(show),
      );
      events.push(
        ...seriesEvents(
          { uid: `${id}@noble-lantern`, repeat, time, zone, ...words },
          differing.map((show) => ({ date: show.seriesDate!, startsAt: instant(show.startsAt), status: statusOf(show), ...this.words(show, station) })),
        ),
      );
    }
    for (const show of shows.filter(({ seriesId }) => !series.some(({ id }) => id === seriesId))) {
      const { startsAt, zone } = show;
      events.push({
        ...{ uid: `${show.id}@noble-lantern`, startsAt: instant(startsAt), zone, status: statusOf(show), repeat: null, insteadOf: null },
        ...this.words(show, station),
      });
    }
    return writeCalendar(station.name, events, now);
  }

  private words(show: Show, station: Station): CalendarWords {
    return {
      title: show.title || 'Untitled',
      text: fillPlaceholders(show.description, this.airings.filling(show, null, station)).text,
      lengthMs: show.lengthMs,
      url: show.state === 'draft' ? '' : this.airings.houseUrl(show),
      sequence: show.version,
      changedAt: instant(show.changedAt),
    };
  }

  /** Looks at a calendar file; with `take`, makes drafts of the events named, series where they repeat: of each event all or nothing. */
  async read(person: Person, text: string, take: readonly string[] | undefined): Promise<CalendarReading> {
    const station = await this.airings.station(person.stationId);
    const events = await this.foreign.ask<ReadEvent[]>({ kind: 'calendar', text, zone: station.zone });
    const made: CalendarReading['made'] = [];
    const refused: CalendarReading['refused'] = [];
    for (const event of events) {
      if (!take?.includes(event.id) || !event.possible) continue;
      try {
        made.push({ id: await this.takeOver(person, event), title: event.title });
      } catch (error) {
        if (!(error instanceof PlainError))
          this.log.error(error instanceof Error ? error.message : String(error), error instanceof Error ? error.stack : undefined);
        const words = error instanceof PlainError ? error.words : 'Something went wrong here. Nothing was made of it; try again.';
        refused.push({ title: event.title, words });
      }
    }
    const entries = events.map(({ id, title, startsAt, zone, lengthMin, repeats, trouble, possible }) => ({
      ...{ id, title, startsAt, zone, lengthMin, repeats, trouble, possible },
    }));
    return { entries, made, refused };
  }

  private async takeOver(person: Person, event: ReadEvent): Promise<string> {
    const { title, text: description, zone, lengthMin, repeat, time, changes } = event;
    const start = whenOf(event.startsAt!, zone);
    const draft: ShowDraft = { ...BLANK_SHEET, title, description, ...start, zone, lengthMin };
    if (repeat) return this.series.takeOver(person, { ...draft, time, fold: null }, repeat, changes);
    return (await this.shows.draft(person.stationId, draft, person)).id;
  }
}

function statusOf(show: Show): CalendarEvent['status'] {
  return isCalledOff(show) ? 'CANCELLED' : show.state === 'draft' ? 'TENTATIVE' : 'CONFIRMED';
}
