// How often a show was played on its channels, then and since: networks count in their own time, so each is asked again and again for thirty days.
import type { PlaysOfAiring } from '@lantern/contract';
import { DAY_MS, HOUR_MS, MINUTE_MS } from '@lantern/core';
import { Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { DataSource, In } from 'typeorm';
import { ChannelAccessService, wordsOfNetworkError } from '../channels/access.service';
import type { Channel } from '../channels/channel.entities';
import { NetworkRefusal } from '../channels/connectors/connector';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { RegularWork } from '../foundation/regular-work';
import { OF_AIRINGS, RemovalService } from '../shows/removal.service';
import type { Airing, Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { ShowsService } from '../shows/shows.service';
import { AiringPlays } from './plays.entities';

const EVERY_MS = 2 * MINUTE_MS;
const ASKED_FOR_MS = 30 * DAY_MS;
const AT_ONCE = 20;
/** When a network is asked next: that has not counted yet, that counts while people still talk of the show, later on, and that did not answer. */
const AGAIN = { uncounted: 10 * MINUTE_MS, fresh: HOUR_MS, later: 6 * HOUR_MS, trouble: 30 * MINUTE_MS, never: 10 * 365 * DAY_MS } as const;

@Injectable()
export class PlaysService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('plays', EVERY_MS, () => this.askDue());

  constructor(
    private readonly database: DataSource,
    private readonly showRows: ShowRows,
    private readonly shows: ShowsService,
    private readonly access: ChannelAccessService,
    private readonly bus: Bus,
    private readonly clock: Clock,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'airing_plays', where: OF_AIRINGS });
  }

  private get rows() {
    return this.database.getRepository(AiringPlays);
  }

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  /** Asks all that are due, now. */
  now(): Promise<void> {
    return this.work.now();
  }

  /** What was told of these airings, by their identifiers. */
  async of(airingIds: readonly string[]): Promise<Map<string, PlaysOfAiring>> {
    const rows = await this.rows.findBy({ airingId: In([...airingIds]) });
    return new Map(rows.map(({ airingId, days, toldAt, trouble }) => [airingId, { days, toldAt, trouble }]));
  }

  private async askDue(): Promise<void> {
    const now = this.clock.now();
    const due = (await this.database.query(
      `SELECT airings.id AS airingId, shows.id AS showId FROM airings JOIN shows ON shows.id = airings.showId LEFT JOIN airing_plays ON airing_plays.airingId = airings.id
        WHERE shows.state = 'over' AND shows.rehearsalOf IS NULL AND shows.endedAt > ? AND airings.placing = 'placed' AND airings.remoteId IS NOT NULL
          AND COALESCE(airing_plays.nextAt, 0) <= ? ORDER BY COALESCE(airing_plays.nextAt, 0) LIMIT ?`,
      [now - ASKED_FOR_MS, now, AT_ONCE],
    )) as { airingId: string; showId: string }[];
    for (const { airingId, showId } of due) {
      const show = await this.showRows.byId(showId);
      const found = show && (await this.shows.airingsOf(show)).find(({ airing }) => airing.id === airingId);
      if (show && found) await this.ask(show, found);
    }
  }

  private async ask(show: Show, { airing, channel }: { airing: Airing; channel: Channel }): Promise<void> {
    const connector = this.access.connectorOf(channel);
    if (!connector?.plays || airing.remoteId === null) return this.keep(airing.id, { nextAt: this.clock.now() + AGAIN.never });
    try {
      const told = await connector.plays(this.access.of(channel), airing.remoteId);
      const now = this.clock.now();
      if (!told) return await this.keep(airing.id, { nextAt: now + AGAIN.uncounted, trouble: '' });
      const day = Math.max(0, Math.floor((now - show.endedAt!) / DAY_MS));
      const before = (await this.rows.findOneBy({ airingId: airing.id }))?.days ?? [];
      const days = [...before.filter((each) => each.day < day), { day, ...told }];
      await this.keep(airing.id, { days, toldAt: now, nextAt: now + (day === 0 ? AGAIN.fresh : AGAIN.later), trouble: '' });
      this.bus.tell({ kind: 'recording', showId: show.id });
    } catch (error) {
      const gone = error instanceof NetworkRefusal && (error.status === 404 || error.status === 410);
      const trouble = gone ? 'It stands there no more, so that nothing more is counted.' : wordsOfNetworkError(error, channel, connector, 'by itself');
      await this.keep(airing.id, { nextAt: this.clock.now() + (gone ? AGAIN.never : AGAIN.trouble), trouble });
    }
  }

  private async keep(airingId: string, columns: Partial<Omit<AiringPlays, 'airingId'>>): Promise<void> {
    const kept = await this.rows.findOneBy({ airingId });
    await this.rows.upsert({ ...{ airingId, days: [], toldAt: null, trouble: '', nextAt: 0 }, ...kept, ...columns }, ['airingId']);
  }
}
