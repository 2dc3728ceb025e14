import { DAY_MS, HOUR_MS } from '@lantern/core';
import { existsSync, mkdirSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ShowReport, ShowView } from '@lantern/contract';
import { AirSampleRow } from '../air/air.entities';
import { OutboxService } from '../mail/outbox.service';
import { Mail } from '../mail/mail.entities';
import { Registration } from '../reminders/reminder.entities';
import { Airing, Show } from '../shows/show.entities';
import { TestStation } from '../test/station';
import { RetentionService } from './retention.service';

let station: TestStation;
let show: ShowView;
const as = (method: 'get' | 'post', path: string) => station.as(station.http()[method](path));
const sweep = () => station.app.get(RetentionService).now();
const over = (daysAgo: number) =>
  station.database
    .getRepository(Show)
    .update({ id: show.id }, { state: 'over', onAirSince: Date.now() - daysAgo * DAY_MS - HOUR_MS, endedAt: Date.now() - daysAgo * DAY_MS });

beforeAll(async () => {
  station = await TestStation.open();
  const hall = (await as('post', '/api/channels/typed-in').send({ name: 'Hall', address: 'rtmp://127.0.0.1:9/hall', key: 'hall-key-1' }).expect(201)).body.id;
  show = (
    await as('post', '/api/shows')
      .send(station.draft([hall]))
      .expect(201)
  ).body;
});
afterAll(() => station.close());

test('mails that went out go after a month, those that wait stay', async () => {
  const outbox = station.app.get(OutboxService);
  const mails = station.database.getRepository(Mail);
  for (const about of ['old', 'fresh', 'waits']) {
    const { stationId } = await station.database.getRepository(Show).findOneByOrFail({ id: show.id });
    await outbox.post({ stationId, to: `${about}@people.example`, subject: about, text: about, about });
  }
  await mails.update({ recipient: 'old@people.example' }, { sentAt: Date.now() - 31 * DAY_MS });
  await mails.update({ recipient: 'fresh@people.example' }, { sentAt: Date.now() - 29 * DAY_MS });
  await mails.update({ recipient: 'waits@people.example' }, { sentAt: null, dueAt: Date.now() + DAY_MS });
  const folder = join(station.folder, 'outbox');
  mkdirSync(folder, { recursive: true });
  for (const [name, days] of [
    ['old.eml', 31],
    ['fresh.eml', 1],
  ] as const) {
    writeFileSync(join(folder, name), '');
    utimesSync(join(folder, name), new Date(), new Date(Date.now() - days * DAY_MS));
  }
  await sweep();
  expect((await mails.find({ order: { recipient: 'ASC' } })).map(({ recipient }) => recipient)).toEqual(['fresh@people.example', 'waits@people.example']);
  expect([existsSync(join(folder, 'old.eml')), existsSync(join(folder, 'fresh.eml'))]).toEqual([false, true]);
});

test('addresses of those who asked to be reminded go a month after the show, and not before', async () => {
  const registrations = station.database.getRepository(Registration);
  const facts = { zone: 'UTC', tokenHash: 'x', askedAt: 1, confirmedAt: 1, toldStart: 1, told: '' };
  for (let at = 0; at < 450; at++) await registrations.insert({ id: `r${at}`, showId: show.id, email: `v${at}@people.example`, ...facts });
  await over(29);
  await sweep();
  expect(await registrations.count()).toBe(450);
  await over(31);
  await sweep();
  expect(await registrations.count()).toBe(0);
});

test('a report reads the same after its samples were thinned', async () => {
  const samples = station.database.getRepository(AirSampleRow);
  const { id: airingId } = await station.database.getRepository(Airing).findOneByOrFail({ showId: show.id });
  const began = Date.now() - 9 * DAY_MS;
  const rows = Array.from({ length: 300 }, (_, at) => ({
    ...{ airingId, at: began + at * 5_000, lamp: at > 100 && at < 110 ? ('fault' as const) : ('lit' as const) },
    watching: (at * 7) % 40,
  }));
  await samples.insert(rows);
  await over(6);
  await station.database.query('DELETE FROM past_figures');
  await sweep();
  expect(await samples.count()).toBe(300);
  const report = async () => {
    const { airings, peakTogether } = (await as('get', `/api/shows/${show.id}/report`).expect(200)).body as ShowReport;
    return { peakTogether, airings: airings.map(({ litMs, faultMs, peakWatching }) => ({ litMs, faultMs, peakWatching })) };
  };
  const before = await report();
  await over(8);
  await sweep();
  expect(await samples.count()).toBeLessThan(120);
  expect(await report()).toEqual(before);
});
