// The report of a long evening on many channels: what it costs the server, what goes over the line, and how soon it is open in a browser.
// Prints a table; passes whatever the figures are.
import { HOUR_MS } from '@lantern/core';
import type { ShowReport, ShowView } from '@lantern/contract';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { OWNER } from '../e2e/support/host';
import { test } from '../e2e/support/test';
import { standStill } from './stand-still';

const HOURS = 9;
const CHANNELS = 12;
/** As often as networks are asked. */
const SAMPLE_S = 5;
const SIGNAL_S = 10;
const CUES = 40;
const median = (took: number[]): number => took.sort((a, b) => a - b)[took.length >> 1]!;

/** Rows of `table`, counted by `i` from 1 on, as SQL. */
const fill = (database: DataSource, table: string, columns: Record<string, string>, count: number, given: unknown[]) =>
  database.query(
    `WITH RECURSIVE counted(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM counted WHERE i < ${count})
     INSERT INTO ${table} (${Object.keys(columns).join()}) SELECT ${Object.values(columns).join()} FROM counted`,
    given,
  );

test(`${HOURS} hours on ${CHANNELS} channels`, async ({ product, host, page }) => {
  test.setTimeout(300_000);
  await host.setUp();
  const channel = await host.link('reelmoor', 'rm-alderfell');
  const begun = product.now() - (HOURS + 2) * HOUR_MS;
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(product.now() + HOUR_MS, [channel], { title: 'New Moon Night' }));
  await product.killServer();

  const database = await new DataSource({ type: 'better-sqlite3', database: join(product.folder, 'station', 'lantern.sqlite') }).initialize();
  const copy = async (table: string, where: string, change: Record<string, unknown>) => {
    const [row] = (await database.query(`SELECT * FROM ${table} WHERE ${where}`)) as [Record<string, unknown>];
    const columns = { ...row, ...change };
    const names = Object.keys(columns);
    await database.query(
      `INSERT INTO ${table} (${names.map((name) => `"${name}"`).join()}) VALUES (${names.map(() => '?').join()})`,
      Object.values(columns) as unknown[],
    );
  };
  const cues = Array.from({ length: CUES }, (_, at) => ({
    ...{ id: `c${at}`, name: `Part ${at + 1}`, lengthS: (HOURS * 3_600) / CUES, notes: '', sceneId: null },
  }));
  await database.query(`UPDATE shows SET state = 'over', startsAt = ?, lengthMs = ?, onAirSince = ?, endedAt = ?, cues = ? WHERE id = ?`, [
    ...[begun, HOURS * HOUR_MS, begun, begun + HOURS * HOUR_MS, JSON.stringify(cues), show.id],
  ]);
  for (let at = 1; at < CHANNELS; at += 1) {
    const id = randomUUID();
    await copy('channels', `id = '${channel.id}'`, { id, name: `Alderfell ${at + 1}`, remoteId: `account-${at}` });
    await copy('airings', `showId = '${show.id}' AND channelId = '${channel.id}'`, { id: randomUUID(), channelId: id });
  }
  const airings: { id: string }[] = await database.query('SELECT id FROM airings WHERE showId = ?', [show.id]);
  await database.query('BEGIN');
  for (const { id } of airings)
    await fill(
      ...[database, 'air_samples'],
      { airingId: '?', at: `? + i * ${SAMPLE_S * 1_000}`, lamp: `'lit'`, watching: 'CAST(60 + 50 * sin(i / 900.0) + abs(random()) % 9 AS INTEGER)' },
      ...[(HOURS * 3_600) / SAMPLE_S, [id, begun]],
    );
  await fill(
    ...[database, 'signal_samples'],
    { showId: '?', at: `? + i * ${SIGNAL_S * 1_000}`, pictures: '30 - (abs(random()) % 4)', kbps: '2400 + abs(random()) % 300' },
    ...[(HOURS * 3_600) / SIGNAL_S, [show.id, begun]],
  );
  await fill(
    ...[database, 'happenings'],
    { showId: '?', at: `? + (i - 1) * ${(HOURS * HOUR_MS) / CUES}`, kind: `'cue'`, what: `'c' || (i - 1)` },
    ...[CUES, [show.id, begun]],
  );
  await database.query('COMMIT');
  await database.destroy();
  await product.startServer();

  const rows: { what: string; figure: string; aim: string }[] = [];
  const took: number[] = [];
  let bytes = 0;
  const { slowestMs } = await standStill(`${product.url}/health/live`, async () => {
    for (let tries = 0; tries < 15; tries += 1) {
      const before = performance.now();
      const report = await host.must<ShowReport>('GET', `/api/shows/${show.id}/report`);
      took.push(performance.now() - before);
      bytes = JSON.stringify(report).length;
    }
  });
  const data = median(took);
  rows.push({ what: 'the report’s data: median, size', figure: `${data.toFixed(0)} ms, ${(bytes / 1_000).toFixed(0)} kB`, aim: 'under 100 ms, 200 kB' });
  rows.push({ what: 'longest stand-still of the server meanwhile', figure: `${slowestMs.toFixed(0)} ms`, aim: 'under 50 ms' });
  await page.goto(`${product.url}/`);
  await page.getByLabel('Email address').fill(OWNER.email);
  await page.getByLabel('Password').fill(OWNER.password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByRole('link', { name: 'Station' }).waitFor();
  const curve = page.getByRole('heading', { name: 'Watching over time' });
  const [within, anew]: [number[], number[]] = [[], []];
  for (let tries = 0; tries < 7; tries += 1) {
    await page.goto(`${product.url}/shows/${show.id}`);
    const link = page.getByRole('link', { name: 'Report' }).first();
    await link.waitFor();
    await page.waitForTimeout(1_000);
    let before = performance.now();
    await link.click();
    await curve.waitFor();
    within.push(performance.now() - before);
    await page.waitForTimeout(1_000);
    before = performance.now();
    await page.goto(page.url());
    await curve.waitFor();
    anew.push(performance.now() - before);
  }
  rows.push({ what: 'the report opened from the show’s sheet, with its curve: median', figure: `${median(within).toFixed(0)} ms`, aim: 'under 500 ms' });
  rows.push({ what: 'the same by its address, with all of the program: median', figure: `${median(anew).toFixed(0)} ms`, aim: '' });
  console.table(rows);
});
