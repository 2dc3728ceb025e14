// The rows of shows. All that other parts ask of them, and all that they may write, is said here; what is typed into a sheet is
// written by ShowsService alone. Called within `together`, each belongs to that transaction.
import type { ShowState } from '@lantern/contract';
import { showAfter, type OwnValues, type ShowEvent } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { Between, DataSource, In, IsNull, LessThan, MoreThan, MoreThanOrEqual, Not, type FindOptionsSelect, type Repository } from 'typeorm';
import { addRow, changeRow } from '../foundation/together';
import { Show, type Trailer } from './show.entities';

/** The pictures of a show, which make themselves anew behind its sheet. */
export type PictureColumns = Partial<Pick<Show, 'thumbnail' | 'waiting' | 'thumbnailAlternative'>>;
/** What of a show's sheet a rehearsal follows. */
export type OwnColumns = OwnValues & Pick<Show, 'zone' | 'lengthMs' | 'thumbnail' | 'waiting' | 'version' | 'changedAt' | 'changedBy'>;
/** What a show has of its series. */
export type SeriesColumns = Partial<Pick<Show, 'seriesId' | 'seriesDate' | 'differs'>>;

/** What lists, calendars and pages tell of: shows, and never their rehearsals. */
export const SHOWS_ALONE = { rehearsalOf: IsNull() } as const;

@Injectable()
export class ShowRows {
  constructor(private readonly database: DataSource) {}

  private get rows(): Repository<Show> {
    return this.database.getRepository(Show);
  }

  byId(id: string): Promise<Show | null> {
    return this.rows.findOneBy({ id });
  }

  mustBe(id: string): Promise<Show> {
    return this.rows.findOneByOrFail({ id });
  }

  bySlug(slug: string): Promise<Show | null> {
    return this.rows.findOneBy({ slug, ...SHOWS_ALONE });
  }

  byShort(short: string): Promise<Show | null> {
    return this.rows.findOneBy({ short, ...SHOWS_ALONE });
  }

  /** Earlier shows of the same series, or of the same name where it belongs to none, that began in a range of time; the latest first. */
  before(show: Show, { from, to, most }: { from: number; to: number; most: number }): Promise<Show[]> {
    const { stationId, id, title, seriesId, startsAt } = show;
    const same = seriesId === null ? { seriesId: IsNull(), title } : { seriesId };
    const earlier = { stationId, state: 'over' as const, id: Not(id), startsAt: Between(from, Math.min(to, startsAt - 1)), ...SHOWS_ALONE, ...same };
    return this.rows.find({ where: earlier, order: { startsAt: 'DESC' }, take: most });
  }

  /** What a show is called in the words of somebody who is told about it; it may be gone. */
  async titleOf(id: string): Promise<string> {
    return (await this.rows.findOne({ where: { id }, select: { id: true, title: true } }))?.title ?? 'a show';
  }

  async stationOf(id: string): Promise<string | null> {
    return (await this.rows.findOne({ where: { id }, select: { id: true, stationId: true } }))?.stationId ?? null;
  }

  /** The dates of a series from one moment on that may still take place, in their order. */
  datesToCome(seriesId: string, from: number): Promise<Show[]> {
    return this.rows.find({
      where: { seriesId, startsAt: MoreThanOrEqual(from), state: In(['draft', 'placed', 'withdrawn']), ...SHOWS_ALONE },
      order: { startsAt: 'ASC' },
      take: 40,
    });
  }

  some(ids: readonly string[], states: readonly ShowState[]): Promise<Show[]> {
    return this.rows.find({ where: { id: In([...ids]), state: In([...states]) }, order: { startsAt: 'ASC' } });
  }

  /** Those of a station in these states, in the order of their starts. */
  inState(stationId: string, states: readonly ShowState[]): Promise<Show[]> {
    return this.rows.find({ where: { stationId, state: In([...states]), ...SHOWS_ALONE }, order: { startsAt: 'ASC' } });
  }

  /** Those of a station that begin after a moment, in any state. */
  startingAfter(stationId: string, moment: number): Promise<Show[]> {
    return this.rows.find({ where: { stationId, startsAt: MoreThan(moment), ...SHOWS_ALONE }, order: { startsAt: 'ASC' } });
  }

  /** Those that may need a line after a moment. */
  needingLines(stationId: string, moment: number): Promise<Show[]> {
    return this.rows.findBy({ stationId, state: In(['draft', 'placed', 'onAir', 'interrupted']), startsAt: MoreThan(moment), ...SHOWS_ALONE });
  }

  /** Those that anybody may find. */
  public(stationId: string, most: number): Promise<Show[]> {
    const where = { stationId, houseVisibility: 'everyone' as const, state: In(['placed', 'onAir', 'interrupted', 'over']), ...SHOWS_ALONE };
    return this.rows.find({ where, order: { startsAt: 'ASC' }, take: most });
  }

  /** Those for everyone that are still to come and were placed after `since` and not after `until`. */
  placedBetween(stationId: string, since: number, until: number, startingAfter: number, most: number): Promise<Show[]> {
    const where = {
      ...{ stationId, state: 'placed' as const, houseVisibility: 'everyone' as const, ...SHOWS_ALONE },
      ...{ placedAt: Between(since + 1, until), startsAt: MoreThan(startingAfter) },
    };
    return this.rows.find({ where, order: { startsAt: 'ASC' }, take: most });
  }

  withAnnouncements(): Promise<Show[]> {
    return this.rows.find({ where: { state: In(['placed', 'onAir']), announcements: Not('[]' as never), ...SHOWS_ALONE } });
  }

  withTrailer(): Promise<Pick<Show, 'id' | 'trailer'>[]> {
    return this.rows.find({ where: { trailer: Not(IsNull()) }, select: { id: true, trailer: true } });
  }

  /** Those of a station with what is seen on them of the library, and no more. */
  withPictures(stationId: string): Promise<Pick<Show, 'id' | 'title' | 'startsAt' | 'zone' | 'seriesId' | 'people' | 'clips' | 'thumbnail' | 'waiting'>[]> {
    const select: FindOptionsSelect<Show> = {
      id: true,
      title: true,
      startsAt: true,
      zone: true,
      seriesId: true,
      people: true as never,
      clips: true as never,
      thumbnail: true,
      waiting: true,
    };
    return this.rows.find({ where: { stationId, ...SHOWS_ALONE }, select, order: { startsAt: 'ASC' } });
  }

  /** Those that take their turn after a series' rule: what tells one date from another. */
  datesOf(seriesId: string): Promise<Pick<Show, 'id' | 'seriesDate' | 'episode'>[]> {
    return this.rows.find({ where: { seriesId }, select: { id: true, seriesDate: true, episode: true } });
  }

  /** Dates of a series that are still to come and may be changed with it. */
  comingOf(seriesId: string, now: number): Promise<Show[]> {
    const where = { seriesId, startsAt: MoreThan(now), state: In(['draft', 'placed']) };
    return this.rows.find({ where, order: { startsAt: 'ASC' } });
  }

  dateBefore(seriesId: string, seriesDate: string): Promise<Show | null> {
    return this.rows.findOne({ where: { seriesId, seriesDate: LessThan(seriesDate) }, order: { seriesDate: 'DESC' } });
  }

  /** The rehearsals of a show, the newest first. */
  rehearsalsOf(showId: string): Promise<Show[]> {
    return this.rows.find({ where: { rehearsalOf: showId }, order: { madeAt: 'DESC' } });
  }

  /** Those that are on air at a station, for its people. */
  rehearsing(stationId: string): Promise<Show[]> {
    return this.rows.findBy({ stationId, rehearsalOf: Not(IsNull()), state: In(['onAir', 'interrupted']) });
  }

  rehearsalsMadeBefore(moment: number): Promise<Show[]> {
    return this.rows.findBy({ rehearsalOf: Not(IsNull()), madeAt: LessThan(moment) });
  }

  /** Has a rehearsal be as its show is by now. */
  async setRehearsed(id: string, columns: Partial<OwnColumns>): Promise<void> {
    await changeRow(this.database.manager, Show, { id }, columns);
  }

  async add(show: Show): Promise<Show> {
    return addRow(this.database.manager, Show, show);
  }

  /**
   * Takes a show out of one state by an event, as the table of its life says (core/shows/life.ts). False: somebody else took it out of that
   * state before. Throws where this state does not know the event: asking for that is a mistake of whoever asks.
   */
  async move(id: string, from: ShowState, event: ShowEvent, more: Partial<Pick<Show, 'onAirSince' | 'endedAt'>> = {}): Promise<boolean> {
    const state = showAfter(from, event);
    if (state === null) throw new Error(`A show that is ${from} is not taken further by “${event}”.`);
    return (await changeRow(this.database.manager, Show, { id, state: from }, { state, ...more })) > 0;
  }

  /** Those of every station in a state. */
  allInState(state: ShowState): Promise<Show[]> {
    return this.rows.find({ where: { state }, order: { startsAt: 'ASC' } });
  }

  async setPictures(id: string, pictures: PictureColumns): Promise<void> {
    await changeRow(this.database.manager, Show, { id }, pictures);
  }

  async setBreakCard(id: string, breakCard: string): Promise<void> {
    await changeRow(this.database.manager, Show, { id }, { breakCard });
  }

  async setTrailer(id: string, trailer: Trailer | null): Promise<void> {
    await changeRow(this.database.manager, Show, { id }, { trailer });
  }

  async setReplay(id: string, houseReplay: boolean): Promise<void> {
    await changeRow(this.database.manager, Show, { id }, { houseReplay });
  }

  async setPosted(id: string, said: Show['said'], posted: Show['posted']): Promise<void> {
    await changeRow(this.database.manager, Show, { id }, { said, posted });
  }

  async setSeries(id: string, columns: SeriesColumns): Promise<void> {
    await changeRow(this.database.manager, Show, { id }, columns);
  }

  /** Dates from one on go over to another series. */
  async moveDates(seriesId: string, from: string, to: string): Promise<void> {
    await changeRow(this.database.manager, Show, { seriesId, seriesDate: MoreThanOrEqual(from) }, { seriesId: to });
  }

  async remove(id: string): Promise<void> {
    await this.rows.delete({ id });
  }
}
