// Taking a past show away from the stand-in networks and from here; one of them silent.
import type { ChannelView, JobView, ShowView, StandingPlace } from '@lantern/contract';
import { HOUR_MS, instant, wallTimeOf } from '@lantern/core';
import { rmSync } from 'node:fs';
import { JobsService } from '../jobs/jobs.service';
import { Show } from '../shows/show.entities';
import { StandIns } from '../test/stand-ins';
import { TestStation } from '../test/station';

let networks: StandIns;
let station: TestStation;
let channels: ChannelView[];

beforeAll(async () => {
  networks = await StandIns.open();
  station = await TestStation.open();
  channels = [await networks.link(station, 'reelmoor', 'rm-alderfell'), await networks.link(station, 'townfold', 'tf-alderfell')];
});
afterAll(async () => {
  await station.close();
  rmSync(station.folder, { recursive: true, force: true });
  await networks.close();
});

async function past(): Promise<ShowView> {
  const when = { ...wallTimeOf(instant(Math.ceil(Date.now() / HOUR_MS) * HOUR_MS + 3 * HOUR_MS), 'UTC'), zone: 'UTC' };
  const draft = station.draft(
    channels.map(({ id }) => id),
    when,
  );
  const { id } = (await station.as(station.http().post('/api/shows')).send(draft).expect(201)).body as ShowView;
  await station.as(station.http().post(`/api/shows/${id}/place`)).expect(200);
  await networks.finishAll();
  await station.database.getRepository(Show).update({ id }, { state: 'over', onAirSince: Date.now() - HOUR_MS, endedAt: Date.now() });
  return (await station.as(station.http().get(`/api/shows/${id}`)).expect(200)).body as ShowView;
}
const places = async ({ id }: ShowView) => (await station.as(station.http().get(`/api/shows/${id}/places`)).expect(200)).body as StandingPlace[];
const take = ({ id }: ShowView, from: string) => station.as(station.http().post(`/api/shows/${id}/places/removal`)).send({ from });
const settled = () => station.app.get(JobsService).settled('take away');
const states = async (show: ShowView) => (await places(show)).map(({ name, state }) => [name, state]);
const there = async (show: ShowView) =>
  (await Promise.all(show.airings.map(({ watchUrl }) => networks.event(new URL(watchUrl!).pathname.split('/').at(-1)!)))).map(({ state }) => state);

test('each place is told with what taking it away does there', async () => {
  const show = await past();
  const all = await places(show);
  expect(all.map(({ name, state, does }) => [name, state, does])).toEqual([
    ['Here', 'stands', expect.stringContaining('taken back for a day')],
    ['Reelmoor', 'stands', 'Withdrawing removes the event there, and its recording too.'],
    ['Townfold', 'stands', 'Withdrawing removes the event there; a recording is kept.'],
  ]);
  await take(show, 'there').expect(202);
  await settled();
  expect(await states(show)).toEqual([
    ['Here', 'stands'],
    ['Reelmoor', 'gone'],
    ['Townfold', 'gone'],
  ]);
  expect(await there(show)).toEqual(['withdrawn', 'withdrawn']);
  // Nothing is said to be gone that is not.
  expect((await places(show)).map(({ stays }) => stays)).toEqual(['', '', 'Its recording still stands there: remove that there.']);
  await take(show, 'there').expect(409);
  await take(show, 'somewhere').expect(400);
});

test('with one network silent nothing is said to be gone that is not, and it goes from here once it is gone from there', async () => {
  const show = await past();
  await networks.operate('faults', { network: 'townfold', fault: 'down' });
  // A second press is the same wish.
  await Promise.all([take(show, 'everywhere'), take(show, 'everywhere')]);
  await settled();
  expect(await states(show)).toEqual([
    ['Here', 'stands'],
    ['Reelmoor', 'gone'],
    ['Townfold', 'asked'],
  ]);
  expect((await places(show))[2]!.trouble).toContain('Townfold');
  await networks.operate('faults', { network: 'townfold', fault: 'none' });
  const [job] = (await station.as(station.http().get('/api/jobs')).expect(200)).body as JobView[];
  expect(job!.words).toBe('Take “Dusk Report” away from Townfold');
  await station.as(station.http().post(`/api/jobs/${job!.id}/now`)).expect(({ status }) => expect(status).toBeLessThan(300));
  await settled();
  expect(await there(show)).toEqual(['withdrawn', 'withdrawn']);
  await station.as(station.http().get(`/api/shows/${show.id}`)).expect(404);
});

test('killed between there and here, it goes from here at the next start', async () => {
  const show = await past();
  await take(show, 'there').expect(202);
  await settled();
  // As it lies in the database when the last channel was noted and nothing more was done.
  const { id: stationId } = (await station.database.query('SELECT stationId AS id FROM shows WHERE id = ?', [show.id]))[0] as { id: string };
  const last = (await places(show)).at(-1)!.airingId!;
  await station.database.query('UPDATE takedowns SET thenHere = 1 WHERE airingId = ?', [last]);
  await station.app.get(JobsService).add(stationId, 'take away', last);
  await settled();
  await station.as(station.http().get(`/api/shows/${show.id}`)).expect(404);
});

test('from here alone leaves what stands there', async () => {
  const show = await past();
  await take(show, 'here').expect(202);
  await station.as(station.http().get(`/api/shows/${show.id}`)).expect(404);
  expect(await there(show)).toEqual(['over', 'over']);
});

test('a show that is not over is withdrawn on its sheet', async () => {
  const { body } = await station.as(station.http().post('/api/shows')).send(station.draft([])).expect(201);
  await take(body as ShowView, 'everywhere').expect(409);
});
