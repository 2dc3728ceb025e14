// Rehearsals against the whole server: what is rehearsed is in no list, on no page and on no channel, and goes by itself.
import type { AirView, HouseView, RehearsalView, ShowSummary, ShowView } from '@lantern/contract';
import { DAY_MS, HOUR_MS } from '@lantern/core';
import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Airing } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { RehearsalsService } from './rehearsals.service';
import { TestStation } from '../test/station';

let station: TestStation;
let hall = '';
let show: ShowView;
beforeAll(async () => {
  station = await TestStation.open();
  hall = (await as('post', '/api/channels/typed-in').send({ name: 'Hall', address: 'rtmp://127.0.0.1:9/hall', key: 'hall-key-1' }).expect(201)).body.id;
});
afterAll(() => station.close());
beforeEach(async () => {
  station.forgetTries();
  const [date, time] = new Date(Date.now() + 2 * HOUR_MS).toISOString().split('T') as [string, string];
  const announcement = { id: 'a', place: 'Board', text: 'Tonight', time: HOUR_MS, channelId: null };
  const cues = [{ id: 'c', name: 'Opening', lengthS: 60, hardAt: null, who: '', notes: '' }];
  const sheet = station.draft([hall], { date, time: time.slice(0, 5), zone: 'UTC', announcements: [announcement], cues });
  show = (await as('post', '/api/shows').send(sheet).expect(201)).body;
  await as('post', `/api/shows/${show.id}/place`).expect(200);
});

afterEach(() => as('post', `/api/shows/${show.id}/withdraw`));

const as = (method: 'get' | 'post' | 'patch' | 'delete', path: string, who = station.cookie) => station.as(station.http()[method](path), who);
const rehearse = async (id = show.id) => (await as('post', `/api/shows/${id}/rehearsals`).expect(200)).body as RehearsalView;
const read = async (id: string) => (await as('get', `/api/shows/${id}`).expect(200)).body as ShowView;
const all = async () => (await as('get', `/api/shows/${show.id}/rehearsals`).expect(200)).body as RehearsalView[];
const picturesOf = (id: string) => readdirSync(join(station.folder, 'pictures')).filter((file) => file.startsWith(id));

test('it is the whole show without any channel, and in no list, on no page and in no feed', async () => {
  const { id } = await rehearse();
  const rehearsal = await read(id);
  expect(rehearsal).toMatchObject({ title: show.title, cues: show.cues, rehearsal: { of: show.id, channelIds: [hall] } });
  expect(rehearsal).toMatchObject({ airings: [], channelIds: [], announcements: [], reminders: false, houseVisibility: 'invited people' });
  expect(await station.database.getRepository(Airing).countBy({ showId: id })).toBe(0);
  for (const words of ['', `?words=${encodeURIComponent(show.title)}`, `?before=${Date.now() + 30 * DAY_MS}`]) {
    const ids = ((await as('get', `/api/shows${words}`).expect(200)).body as ShowSummary[]).map((each) => each.id);
    expect([ids.includes(show.id), ids.includes(id)]).toEqual([true, false]);
  }
  const address = new URL(rehearsal.houseUrl).pathname;
  await station
    .http()
    .get(`/api/house/${address.split('/').at(-1)}`)
    .expect(404);
  expect(
    (
      await station
        .http()
        .get(`/api/house/${new URL(show.houseUrl).pathname.split('/').at(-1)}`)
        .expect(200)
    ).body as HouseView,
  ).toBeTruthy();
});

test('two who press at once have one; it goes on air, is told as what it is, and leaves its show as it was', async () => {
  const [one, other] = await Promise.all([rehearse(), rehearse()]);
  expect(one.id).toBe(other.id);
  const { body } = await as('post', `/api/shows/${one.id}/air`).send({ tab: null }).expect(200);
  expect(body as AirView).toMatchObject({ showState: 'onAir', airings: [] });
  expect((await as('get', '/api/on-air').expect(200)).body).toEqual([expect.objectContaining({ showId: one.id, rehearsal: true })]);
  expect((await rehearse()).state).toBe('running');
  expect((await read(show.id)).state).toBe('placed');
  expect((await as('post', `/api/shows/${one.id}/wrap`).expect(200)).body).toEqual({ results: [] });
  expect((await all()).map(({ state }) => state)).toEqual(['over']);
  expect((await read(show.id)).state).toBe('placed');
  // Another can be made at once.
  expect((await rehearse()).id).not.toBe(one.id);
});

test('one that was never begun is found for an hour, and then makes way; of many the oldest goes', async () => {
  const first = await rehearse();
  station.travelTo(Date.now() + HOUR_MS / 2);
  expect((await rehearse()).id).toBe(first.id);
  station.travelTo(Date.now() + 2 * HOUR_MS - 60_000);
  const second = await rehearse();
  station.travelTo(Date.now());
  expect((await all()).map(({ id }) => id)).toEqual([second.id]);
  const made = [second.id];
  for (let round = 0; round < 6; round++) {
    await as('post', `/api/shows/${made.at(-1)!}/air`)
      .send({ tab: null })
      .expect(200);
    await as('post', `/api/shows/${made.at(-1)!}/wrap`).expect(200);
    made.push((await rehearse()).id);
  }
  // The second was made by a clock that was ahead: it is the newest.
  expect((await all()).map(({ id }) => id).sort()).toEqual([second.id, ...made.slice(2)].sort());
});

test('what is put right on the sheet is put right in it, and nowhere else can it be changed', async () => {
  const { id } = await rehearse();
  await as('patch', `/api/shows/${show.id}`)
    .send({ base: show.version, changes: { title: 'Dusk Report, with the comet' } })
    .expect(200);
  for (let tries = 0; (await read(id)).title !== 'Dusk Report, with the comet'; tries++) {
    if (tries > 100) throw new Error('it does not follow');
    await new Promise((next) => setTimeout(next, 30));
  }
  expect((await read(id)).announcements).toEqual([]);
  const refused = await as('patch', `/api/shows/${id}`).send({ base: 1, changes: { channelIds: [hall] } });
  expect([refused.status, refused.body.words]).toEqual([409, expect.stringContaining('follows the sheet of its show')]);
  expect((await as('post', `/api/shows/${id}/rehearsals`).expect(409)).body.words).toContain('a rehearsal already');
});

test('on a full disk none is made, it is said why, and nothing of it lies there', async () => {
  // The cards of tests before are still being drawn: each goes by the name of its own show, and none by that of one that was not made.
  const pictures = () => readdirSync(join(station.folder, 'pictures')).filter((name) => !/\.(card|break)-/.test(name));
  const before = pictures();
  const full = Object.assign(new Error('ENOSPC: no space left on device'), { code: 'ENOSPC' });
  const add = jest.spyOn(station.app.get(ShowRows), 'add').mockRejectedValueOnce(full);
  const { status, body } = await as('post', `/api/shows/${show.id}/rehearsals`);
  add.mockRestore();
  expect([status, body.words]).toEqual([507, expect.stringMatching(/disk/i)]);
  expect([await all(), pictures()]).toEqual([[], before]);
  expect((await rehearse()).state).toBe('ready');
});

test('it is for those who may go on air, and nobody of another station knows of it', async () => {
  const { id } = await rehearse();
  const moderator = await station.person('moderator');
  await as('post', `/api/shows/${show.id}/rehearsals`, moderator).expect(403);
  await as('get', `/api/shows/${id}/arrives/live.m3u8`, moderator).expect(404);
  const stranger = await station.person('owner', 'another');
  await as('get', `/api/shows/${id}`, stranger).expect(404);
  await as('get', `/api/shows/${show.id}/rehearsals`, stranger).expect(404);
});

test('what an encoder sends past us, and what is on air, is not rehearsed', async () => {
  await as('patch', `/api/shows/${show.id}`)
    .send({ base: show.version, changes: { pictureFrom: 'encoder' } })
    .expect(200);
  expect((await as('post', `/api/shows/${show.id}/rehearsals`).expect(409)).body.words).toContain('Choose the stage or an outside line');
  await as('patch', `/api/shows/${show.id}`)
    .send({ base: show.version + 1, changes: { pictureFrom: 'stage' } })
    .expect(200);
  await as('post', `/api/shows/${show.id}/air`).send({ tab: null }).expect(200);
  expect((await as('post', `/api/shows/${show.id}/rehearsals`).expect(409)).body.words).toContain('on air');
  await as('post', `/api/shows/${show.id}/wrap`).expect(200);
});

test('after seven days it is thrown away with all that was recorded; one that runs is not', async () => {
  const [old, running] = [await rehearse(), async () => rehearse()];
  await as('post', `/api/shows/${old.id}/air`).send({ tab: null }).expect(200);
  await as('post', `/api/shows/${old.id}/wrap`).expect(200);
  const folder = join(station.folder, 'recordings', old.id);
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, 'programme-1.flv'), 'kept');
  const now = await running();
  await as('post', `/api/shows/${now.id}/air`).send({ tab: null }).expect(200);
  const service = station.app.get(RehearsalsService);
  await service.now();
  expect(await all()).toHaveLength(2);
  station.travelTo(Date.now() + 8 * DAY_MS);
  await service.now();
  station.travelTo(Date.now());
  expect((await all()).map(({ id }) => id)).toEqual([now.id]);
  expect(existsSync(folder)).toBe(false);
  // Its card may still be drawn in this moment, and takes itself away.
  for (let tries = 0; picturesOf(old.id).length > 0; tries++) {
    if (tries > 1_000) throw new Error(`there still lie ${picturesOf(old.id).join(' ')}`);
    await new Promise((next) => setTimeout(next, 30));
  }
  await as('post', `/api/shows/${now.id}/wrap`).expect(200);
});
