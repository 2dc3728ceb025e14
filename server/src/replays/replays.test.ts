// What channels show afterwards, told to the stand-in networks and read back from them.
import type { ChannelView, JobView, ReplayPlace, ShowView } from '@lantern/contract';
import { DAY_MS, HOUR_MS, instant, wallTimeOf } from '@lantern/core';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { CaptionsService } from '../captions/captions.service';
import { SETTINGS, type Settings } from '../foundation/settings';
import { JobsService } from '../jobs/jobs.service';
import { recordingFolder } from '../media/stretch';
import { RecordingRows } from '../recording/recording-rows';
import { Show } from '../shows/show.entities';
import { StandIns } from '../test/stand-ins';
import { TestStation } from '../test/station';

/** As an MP4 begins; the rest is nobody's business here. */
const FILM = Buffer.concat([Buffer.from('\0\0\0\x18ftypmp42', 'latin1'), Buffer.alloc(9_000_000, 'lantern')]);
let networks: StandIns;
let station: TestStation;
let library: ChannelView;
let page: ChannelView;
let show: ShowView;

const places = async () => (await station.as(station.http().get(`/api/shows/${show.id}/replays`)).expect(200)).body as ReplayPlace[];
const there = async (name: string) => (await places()).find(({ network }) => network === name)!;
const wish = async (change: object, name = 'Reelmoor') => {
  const { airingId, revision } = await there(name);
  return station.as(station.http().put(`/api/shows/${show.id}/replays/${airingId}`)).send({ base: revision, shows: 'own', hiddenAt: null, ...change });
};
const settled = () => station.app.get(JobsService).settled('replay');
const watch = async (part: string) => fetch(`${show.airings.find(({ watchUrl }) => watchUrl?.includes(library.network))!.watchUrl}/${part}`);
const state = async () => (await (await watch('state')).json()) as { playable: boolean; film: { language: string } | null };

beforeAll(async () => {
  networks = await StandIns.open();
  station = await TestStation.open();
  library = await networks.link(station, 'reelmoor', 'rm-alderfell');
  page = await networks.link(station, 'townfold', 'tf-alderfell');
  const when = { ...wallTimeOf(instant(Math.ceil(Date.now() / HOUR_MS) * HOUR_MS + 3 * HOUR_MS), 'UTC'), zone: 'UTC' };
  const { id } = (
    await station
      .as(station.http().post('/api/shows'))
      .send(station.draft([library.id, page.id], when))
      .expect(201)
  ).body as ShowView;
  await station.as(station.http().post(`/api/shows/${id}/place`)).expect(200);
  show = (await station.as(station.http().get(`/api/shows/${id}`))).body as ShowView;
  const folder = recordingFolder(station.app.get<Settings>(SETTINGS), id);
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, 'recording.mp4'), FILM);
  await station.app.get(RecordingRows).become(id, { state: 'ready', lengthMs: 60_000, parts: null });
});
afterAll(async () => {
  await station.close();
  rmSync(station.folder, { recursive: true, force: true });
  await networks.close();
});

test('nothing is chosen for afterwards before there is an afterwards', async () => {
  await expect(wish({ shows: 'nothing' })).resolves.toMatchObject({ status: 409 });
  await station.database.getRepository(Show).update({ id: show.id }, { state: 'over', onAirSince: Date.now() - HOUR_MS, endedAt: Date.now() });
  await networks.finishAll();
  expect((await places()).map(({ network, canChange, state }) => [network, canChange, state])).toEqual([
    ['Reelmoor', true, 'stands'],
    ['Townfold', false, 'stands'],
  ]);
  await expect(wish({ shows: 'nothing' }, 'Townfold')).resolves.toMatchObject({ status: 409, body: { words: expect.stringContaining('Townfold') as string } });
});

test('the film is brought there with its captions, stands there once, and every byte is right', async () => {
  await station.app.get(CaptionsService).keep(show.id, 0, 'en', [{ fromMs: 0, toMs: 1_000, text: 'Good evening' }]);
  // A second press is refused, and one film comes of both.
  const { airingId, revision } = await there('Reelmoor');
  const press = () => station.as(station.http().put(`/api/shows/${show.id}/replays/${airingId}`)).send({ base: revision, shows: 'film', hiddenAt: null });
  expect((await Promise.all([press(), press()])).map(({ status }) => status).sort()).toEqual([200, 409]);
  await settled();
  expect(await there('Reelmoor')).toMatchObject({ state: 'stands', shows: 'film', sent: FILM.length, bytes: FILM.length, cutName: 'the whole recording' });
  expect(Buffer.from(await (await watch('film.mp4')).arrayBuffer()).equals(FILM)).toBe(true);
  expect(await (await watch('captions.vtt')).text()).toContain('Good evening');
  expect(await state()).toMatchObject({ playable: true, film: { language: 'en' } });
});

test('a network that is silent is told, nothing is said to stand, and it is tried again', async () => {
  await networks.operate('faults', { network: 'reelmoor', fault: 'down' });
  expect((await wish({ shows: 'nothing' })).status).toBe(200);
  await settled();
  expect(await there('Reelmoor')).toMatchObject({ state: 'asked', trouble: expect.stringContaining('Reelmoor') as string });
  expect((await state()).film).not.toBeNull();
  await networks.operate('faults', { network: 'reelmoor', fault: 'none' });
  const [job] = (await station.as(station.http().get('/api/jobs')).expect(200)).body as JobView[];
  expect(job!.words).toBe('Bring what is shown afterwards to Reelmoor');
  await station.as(station.http().post(`/api/jobs/${job!.id}/now`)).expect(({ status }) => expect(status).toBeLessThan(300));
  await settled();
  expect(await there('Reelmoor')).toMatchObject({ state: 'stands', shows: 'nothing', trouble: '' });
  expect(await state()).toMatchObject({ playable: false, film: null });
});

test('what is to be hidden on a day is hidden on that day', async () => {
  expect((await wish({ shows: 'film', hiddenAt: 5 })).status).toBe(422);
  const now = Date.now();
  // Put off three times: only the last day counts, and nobody is told of trouble.
  for (const days of [0.5, 0.7, 0.9, 2]) expect((await wish({ shows: 'film', hiddenAt: Math.round(now + days * DAY_MS) })).status).toBe(200);
  await settled();
  station.travelTo(now + 1.5 * DAY_MS);
  await station.app.get(JobsService).settled('replay hidden');
  expect((await station.as(station.http().get('/api/jobs')).expect(200)).body).toEqual([]);
  expect((await state()).film).not.toBeNull();
  station.travelTo(now + 3 * DAY_MS);
  await station.app.get(JobsService).settled('replay hidden');
  await settled();
  expect(await there('Reelmoor')).toMatchObject({ state: 'stands', shows: 'nothing', hiddenAt: null });
  expect((await state()).film).toBeNull();
});

test('what is no film is refused in words, and what is shown stays', async () => {
  writeFileSync(join(recordingFolder(station.app.get<Settings>(SETTINGS), show.id), 'recording.mp4'), 'no film at all');
  expect((await wish({ shows: 'film' })).status).toBe(200);
  await settled();
  expect(await there('Reelmoor')).toMatchObject({ state: 'failed', trouble: expect.stringContaining('no MP4') as string });
  expect((await state()).film).toBeNull();
});
