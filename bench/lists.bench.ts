// What many people and many years cost a station that is on air: reminders for thousands, shows of a decade. Measured against the real
// server by a thread of its own that asks whether it is alive. Prints a table; passes whatever the figures are.
import { DAY_MS, HOUR_MS, MINUTE_MS } from '@lantern/core';
import type { OutboxView, ShowView } from '@lantern/contract';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { soonestStart } from '../e2e/support/host';
import { test } from '../e2e/support/test';
import { standStill } from './stand-still';

const PEOPLE = 20_000;
const PAST = 5_000;
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** Rows like one that is there, `count` of them; `change`: columns as SQL, in which `i` counts from 1. */
async function clone(database: DataSource, table: string, id: string, count: number, change: Record<string, string>): Promise<void> {
  const columns: { name: string }[] = await database.query(`PRAGMA table_info(${table})`);
  const names = columns.map(({ name }) => name).filter((name) => table !== 'air_samples' || name !== 'id');
  await database.query(
    `WITH RECURSIVE counted(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM counted WHERE i < ${count})
     INSERT INTO ${table} (${names.map((name) => `"${name}"`).join()})
     SELECT ${names.map((name) => change[name] ?? `one."${name}"`).join()} FROM counted, (SELECT * FROM ${table} WHERE id = ?) AS one`,
    [id],
  );
}

test('many people and many years', async ({ product, host }) => {
  test.setTimeout(900_000);
  const rows: { what: string; figure: string; aim: string }[] = [];
  await host.setUp();
  const channels = [await host.link('reelmoor', 'rm-alderfell'), await host.link('townfold', 'tf-alderfell')];
  const start = soonestStart(product.now() + 3 * HOUR_MS);
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(start, channels, { reminders: true }));
  await host.must('POST', `/api/shows/${show.id}/place`);
  await product.killServer();

  const database = await new DataSource({ type: 'better-sqlite3', database: join(product.folder, 'station', 'lantern.sqlite') }).initialize();
  const [{ stationId }] = (await database.query('SELECT stationId FROM shows')) as [{ stationId: string }];
  await clone(database, 'shows', show.id, PAST, {
    ...{ id: `'past-' || i`, slug: `'slug-' || i`, short: `'s' || i`, state: `'over'`, title: `'Dusk Report ' || i` },
    ...{ startsAt: `${start} - i * ${DAY_MS / 2}`, onAirSince: `${start} - i * ${DAY_MS / 2}`, endedAt: `${start} - i * ${DAY_MS / 2} + ${HOUR_MS}` },
  });
  const airings: { id: string }[] = await database.query('SELECT id FROM airings WHERE showId = ?', [show.id]);
  for (const { id } of airings) await clone(database, 'airings', id, PAST, { id: `'${id}-' || i`, showId: `'past-' || i` });
  await database.query(
    `WITH RECURSIVE counted(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM counted WHERE i < ${PEOPLE})
     INSERT INTO registrations (id, showId, email, zone, tokenHash, askedAt, confirmedAt, toldStart, told)
     SELECT 'r' || i, ?, 'visitor' || i || '@people.example', 'Europe/Dublin', 'h' || i, 1, 1, ?, '' FROM counted`,
    [show.id, start],
  );
  await database.query(
    `WITH RECURSIVE counted(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM counted WHERE i < ${PEOPLE})
     INSERT INTO subscriptions (id, stationId, email, zone, tokenHash, askedAt, confirmedAt, toldUntil)
     SELECT 's' || i, ?, 'reader' || i || '@people.example', 'Europe/Dublin', 's' || i, 1, 1, 1 FROM counted`,
    [stationId],
  );
  await database.destroy();
  await product.startServer();

  const still = async (what: string, work: () => Promise<unknown>): Promise<void> => {
    const { slowestMs, tookS } = await standStill(`${product.url}/health/live`, work);
    rows.push({ what, figure: `${slowestMs.toFixed(0)} ms (in ${tookS.toFixed(0)} s)`, aim: 'under 50 ms' });
  };
  /** Until so many mails have gone out, or nothing moves any more. */
  const sent = async (count: number): Promise<void> => {
    for (let tries = 0; tries < 240; tries++) {
      const { counts } = await host.must<OutboxView>('GET', '/api/mails');
      if (counts.sent >= count) return;
      await pause(500);
    }
    throw new Error(`fewer than ${count} mails went out`);
  };
  await still('nothing to do: longest stand-still', () => pause(15_000));
  product.travelTo(start - HOUR_MS + MINUTE_MS);
  await still(`${PEOPLE.toLocaleString('en-GB')} reminded an hour before, ${PEOPLE.toLocaleString('en-GB')} told of the new show, all mails sent`, () =>
    sent(2 * PEOPLE),
  );
  await still('the same show an hour before, with everybody told', () => pause(25_000));
  await host.must('POST', `/api/shows/${show.id}/air`);
  await still(`on air: ${PEOPLE.toLocaleString('en-GB')} told of the start`, () => sent(3 * PEOPLE));
  await still('on air, with everybody told', () => pause(25_000));

  for (const [what, path] of [
    ['the list that the almanac asks for', '/api/shows'],
    ['a page of earlier shows', `/api/shows?before=${start - 400 * DAY_MS}`],
    ['shows found by a word', '/api/shows?words=Report%204'],
  ] as const) {
    const took: number[] = [];
    let bytes = 0;
    for (let tries = 0; tries < 15; tries++) {
      const began = performance.now();
      bytes = JSON.stringify(await host.must('GET', path)).length;
      took.push(performance.now() - began);
    }
    took.sort((a, b) => a - b);
    rows.push({
      what: `${what}, with ${PAST.toLocaleString('en-GB')} past shows: median and size`,
      figure: `${took[7]!.toFixed(1)} ms, ${(bytes / 1_000).toFixed(0)} kB`,
      aim: 'under 30 ms, 60 kB',
    });
  }
  console.table(rows);
});
