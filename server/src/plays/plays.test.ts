// How often a show was played: what networks tell when they have counted, and what the house page counts itself.
import type { ChannelView, ShowReport, ShowView } from '@lantern/contract';
import { DAY_MS, HOUR_MS, instant, MINUTE_MS, wallTimeOf } from '@lantern/core';
import { rmSync } from 'node:fs';
import { Show } from '../shows/show.entities';
import { StandIns } from '../test/stand-ins';
import { TestStation } from '../test/station';
import { PlaysService } from './plays.service';

let networks: StandIns;
let station: TestStation;
let show: ShowView;
const report = async () => (await station.as(station.http().get(`/api/shows/${show.id}/report`)).expect(200)).body as ShowReport;
const plays = async (network: string) => (await report()).airings.find((airing) => airing.network === network)!.plays;
const seen = (body: object) =>
  station
    .http()
    .post(`/api/house/${new URL(show.houseUrl).pathname.split('/').at(-1)}/seen`)
    .send(body);
const remote = (network: string) => new URL(show.airings.find(({ watchUrl }) => watchUrl?.includes(`/${network}/`))!.watchUrl!).pathname.split('/').at(-1)!;

beforeAll(async () => {
  networks = await StandIns.open();
  station = await TestStation.open();
  const channels: ChannelView[] = [await networks.link(station, 'reelmoor', 'rm-alderfell'), await networks.link(station, 'townfold', 'tf-alderfell')];
  const when = { ...wallTimeOf(instant(Math.ceil(Date.now() / HOUR_MS) * HOUR_MS + 3 * HOUR_MS), 'UTC'), zone: 'UTC' };
  const draft = station.draft(
    channels.map(({ id }) => id),
    when,
  );
  const { id } = (await station.as(station.http().post('/api/shows')).send(draft).expect(201)).body as ShowView;
  await station.as(station.http().post(`/api/shows/${id}/place`)).expect(200);
  show = (await station.as(station.http().get(`/api/shows/${id}`)).expect(200)).body as ShowView;
});
afterAll(async () => {
  await station.close();
  rmSync(station.folder, { recursive: true, force: true });
  await networks.close();
});

test('the house page counts openings and plays, before it, while it is on and since, by what led there', async () => {
  await seen({ what: 'page', source: 'poster' }).expect(204);
  await seen({ what: 'page', source: 'poster' }).expect(204);
  await station.database.getRepository(Show).update({ id: show.id }, { state: 'onAir', onAirSince: Date.now() - HOUR_MS });
  await seen({ what: 'page', source: '' }).expect(204);
  await seen({ what: 'play', source: '' }).expect(204);
  await networks.finishAll();
  await station.database.getRepository(Show).update({ id: show.id }, { state: 'over', endedAt: Date.now() - 1_000 });
  await seen({ what: 'play', source: 'poster' }).expect(204);
  await seen({ what: 'stand', source: 'poster' }).expect(400);
  await seen({ what: 'page', source: 'x'.repeat(61) }).expect(400);
  expect((await report()).house).toEqual({
    opened: { before: 2, live: 1, since: 0 },
    playsLive: 1,
    playsByDay: [1],
    from: [
      { source: 'poster', count: 2 },
      { source: '', count: 1 },
    ],
  });
});

test('a network that counts later is asked again, and what it tells then arrives by itself', async () => {
  await networks.played(remote('reelmoor'), 'a', false);
  await networks.played(remote('reelmoor'), 'b', true);
  await networks.played(remote('townfold'), 'c', false);
  await station.app.get(PlaysService).now();
  expect(await plays('Reelmoor')).toEqual({ days: [{ day: 0, live: 1, since: 1 }], toldAt: expect.any(Number), trouble: '' });
  expect(await plays('Townfold')).toEqual({ days: [], toldAt: null, trouble: '' });
  await networks.endedAt(remote('townfold'), Date.now() - HOUR_MS);
  station.travelTo(Date.now() + 11 * MINUTE_MS);
  await station.app.get(PlaysService).now();
  expect((await plays('Townfold'))!.days).toEqual([{ day: 0, live: 1, since: 0 }]);
  // Not more often than is of use.
  await networks.played(remote('reelmoor'), 'd', true);
  await station.app.get(PlaysService).now();
  expect((await plays('Reelmoor'))!.days).toEqual([{ day: 0, live: 1, since: 1 }]);
});

test('a network that does not answer is told of, and what it told before stays; a month later nobody is asked', async () => {
  station.travelTo(Date.now() + 2 * DAY_MS + HOUR_MS);
  await networks.operate('faults', { network: 'reelmoor', fault: 'down' });
  await station.app.get(PlaysService).now();
  const silent = (await plays('Reelmoor'))!;
  expect(silent.days).toEqual([{ day: 0, live: 1, since: 1 }]);
  expect(silent.trouble).toContain('Reelmoor');
  await networks.operate('faults', { network: 'reelmoor', fault: 'none' });
  station.travelTo(Date.now() + 2 * DAY_MS + 2 * HOUR_MS);
  await station.app.get(PlaysService).now();
  expect(await plays('Reelmoor')).toMatchObject({ days: [{ day: 0 }, { day: 2, live: 1, since: 2 }], trouble: '' });
  station.travelTo(Date.now() + 40 * DAY_MS);
  await networks.played(remote('reelmoor'), 'e', true);
  await station.app.get(PlaysService).now();
  // Whoever was signed in then is no more.
  station.travelTo(Date.now());
  expect((await plays('Reelmoor'))!.days.at(-1)).toMatchObject({ day: 2 });
});

test('sources that somebody makes up fill no disk', async () => {
  for (let at = 0; at < 40; at += 1) await seen({ what: 'page', source: `made up ${at}` });
  const { from } = (await report()).house;
  expect(from.length).toBeLessThanOrEqual(25);
  expect(from.find(({ source }) => source === 'elsewhere')!.count).toBeGreaterThan(10);
});

test('what was counted while the disk was full is kept once there is room', async () => {
  await seen({ what: 'page', source: 'full disk' }).expect(204);
  await station.database.query(`CREATE TRIGGER full BEFORE INSERT ON house_counts BEGIN SELECT RAISE(ABORT, 'database or disk is full'); END`);
  const count = async () => (await report()).house.opened.since;
  const before = await count();
  await station.database.query('DROP TRIGGER full');
  expect(await count()).toBe(before + 1);
});
