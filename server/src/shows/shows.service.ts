// Planning: shows and their airings, and who may see them. What one types is kept field by field, so that
// two people at one sheet never overwrite each other unawares.
import {
  ShowDraft,
  SHOWS_ON_A_PAGE,
  type EarlierShow,
  type KnownWords,
  type ShowsAsked,
  type AiringView,
  type DraftField,
  type PlacingState,
  type SeriesField,
  type SaveConflict,
  type SaveResult,
  type SeriesOfShow,
  type ShowChange,
  type ShowPictureName,
  type ShowSummary,
  type ShowView,
  type UntoldField,
  type ThumbnailView,
  type TrailerView,
} from '@lantern/contract';
import {
  AIRING_FIELDS,
  changedTogether,
  columnsFor,
  DAY_MS,
  differencesOf,
  fieldOfKey,
  isChangedOnAir,
  isOfOneDate,
  mergeChanges,
  ownValues,
  sayFixedOnAir,
  settingsFor,
  SHEET_FIELDS,
  whenOf,
  type KeptOfSheet,
  type SheetField,
  type ShowFacts,
} from '@lantern/core';
import { Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import { plainToInstance } from 'class-transformer';
import { validate } from 'class-validator';
import { randomBytes, randomUUID } from 'node:crypto';
import { DataSource, In, LessThan, MoreThanOrEqual, Raw } from 'typeorm';
import type { Channel } from '../channels/channel.entities';
import { ChannelRows, LineRows } from '../channels/channel-rows';
import { placeName } from '../channels/access.service';
import { ChannelsService, identityOf } from '../channels/channels.service';
import { RuleBookService } from '../channels/rule-book.service';
import { Clock } from '../foundation/clock';
import { digestOf } from '../foundation/digest';
import { FieldError, PlainError, unknownShow } from '../foundation/errors';
import type { Person, Station } from '../people/people.entities';
import { changeRow, together } from '../foundation/together';
import { AiringRows } from './airing-rows';
import { AiringsService } from './airings.service';
import { draftOf, plannedFacts } from './draft';
import { BLANK_AIRING, BLANK_SHOW } from './blank';
import { Show, type Airing, type ShowPicture, type Trailer } from './show.entities';
import { SeriesRows } from './series-rows';
import { ShowRows, SHOWS_ALONE, type SeriesColumns } from './show-rows';
import { isStillPlanned, standsThere } from './show-facts';
import { Thumbnails, waitingOf } from './thumbnails';
import { Bus } from '../foundation/bus';

/** For how long past shows are told without being asked for. */
const NEAR_MS = 30 * DAY_MS;
const MOST_NEAR = 5_000;
const MOST_FOUND = 60;
const MOST_SUGGESTED = 200;
const EARLIER_SHOWN = 6;
const IDS_AT_ONCE = 500;
const SUMMARIES_AT_ONCE = 50;
const MOST_COMPARISONS = 20_000;

/** A show with what belongs to it. */
export interface WholeShow {
  show: Show;
  airings: { airing: Airing; channel: Channel }[];
}

@Injectable()
export class ShowsService implements OnApplicationBootstrap {
  /** By airing, what comparing it with its channel came to. */
  private readonly comparisons = new Map<string, { key: string; drifted: boolean }>();

  constructor(
    private readonly database: DataSource,
    private readonly rows: ShowRows,
    private readonly airingRows: AiringRows,
    private readonly seriesRows: SeriesRows,
    private readonly channelRows: ChannelRows,
    private readonly lineRows: LineRows,
    private readonly channels: ChannelsService,
    private readonly airings: AiringsService,
    private readonly ruleBook: RuleBookService,
    private readonly thumbnails: Thumbnails,
    private readonly bus: Bus,
    private readonly clock: Clock,
  ) {}

  /** Shows of a station, in the order of their starts. Never all that there ever were. */
  async list(stationId: string, { before, words }: ShowsAsked = {}): Promise<ShowSummary[]> {
    const shows = this.database.getRepository(Show);
    const now = this.clock.now();
    if (words?.trim()) {
      // Words as they stand: what stands for any letter elsewhere stands for itself here.
      const like = Raw((column) => `${column} LIKE :like ESCAPE '\\'`, { like: `%${words.trim().replace(/[\\%_]/g, '\\$&')}%` });
      const where = [{ title: like }, { description: like }, { room: like }, { people: like as never }].map((each) => ({ ...each, stationId, ...SHOWS_ALONE }));
      return this.summaries(stationId, await shows.find({ where, order: { startsAt: 'DESC' }, take: MOST_FOUND }));
    }
    if (before !== undefined)
      return this.summaries(
        stationId,
        await shows.find({ where: { stationId, startsAt: LessThan(before), ...SHOWS_ALONE }, order: { startsAt: 'DESC' }, take: SHOWS_ON_A_PAGE }),
      );
    const near = await shows.find({
      where: [
        { stationId, startsAt: MoreThanOrEqual(now - NEAR_MS), ...SHOWS_ALONE },
        { stationId, state: In(['onAir', 'interrupted']), startsAt: LessThan(now - NEAR_MS), ...SHOWS_ALONE },
      ],
      order: { startsAt: 'ASC' },
      take: MOST_NEAR,
    });
    return this.summaries(stationId, near);
  }

  private async summaries(stationId: string, shows: Show[]): Promise<ShowSummary[]> {
    const station = await this.airings.station(stationId);
    const byShow = new Map<string, Airing[]>(shows.map(({ id }) => [id, []]));
    const ids = [...byShow.keys()];
    for (let at = 0; at < ids.length; at += IDS_AT_ONCE) {
      const airings = await this.airingRows.ofShows(ids.slice(at, at + IDS_AT_ONCE));
      for (const airing of airings) byShow.get(airing.showId)!.push(airing);
      await new Promise((next) => setImmediate(next));
    }
    const rows = await this.channelRows.atStation(stationId);
    const channels = new Map(rows.map((channel) => [channel.id, { channel, context: this.airings.contextKey(channel, station) }]));
    const all: ShowSummary[] = [];
    for (const show of shows.sort((a, b) => a.startsAt - b.startsAt)) {
      all.push(this.summary(show, byShow.get(show.id)!, channels, station));
      // Comparing what stands on channels takes its time where many shows do: pictures pass in between.
      if (all.length % SUMMARIES_AT_ONCE === 0) await new Promise((next) => setImmediate(next));
    }
    return all;
  }

  private summary(show: Show, airings: Airing[], channels: Map<string, { channel: Channel; context: string }>, station: Station): ShowSummary {
    const { id, title, state, startsAt, zone, lengthMs, version, seriesId, people, room, onAirSince, endedAt, milestoneTimes, ticked, toLook } = show;
    const { announcements, said, placedAt, madeAt } = show;
    return {
      ...{ announcements, said, placedAt, madeAt },
      refusedPosts: Object.keys(show.posted).filter((posted) => show.posted[posted]!.words && !said.includes(posted)),
      ...{ id, title, state, startsAt, zone, lengthMs, version, seriesId, people, room, onAirSince, endedAt, milestoneTimes, ticked, toLook },
      hasPicture: show.thumbnail !== null,
      pictureUrl: show.thumbnail && glanceUrl(show.id, show.thumbnail.version),
      airings: airings
        .map((airing) => {
          const { channel, context } = channels.get(airing.channelId)!;
          const { placing, lineId } = airing;
          return {
            channelId: channel.id,
            network: channel.network,
            channelName: channel.name,
            placing,
            lineId,
            drifted: this.drifted(show, airing, channel, station, context),
          };
        })
        .sort((a, b) => a.network.localeCompare(b.network) || a.channelName.localeCompare(b.channelName)),
    };
  }

  /** Whether the channel says something else than it was told. Of what is over nobody asks that any more. */
  private drifted(show: Show, airing: Airing, channel: Channel, station: Station, context: string): boolean {
    if (!isStillPlanned(show)) return false;
    if (airing.gone || airing.seen === null) return airing.gone;
    // All that the comparison is made of; what did not change since is known.
    const key = digestOf(JSON.stringify([show.version, show.startsAt, airing.told, airing.seen, airing.placing, airing.watchUrl, context]));
    const known = this.comparisons.get(airing.id);
    if (known?.key === key) return known.drifted;
    if (this.comparisons.size > MOST_COMPARISONS) this.comparisons.clear();
    const drifted = this.drift(show, airing, channel, station).length > 0;
    this.comparisons.set(airing.id, { key, drifted });
    return drifted;
  }

  /** Names and rooms that were typed into sheets before, the most used first. */
  async knownWords(stationId: string): Promise<KnownWords> {
    const people: { name: string }[] = await this.database.query(
      `SELECT json_extract(person.value, '$.name') AS name, COUNT(*) AS times FROM shows, json_each(shows.people) AS person
       WHERE stationId = ? AND name <> '' GROUP BY name ORDER BY times DESC LIMIT ?`,
      [stationId, MOST_SUGGESTED],
    );
    const rooms: { room: string }[] = await this.database.query(
      `SELECT room, COUNT(*) AS times FROM shows WHERE stationId = ? AND room <> '' GROUP BY room ORDER BY times DESC LIMIT ?`,
      [stationId, MOST_SUGGESTED],
    );
    return { people: people.map(({ name }) => name), rooms: rooms.map(({ room }) => room) };
  }

  /** Of shows with one title the last that was on air, else the next to come; those that were on air last come first. */
  async earlier(stationId: string): Promise<EarlierShow[]> {
    const rows = await this.database.query<(Omit<EarlierShow, 'pictureUrl'> & { thumbnail: string | null })[]>(
      `SELECT id, title, startsAt, zone, thumbnail FROM (
         SELECT id, title, startsAt, zone, thumbnail, state = 'over' AS wasOn,
           ROW_NUMBER() OVER (PARTITION BY title ORDER BY state = 'over' DESC, CASE WHEN state = 'over' THEN -startsAt ELSE startsAt END) AS nth
         FROM shows WHERE stationId = ? AND rehearsalOf IS NULL)
       WHERE nth = 1 ORDER BY wasOn DESC, CASE WHEN wasOn THEN -startsAt ELSE startsAt END LIMIT ?`,
      [stationId, EARLIER_SHOWN],
    );
    return rows.map(({ thumbnail, ...show }) => {
      const picture = thumbnail === null ? null : (JSON.parse(thumbnail) as ShowPicture | null);
      return { ...show, pictureUrl: picture && glanceUrl(show.id, picture.version) };
    });
  }

  /** One show of the station. Throws 404 for an unknown one and for another station's alike. */
  async whole(stationId: string, id: string): Promise<WholeShow> {
    const show = await this.database.getRepository(Show).findOneBy({ id, stationId });
    if (!show) throw unknownShow();
    return { show, airings: await this.airingsOf(show) };
  }

  async airingsOf(show: Show): Promise<WholeShow['airings']> {
    const airings = await this.airingRows.ofShow(show.id);
    const channels = await this.channelRows.some(airings.map(({ channelId }) => channelId));
    return airings
      .map((airing) => ({ airing, channel: channels.find(({ id }) => id === airing.channelId)! }))
      .sort((a, b) => a.channel.network.localeCompare(b.channel.network) || a.channel.name.localeCompare(b.channel.name));
  }

  /** Brings the state of a show that has not been on air into step with its airings; without `id` of all shows, as after a kill. */
  async settleState(id?: string): Promise<void> {
    const among = (...states: PlacingState[]) =>
      `EXISTS (SELECT 1 FROM airings WHERE airings.showId = shows.id AND airings.placing IN (${states.map((state) => `'${state}'`).join()}))`;
    await this.database.query(
      `UPDATE shows SET
        state = CASE WHEN ${among('placed', 'unsure', 'awaits air', 'awaits reach')} THEN 'placed' WHEN state = 'placed' THEN 'draft' ELSE state END,
        placedAt = CASE WHEN placedAt IS NULL AND ${among('placed', 'awaits air', 'awaits reach')} THEN ? ELSE placedAt END
      WHERE rehearsalOf IS NULL AND state IN ('draft', 'placed', 'withdrawn')${id === undefined ? '' : ' AND id = ?'}`,
      [this.clock.now(), ...(id === undefined ? [] : [id])],
    );
  }

  /** A server that was killed in the middle of placing has left airings that say more than their show does. */
  onApplicationBootstrap(): Promise<void> {
    return this.settleState();
  }

  /** A new show. `more`: what it has beyond its sheet, as a date of a series has. */
  async draft(stationId: string, draft: ShowDraft, person: Person | null = null, more: Partial<Show> = {}): Promise<Show> {
    await this.channels.some(stationId, draft.channelIds);
    const made = await together(this.database, async () => {
      const show = Object.assign(new Show(), {
        ...BLANK_SHOW,
        id: randomUUID(),
        stationId,
        slug: randomBytes(9).toString('base64url'),
        short: shortName(),
        ...plannedFacts(draft),
        changedBy: person?.name ?? null,
        changedAt: this.clock.now(),
        madeAt: this.clock.now(),
        ...more,
      });
      await this.rows.add(show);
      await this.tickChannels(show.id, draft);
      return show;
    });
    this.bus.tell({ kind: 'show', showId: made.id });
    return made;
  }

  /** A new show with the pictures of another, of a series or of a template. The files come first, so that no row tells of a picture that is not there. */
  async draftWithPictures(
    stationId: string,
    draft: ShowDraft,
    person: Person | null,
    from: { id: string; picture: ShowPicture | null; waiting: ShowPicture | null } | null,
    more: Partial<Show> = {},
  ): Promise<Show> {
    if (!from?.picture && !from?.waiting) return this.draft(stationId, draft, person, more);
    const id = randomUUID();
    try {
      const show = await this.draft(stationId, draft, person, { ...more, id, ...(await this.copiedPictures(from, { id })) });
      this.bus.tell({ kind: 'show', showId: id });
      return show;
    } catch (error) {
      await this.thumbnails.forget({ id });
      throw error;
    }
  }

  /** Gives a show the pictures of another, of a series or of a template, and lets those that make themselves follow. */
  async givePictures(from: { id: string; picture: ShowPicture | null; waiting: ShowPicture | null }, show: Show): Promise<void> {
    Object.assign(show, await this.copiedPictures(from, show));
    await this.rows.setPictures(show.id, { thumbnail: show.thumbnail, waiting: show.waiting });
    this.bus.tell({ kind: 'show', showId: show.id });
  }

  async copiedPictures(
    { id, picture, waiting }: { id: string; picture: ShowPicture | null; waiting: ShowPicture | null },
    to: { id: string },
  ): Promise<{ thumbnail: ShowPicture | null; waiting: ShowPicture | null }> {
    return {
      thumbnail: picture && (await this.thumbnails.copy(id, to, picture)),
      waiting: waiting && (await this.thumbnails.copy(waitingOf({ id }).id, waitingOf(to), waiting)),
    };
  }

  /**
   * Keeps what somebody typed since they saw version `base`. A field that somebody else changed since, to something
   * else, is left as it is and answered as a conflict. Throws, and keeps nothing, where a changed field cannot be right.
   */
  async keep(person: Person, id: string, { base, changes: typed }: ShowChange): Promise<Omit<SaveResult, 'show'>> {
    // Looked at and written in one go: of two people who type the same field in the same moment, one meets what the other kept.
    const kept = await together(this.database, async () => {
      const { show, airings } = await this.whole(person.stationId, id);
      const changes = tidyChange(typed);
      mayChange(show, Object.keys(changes));
      const current = draftOf(
        show,
        airings.map(({ airing }) => airing),
      );
      const { merged: typedIn, accepted, ...merge } = mergeChanges(current, show.fieldVersions, base, changes);
      const conflicts = merge.conflicts.map(({ field, by }): SaveConflict => ({ field: field as DraftField, by }));
      if (!accepted.length) return { conflicts, wrote: false };
      const merged = await valid(typedIn, accepted);
      if (!isStillPlanned(show)) this.mustStayOnAir(airings, merged);
      await this.channels.some(person.stationId, merged.channelIds);
      await this.tickChannels(show.id, merged);
      await this.write(show.id, columnsOf(plannedFacts(merged), accepted), accepted, person.name);
      return { conflicts, wrote: true };
    });
    if (kept.wrote) this.bus.tell({ kind: 'show', showId: id });
    return { conflicts: kept.conflicts };
  }

  /** Throws where something was changed that a network keeps as it is while the show is on there: said before it is tried. */
  private mustStayOnAir(airings: WholeShow['airings'], { variants }: ShowDraft): void {
    for (const { airing, channel } of airings) {
      if (airing.placing !== 'placed') continue;
      const rules = this.ruleBook.rules(channel);
      const now = settingsFor(airing.choices, channel.defaults, rules);
      const wanted = settingsFor(variants.find(({ channelId }) => channelId === channel.id)?.choices ?? {}, channel.defaults, rules);
      const fixed = rules.fixedOnAir.filter((name) => name !== 'picture' && now[name] !== wanted[name]);
      if (fixed.length) throw new PlainError(409, sayFixedOnAir(fixed, placeName(channel)));
    }
  }

  /** Notes that fields of a show changed; the caller saves. On a date of a series they differ from the rest from now on. */
  noteChange(show: Show, keys: readonly string[], by: string): void {
    show.version += 1;
    show.changedBy = by;
    show.changedAt = this.clock.now();
    show.fieldVersions = { ...show.fieldVersions, ...Object.fromEntries(keys.map((key) => [key, { version: show.version, by }])) };
    if (show.seriesId === null) return;
    const fields = keys.map((key) => fieldOf(key) as SeriesField).filter((field) => field === 'thumbnail' || !isOfOneDate(field));
    show.differs = [...new Set([...show.differs, ...fields])];
  }

  /** Writes some columns of a show and notes that `keys` changed. What others wrote while the caller was at work stays as they wrote it. */
  async write(id: string, columns: Partial<Show>, keys: readonly string[], by: string): Promise<void> {
    await together(this.database, async (entities) => {
      const fresh = await this.rows.mustBe(id);
      this.noteChange(fresh, keys, by);
      const { version, fieldVersions, changedBy, changedAt, differs } = fresh;
      await changeRow(entities, Show, { id }, { ...columns, version, fieldVersions, changedBy, changedAt, differs });
    });
  }

  /** Makes a show one date of a series; whoever has its sheet open sees that it changed. */
  async joinSeries(id: string, columns: SeriesColumns): Promise<void> {
    await together(this.database, async (entities) => {
      const { version } = await this.rows.mustBe(id);
      await changeRow(entities, Show, { id }, { ...columns, version: version + 1 });
    });
  }

  /** Shows that need these channels, now or later, each with its airing there, in the order of their starts. */
  async usesOf(channelIds: readonly string[]): Promise<{ show: Show; airing: Airing }[]> {
    const airings = await this.airingRows.onChannels(channelIds);
    const shows = await this.rows.some(
      airings.map(({ showId }) => showId),
      ['draft', 'placed', 'onAir', 'interrupted'],
    );
    return shows.flatMap((show) => airings.filter(({ showId }) => showId === show.id).map((airing) => ({ show, airing })));
  }

  /** Shows that are still to come on a channel, as its rules see them. */
  async comingOn(channel: Channel): Promise<{ id: string; title: string; zone: string; facts: ShowFacts }[]> {
    const station = await this.airings.station(channel.stationId);
    return (await this.usesOf([channel.id]))
      .filter(({ show }) => isStillPlanned(show))
      .map(({ show, airing }) => ({ id: show.id, title: show.title, zone: show.zone, facts: this.airings.checked(show, airing, channel, station) }));
  }

  async view(whole: WholeShow): Promise<ShowView> {
    const { show, airings } = whole;
    const { id, state, startsAt, zone, lengthMs, version, changedBy, changedAt, madeAt, onAirSince, endedAt, posted, placedAt } = show;
    const station = await this.airings.station(show.stationId);
    return {
      ...ownValues(show),
      ...{ id, state, startsAt, zone, lengthMs, version, changedBy, changedAt, madeAt, onAirSince, endedAt, posted, placedAt },
      thumbnail: pictureView(show, 'thumbnail'),
      waiting: pictureView(show, 'waiting'),
      houseUrl: this.airings.houseUrl(show),
      airings: airings.map(({ airing, channel }) => this.airingView(show, airing, channel, station)),
      channelIds: airings.map(({ airing }) => airing.channelId),
      trailer: show.trailer && trailerView(show.id, show.trailer),
      shortUrl: this.airings.shortUrl(show),
      fold: whenOf(startsAt, zone).fold,
      series: await this.seriesOf(show),
      rehearsal: show.rehearsalOf === null ? null : await this.rehearsalView(show.rehearsalOf),
    };
  }

  /** What differs between an airing and what was last seen of it on its channel. */
  drift(show: Show, airing: Airing, channel: Channel, station: Station) {
    if (airing.seen === null || airing.told === null || airing.placing !== 'placed') return [];
    const ours = this.airings.facts(show, airing, channel, station);
    return differencesOf(ours, airing.seen, airing.told).filter(({ changed }) => changed !== 'here');
  }

  private async rehearsalView(of: string): Promise<ShowView['rehearsal']> {
    return { of, channelIds: (await this.airingRows.ofShow(of)).map(({ channelId }) => channelId) };
  }

  private async seriesOf(show: Show): Promise<SeriesOfShow | null> {
    const series = await this.seriesRows.byId(show.seriesId);
    if (!series) return null;
    const { id, repeat, time, zone, placesByItself } = series;
    return { id, repeat, time, zone, placesByItself, date: show.seriesDate!, differs: show.differs };
  }

  private airingView(show: Show, airing: Airing, channel: Channel, station: Station): AiringView {
    const { id, placing, placedAt, lineId, refusal, title, description, choices } = airing;
    const visibility = standsThere(airing) ? airing.visibility : this.airings.chosen(airing, channel).visibility;
    return {
      ...{ id, channel: identityOf(channel), placing, placedAt, visibility, lineId, refusal, title, description, choices },
      watchUrl: airing.watchUrl ?? channel.watchUrl,
      shares: airing.seen?.shares ?? [],
      untold: this.untold(show, airing, channel, station),
      drift: airing.seenAt === null ? null : { lookedAt: airing.seenAt, gone: airing.gone, differences: this.drift(show, airing, channel, station) },
    };
  }

  /** What the sheet says by now and the channel was not told. */
  untold(show: Show, airing: Airing, channel: Channel, station: Station): UntoldField[] {
    if (airing.placing !== 'placed') return [];
    const ours = this.airings.facts(show, airing, channel, station);
    const told = airing.told ?? { ...ours, startsAt: airing.placedAt ?? ours.startsAt, visibility: airing.visibility };
    // What else is chosen is told from the line below: a channel's own settings may change without anything to tell.
    const apart = differencesOf(ours, told, told).map(({ field }) => field);
    const fields: UntoldField[] = AIRING_FIELDS.filter((field) => field !== 'choices' && apart.includes(field));
    if (airing.told === null) return fields;
    if ((show.thumbnail?.version ?? null) !== airing.toldPicture) fields.push('picture');
    if (airing.toldChoices !== null && this.airings.choicesKey(airing, channel) !== airing.toldChoices) fields.push('choices');
    return fields;
  }

  /** Brings the airings into step with the ticked channels, the lines chosen for them and their variants. */
  async tickChannels(showId: string, { channelIds, lines, variants }: ShowDraft): Promise<void> {
    const present = await this.airingRows.ofShow(showId);
    const unticked = present.filter(({ channelId }) => !channelIds.includes(channelId));
    const standing = unticked.find(standsThere);
    if (standing) {
      const { name } = await this.channelRows.mustBe(standing.channelId);
      throw new PlainError(409, `The show stands on ${name} already. Withdraw it before taking the channel off.`);
    }
    await this.airingRows.remove(unticked.map(({ id }) => id));
    const channels = await this.channelRows.some(channelIds);
    for (const channel of channels) {
      const lineId = lines.find(({ channelId }) => channelId === channel.id)?.lineId ?? null;
      const line = lineId === null ? null : await this.lineRows.onChannel(channel.id, lineId);
      if (lineId !== null && line?.airingId !== null) {
        throw new PlainError(422, `The line chosen for ${channel.name} is not one of its own. Choose another.`);
      }
      const airing = present.find(({ channelId }) => channelId === channel.id);
      const variant = variants.find(({ channelId }) => channelId === channel.id);
      const fresh = (): Airing => ({ ...BLANK_AIRING, id: randomUUID(), showId, channelId: channel.id, visibility: channel.defaults.visibility });
      const { title = null, description = null, choices = {} } = variant ?? {};
      const typed = { lineId, title, description, choices: { ...choices } };
      if (airing) await this.airingRows.change(airing.id, typed);
      else await this.airingRows.add({ ...fresh(), ...typed });
    }
  }
}

/** Throws where these fields of a show can be changed no more. */
function mayChange(show: Show, fields: string[]): void {
  if (show.rehearsalOf !== null) throw new PlainError(409, 'A rehearsal follows the sheet of its show. Change it there.');
  if (show.state === 'over' && fields.length) throw new PlainError(409, 'This show is over. Plan it again to change something for the next time.');
  if (!isStillPlanned(show) && !fields.every(isChangedOnAir))
    throw new PlainError(409, 'On air only the words and the picture of a show can be changed: its title, its text and what each channel says.');
}

function trailerView(showId: string, { version, state, lengthMs, words }: Trailer): TrailerView {
  return { state, lengthMs, words, url: `/api/shows/${showId}/trailer.mp4?v=${version}` };
}

function pictureView(show: Show, which: ShowPictureName): ThumbnailView | null {
  const picture = show[which];
  if (!picture) return null;
  const { version, width, height, recipe, follows } = picture;
  return { url: `/api/shows/${show.id}/${which}?v=${version}`, width, height, recipe: recipe ?? null, follows: follows ?? false };
}

/** Letters and figures that cannot be taken for one another when they are read out. */
const PLAIN = 'abcdefghjkmnpqrstuvwxyz23456789';

function shortName(): string {
  return Array.from(randomBytes(7), (byte) => PLAIN[byte % PLAIN.length]).join('');
}

/** The field that a key of `fieldVersions` is about: variants are kept by channel. */
const fieldOf = (key: string): DraftField => fieldOfKey(key) as DraftField;

/** A change as it may be looked at: nothing but fields of the sheet, and lists where lists belong. What a field says is looked at later. */
function tidyChange(changes: Partial<ShowDraft>): Partial<ShowDraft> {
  const known = Object.fromEntries(Object.entries(changes).filter(([name]) => (SHEET_FIELDS as string[]).includes(name))) as Partial<ShowDraft>;
  const { variants } = known;
  if (variants !== undefined && !(Array.isArray(variants) && variants.length <= 40 && variants.every((each) => typeof each?.channelId === 'string')))
    throw new PlainError(400, 'What was typed for the channels cannot be read. Reload the page and type it again.');
  return known;
}

/** The columns in which the fields of a change are kept. What belongs to airings is not among them. */
export function columnsOf(planned: KeptOfSheet, keys: readonly string[]): Partial<KeptOfSheet> {
  // A picture is no field of the sheet, and is kept elsewhere.
  const fields = keys.map(fieldOf).filter((field): field is SheetField => SHEET_FIELDS.includes(field));
  return Object.fromEntries(columnsFor(fields).map((name) => [name, planned[name]]));
}

/** The draft as its class. Throws what is wrong with the accepted fields. */
async function valid(draft: ShowDraft, accepted: readonly string[]): Promise<ShowDraft> {
  const instance = plainToInstance(ShowDraft, JSON.parse(JSON.stringify(draft)));
  const errors = await validate(instance, { whitelist: true, forbidUnknownValues: true });
  // What was wrong before, and is not being changed now, is said where it is shown.
  const fields = new Set(accepted.map(fieldOf).flatMap((field) => changedTogether(field) as DraftField[]));
  const wrong = errors.filter(({ property }) => fields.has(property as DraftField));
  if (wrong.length) throw new FieldError(wrong);
  return instance;
}

/** The picture of a show as small as lists show it. */
const glanceUrl = (id: string, version: string): string => `/api/shows/${id}/glance?v=${version}`;
