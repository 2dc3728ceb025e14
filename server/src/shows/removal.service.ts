// Taking shows and templates away for good, with a day in which that can be undone: their rows are kept as they
// were, and their files stay where they are until then.
import type { RemovedView } from '@lantern/contract';
import { DAY_MS, instant, MINUTE_MS, sayDay } from '@lantern/core';
import { Inject, Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { DataSource, LessThan, MoreThanOrEqual, type EntityManager } from 'typeorm';
import type { QueryDeepPartialEntity } from 'typeorm/query-builder/QueryPartialEntity';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { RegularWork } from '../foundation/regular-work';
import { SETTINGS, type Settings } from '../foundation/settings';
import { together } from '../foundation/together';
import type { Person } from '../people/people.entities';
import { Airing, Show, Template } from './show.entities';
import { standsThere } from './show-facts';
import { Removal } from './removal.entities';
import { ShowsService } from './shows.service';
import { Thumbnails, waitingOf } from './thumbnails';
import { Bus } from '../foundation/bus';
import { ShowRows } from './show-rows';
import { SeriesRows } from './series-rows';
import { ChannelRows } from '../channels/channel-rows';

/** For how long a removal can be taken back. */
const UNDO_MS = DAY_MS;
const PURGE_EVERY_MS = 10 * MINUTE_MS;

type Row = Record<string, string | number | null>;
export const OF_AIRINGS = 'airingId IN (SELECT id FROM airings WHERE showId = ?)';

/** Rows that go with a show and come back with it, and what may keep a show from going. */
export interface GoesAlong {
  table: string;
  /** With one parameter, the show's identifier. */
  where: string;
  /** Why the show cannot go now; null: nothing is against it. */
  keptBy?(showId: string): Promise<string | null>;
}

/** What goes with a show in any case, in the order in which it can be put back. */
const OWN: readonly GoesAlong[] = [
  { table: 'shows', where: 'id = ?' },
  { table: 'airings', where: 'showId = ?' },
  { table: 'lines', where: OF_AIRINGS },
];

@Injectable()
export class RemovalService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly along: GoesAlong[] = [];
  private readonly work = new RegularWork('removal', PURGE_EVERY_MS, () => this.purge());

  constructor(
    private readonly channelRows: ChannelRows,
    private readonly seriesRows: SeriesRows,
    private readonly showRows: ShowRows,
    private readonly database: DataSource,
    private readonly shows: ShowsService,
    private readonly thumbnails: Thumbnails,
    private readonly bus: Bus,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  /** A part that keeps rows of its own about shows says here that they go along. */
  takeAlong(...rows: readonly GoesAlong[]): void {
    this.along.push(...rows);
  }

  /** Takes a show away that stands nowhere and is not on air. A date of a series is left out of it from then on. */
  async remove(person: Pick<Person, 'stationId'>, showId: string): Promise<RemovedView> {
    await this.shows.whole(person.stationId, showId); // Throws for a show of somebody else's.
    const removed = await together(this.database, async (entities) => {
      const show = await entities.findOneByOrFail(Show, { id: showId });
      if (show.state === 'onAir' || show.state === 'interrupted') throw new PlainError(409, 'This show is on air. Wrap it up first.');
      const stands = show.state !== 'over' && (await entities.findBy(Airing, { showId })).some(standsThere);
      if (stands) throw new PlainError(409, 'This show stands on a channel, or may. Withdraw it first, then remove it.');
      for (const { keptBy } of this.along) {
        const words = await keptBy?.(showId);
        if (words) throw new PlainError(409, words);
      }
      const tables: [string, Row[]][] = [];
      for (const { table, where } of [...OWN, ...this.along]) tables.push([table, await entities.query(`SELECT * FROM ${table} WHERE ${where}`, [showId])]);
      if (show.state !== 'over' && show.seriesId !== null) await this.seriesRows.leaveOut(show.seriesId, show.seriesDate!);
      await entities.delete(Show, { id: showId });
      const title = `${show.title || 'Untitled'}, ${sayDay(instant(show.startsAt), show.zone)}`;
      return this.keep(entities, person, 'show', showId, title, tables);
    });
    this.bus.tell({ kind: 'show', showId });
    return removed;
  }

  async removeTemplate(person: Person, templateId: string): Promise<RemovedView> {
    return together(this.database, async (entities) => {
      const template = await entities.findOneBy(Template, { id: templateId, stationId: person.stationId });
      if (!template) throw new PlainError(404, 'There is no such template.');
      const rows: Row[] = await entities.query('SELECT * FROM templates WHERE id = ?', [templateId]);
      await entities.delete(Template, { id: templateId });
      return this.keep(entities, person, 'template', templateId, template.name, [['templates', rows]]);
    });
  }

  /** Puts back what was removed, as it was. Answers with the show's identifier; null for a template. */
  async restore(person: Person, removalId: string): Promise<{ showId: string | null; title: string }> {
    const restored = await together(this.database, async (entities) => {
      const removal = await entities.findOneBy(Removal, { id: removalId, stationId: person.stationId });
      // Past its time its files may be going away at this moment.
      if (!removal || removal.until < this.clock.now()) throw new PlainError(404, 'This can no longer be taken back: it was, already, or a day has passed.');
      const gone = await this.lostAirings(removal);
      for (const [table, rows] of removal.tables) {
        for (const row of rows) {
          if (gone.has(String(table === 'airings' ? row.id : (row.airingId ?? '')))) continue;
          // Its date was made anew meanwhile: it comes back as a show of its own.
          const { seriesId, seriesDate } = row as { seriesId?: string | null; seriesDate?: string | null };
          if (table === 'shows' && seriesId && (await entities.existsBy(Show, { seriesId, seriesDate: seriesDate! })))
            Object.assign(row, { seriesId: null, seriesDate: null });
          const names = Object.keys(row);
          await entities.query(`INSERT INTO ${table} (${names.map((name) => `"${name}"`).join()}) VALUES (${names.map(() => '?').join()})`, Object.values(row));
        }
      }
      await entities.delete(Removal, { id: removalId });
      if (removal.kind === 'show') await this.takeIn(removal.subjectId);
      return removal;
    });
    this.bus.tell({ kind: 'show', showId: restored.subjectId });
    return { showId: restored.kind === 'show' ? restored.subjectId : null, title: restored.title };
  }

  /** Airings that cannot come back: what had not been on air loses a channel that was unlinked meanwhile, as other coming shows did. */
  private async lostAirings({ tables }: Removal): Promise<ReadonlySet<string>> {
    const rowsOf = (name: string) => tables.find(([table]) => table === name)?.[1] ?? [];
    if (rowsOf('shows')[0]?.state === 'over') return new Set();
    const linked = await this.channelRows.linkedIds();
    const lost = rowsOf('airings').filter(({ channelId }) => !linked.has(String(channelId)));
    return new Set(lost.map(({ id }) => String(id)));
  }

  /** What can be taken back now, the latest first. */
  async list(stationId: string): Promise<RemovedView[]> {
    const removals = await this.database
      .getRepository(Removal)
      .find({ where: { stationId, until: MoreThanOrEqual(this.clock.now()) }, order: { until: 'DESC' }, select: { id: true, title: true, until: true } });
    return removals.map(({ id, title, until }) => ({ id, title, until }));
  }

  private async takeIn(showId: string): Promise<void> {
    const { seriesId, seriesDate, state } = await this.showRows.mustBe(showId);
    if (state !== 'over') await this.seriesRows.redate(seriesId, (dropped) => dropped.filter((date) => date !== seriesDate));
  }

  private async keep(
    entities: EntityManager,
    { stationId }: Pick<Person, 'stationId'>,
    kind: Removal['kind'],
    subjectId: string,
    title: string,
    tables: [string, Row[]][],
  ): Promise<RemovedView> {
    const removal = { id: randomUUID(), stationId, kind, subjectId, title, until: this.clock.now() + UNDO_MS, tables };
    await entities.insert(Removal, removal as QueryDeepPartialEntity<Removal>);
    return { id: removal.id, title, until: removal.until };
  }

  /** Lets go of what nobody took back. */
  async purge(): Promise<void> {
    const removals = this.database.getRepository(Removal);
    for (const { id, kind, subjectId } of await removals.find({
      where: { until: LessThan(this.clock.now()) },
      select: { id: true, kind: true, subjectId: true },
    })) {
      await this.thumbnails.forget({ id: subjectId });
      await this.thumbnails.forget(waitingOf({ id: subjectId }));
      if (kind === 'show') await rm(join(this.settings.recordingsDir, subjectId), { recursive: true, force: true });
      await removals.delete({ id });
    }
  }
}
