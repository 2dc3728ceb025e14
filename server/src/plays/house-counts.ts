// How often house pages are opened and played, and by which links: counts alone, of nobody in particular.
import type { HouseCounts as Counts } from '@lantern/contract';
import { DAY_MS } from '@lantern/core';
import { Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { Clock } from '../foundation/clock';
import { RegularWork } from '../foundation/regular-work';
import { together } from '../foundation/together';
import { RemovalService } from '../shows/removal.service';
import type { Show } from '../shows/show.entities';
import { HouseCount, type Counted } from './plays.entities';

/** Kept so often; what came since then is lost with a server that is killed. */
const EVERY_MS = 5_000;
/** Somebody could make up as many as they like. */
const MOST_SOURCES = 24;
const ELSEWHERE = 'elsewhere';
const LAST_DAY = 30;
const MOST_WAITING = 5_000;

@Injectable()
export class HouseCounts implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('counts', EVERY_MS, () => this.keep());
  private waiting = new Map<string, HouseCount>();

  constructor(
    private readonly database: DataSource,
    private readonly clock: Clock,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'house_counts', where: 'showId = ?' });
  }

  onApplicationBootstrap(): void {
    this.work.start();
  }

  async onApplicationShutdown(): Promise<void> {
    this.work.stop();
    await this.work.now();
  }

  /** Counts one; `source`: what led there, '' where nobody knows. */
  count({ id: showId, state, endedAt }: Pick<Show, 'id' | 'state' | 'endedAt'>, what: Counted, source: string): void {
    const over = state === 'over' && endedAt !== null;
    const day = over
      ? Math.min(LAST_DAY, Math.max(0, Math.floor((this.clock.now() - endedAt) / DAY_MS)))
      : state === 'onAir' || state === 'interrupted'
        ? -1
        : -2;
    const one = { showId, what, day, source };
    this.add({ ...one, count: 1 });
  }

  private add({ count, ...one }: HouseCount): void {
    const key = JSON.stringify(one);
    const counted = this.waiting.get(key);
    if (counted) counted.count += count;
    else if (this.waiting.size < MOST_WAITING) this.waiting.set(key, { ...one, count });
  }

  /** What has been counted of a show. */
  async of(showId: string): Promise<Counts> {
    await this.work.now();
    const rows = await this.database.getRepository(HouseCount).findBy({ showId });
    const sum = (which: (row: HouseCount) => boolean) => rows.filter(which).reduce((all, { count }) => all + count, 0);
    const pages = rows.filter(({ what }) => what === 'page');
    const last = Math.max(-1, ...rows.filter(({ what }) => what === 'play').map(({ day }) => day));
    return {
      opened: {
        before: sum(({ what, day }) => what === 'page' && day === -2),
        live: sum(({ what, day }) => what === 'page' && day === -1),
        since: sum(({ what, day }) => what === 'page' && day >= 0),
      },
      playsLive: sum(({ what, day }) => what === 'play' && day === -1),
      playsByDay: Array.from({ length: last + 1 }, (_, at) => sum(({ what, day }) => what === 'play' && day === at)),
      from: [...new Set(pages.map(({ source }) => source))]
        .map((source) => ({ source, count: sum((row) => row.what === 'page' && row.source === source) }))
        .sort((a, b) => b.count - a.count),
    };
  }

  private async keep(): Promise<void> {
    if (!this.waiting.size) return;
    const all = [...this.waiting.values()];
    this.waiting = new Map();
    try {
      await this.keepAll(all);
    } catch (error) {
      // A disk that is full now may have room later.
      for (const each of all) this.add(each);
      throw error;
    }
  }

  private async keepAll(all: readonly HouseCount[]): Promise<void> {
    await together(this.database, async (entities) => {
      const known = new Map<string, Set<string>>();
      for (const { showId, what, day, source, count } of all) {
        if (!known.has(showId)) {
          const rows = (await entities.query('SELECT DISTINCT source FROM house_counts WHERE showId = ?', [showId])) as { source: string }[];
          known.set(showId, new Set(rows.map((row) => row.source)));
        }
        const sources = known.get(showId)!;
        const kept = sources.has(source) || sources.size < MOST_SOURCES ? source : ELSEWHERE;
        sources.add(kept);
        // The show may have been removed meanwhile.
        await entities.query(
          `INSERT INTO house_counts (showId, what, day, source, count) SELECT ?, ?, ?, ?, ? WHERE EXISTS (SELECT 1 FROM shows WHERE id = ?)
            ON CONFLICT (showId, what, day, source) DO UPDATE SET count = count + excluded.count`,
          [showId, what, day, kept, count, showId],
        );
      }
    });
  }
}
