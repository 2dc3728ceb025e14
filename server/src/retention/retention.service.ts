// How long what is kept: rows and files that nobody needs any more go, a few at a time. The page for people is docs/retention.md.
import { DAY_MS, HOUR_MS, peakTogether, thinned, type AirSample } from '@lantern/core';
import { Inject, Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { AirSamples } from '../air/air-samples';
import { Clock } from '../foundation/clock';
import { PastFiguresRows } from '../report/past-figures';
import { AiringRows } from '../shows/airing-rows';
import { RegularWork } from '../foundation/regular-work';
import { SETTINGS, type Settings } from '../foundation/settings';
import { breathe } from '../foundation/breathe';

const EVERY_MS = HOUR_MS;
/** What went out by mail, and what could not be sent. */
const SENT_MAILS_MS = 30 * DAY_MS;
const UNSENT_MAILS_MS = 90 * DAY_MS;
/** Who asked to be reminded of a show that is over or whose time has passed. */
const REGISTRATIONS_MS = 30 * DAY_MS;
/** What visitors asked, with the names that they gave. */
const QUESTIONS_MS = 30 * DAY_MS;
/** Who did what with channels, lines and secrets. */
const AUDIT_MS = 730 * DAY_MS;
/** Samples of a show are thinned once its report has been read. */
const THIN_AFTER_MS = 7 * DAY_MS;
const ROWS_AT_ONCE = 200;
const SHOWS_AT_ONCE = 20;

@Injectable()
export class RetentionService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('retention', EVERY_MS, () => this.sweep());

  constructor(
    private readonly database: DataSource,
    private readonly airings: AiringRows,
    private readonly samples: AirSamples,
    private readonly past: PastFiguresRows,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  /** Lets go what has been kept for long enough, now. */
  now(): Promise<void> {
    return this.work.now();
  }

  private async sweep(): Promise<void> {
    const now = this.clock.now();
    await this.drop('mails', 'sentAt < ?', [now - SENT_MAILS_MS]);
    await this.drop('mails', 'sentAt IS NULL AND dueAt < ?', [now - UNSENT_MAILS_MS]);
    await this.drop('registrations', 'showId IN (SELECT id FROM shows WHERE COALESCE(endedAt, startsAt + lengthMs) < ?)', [now - REGISTRATIONS_MS]);
    await this.drop('questions', 'showId IN (SELECT id FROM shows WHERE COALESCE(endedAt, startsAt + lengthMs) < ?)', [now - QUESTIONS_MS]);
    for (const table of ['house_writers', 'asked_too', 'votes'])
      await this.drop(table, 'showId IN (SELECT id FROM shows WHERE COALESCE(endedAt, startsAt + lengthMs) < ?)', [now - QUESTIONS_MS]);
    await this.drop('messages', 'showId IN (SELECT id FROM shows WHERE COALESCE(endedAt, startsAt + lengthMs) < ?)', [now - QUESTIONS_MS]);
    await this.drop('audit_entries', 'at < ?', [now - AUDIT_MS]);
    await this.dropFiles(join(this.settings.dataDir, 'outbox'), Date.now() - SENT_MAILS_MS);
    await this.thin(now);
  }

  /** In small pieces, since everything else asks the database in between. */
  private async drop(table: string, which: string, parameters: readonly unknown[]): Promise<void> {
    const query = `DELETE FROM ${table} WHERE rowid IN (SELECT rowid FROM ${table} WHERE ${which} LIMIT ${ROWS_AT_ONCE})`;
    for (;;) {
      await this.database.query(query, [...parameters]);
      const [{ changed }] = (await this.database.query('SELECT changes() AS changed')) as [{ changed: number }];
      if (changed < ROWS_AT_ONCE) return;
      await breathe();
    }
  }

  /** Mails that were written as files, where there is no mail server. */
  private async dropFiles(folder: string, before: number): Promise<void> {
    for (const name of await readdir(folder).catch(() => [])) {
      const path = join(folder, name);
      const { mtimeMs } = await stat(path).catch(() => ({ mtimeMs: Infinity }));
      if (mtimeMs < before) await rm(path, { force: true });
    }
  }

  /** A report reads the same from fewer samples; what it takes from all channels together is worked out before. */
  private async thin(now: number): Promise<void> {
    const rows: { id: string }[] = await this.database.query(
      `SELECT id FROM shows WHERE state = 'over' AND rehearsalOf IS NULL AND endedAt < ? AND id NOT IN (SELECT showId FROM past_figures) LIMIT ${SHOWS_AT_ONCE}`,
      [now - THIN_AFTER_MS],
    );
    for (const { id: showId } of rows) {
      const byAiring: AirSample[][] = [];
      const gone: number[] = [];
      for (const { id } of await this.airings.ofShow(showId)) {
        const { samples, ids } = await this.samples.of(id);
        const kept = new Set(thinned(samples));
        byAiring.push(samples);
        gone.push(...ids.filter((_, at) => !kept.has(at)));
      }
      // Before anything goes: a server that is killed in the middle leaves samples too many, and never figures that are wrong.
      await this.past.keep(showId, peakTogether(byAiring));
      for (let at = 0; at < gone.length; at += ROWS_AT_ONCE) {
        await this.samples.drop(gone.slice(at, at + ROWS_AT_ONCE));
        await breathe();
      }
    }
  }
}
