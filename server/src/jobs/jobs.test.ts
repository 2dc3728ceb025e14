// Jobs against a real database: kept until they are done, whatever happens in between.
import 'reflect-metadata';
import { TestStation } from '../test/station';
import { together } from '../foundation/together';
import { Station } from '../people/people.entities';
import { JobsService, NotDone, type JobKind } from './jobs.service';

let station: TestStation;
let jobs: JobsService;
let stationId: string;
const runs: Record<string, (subject: string) => Promise<void>> = {};
const gaveUp: string[] = [];
const kindOf = (kind: string, more: Partial<JobKind> = {}): JobKind => ({
  kind,
  atOnce: 1,
  triesMax: 3,
  waitMs: (tries) => tries * 1_000,
  run: (subject) => runs[kind]!(subject),
  gaveUp: async (subject) => void gaveUp.push(subject),
  words: async (subject) => `Bring ${subject}`,
  ...more,
});

beforeAll(async () => {
  station = await TestStation.open();
  jobs = station.app.get(JobsService);
  [{ id: stationId }] = (await station.database.getRepository(Station).find()) as [Station];
  for (const kind of ['bring', 'other']) jobs.takeUp(kindOf(kind));
});
afterAll(() => station.close());
beforeEach(async () => {
  gaveUp.length = 0;
  await station.database.query('DELETE FROM jobs');
});

/** The station's clock goes on by so much. */
let ahead = 0;
function later(ms: number): Promise<void> {
  ahead += ms;
  station.travelTo(Date.now() + ahead);
  return jobs.settled('bring');
}

test('what is done is kept no more; what is asked for twice is done once', async () => {
  let done = 0;
  runs.bring = async () => void done++;
  await Promise.all([jobs.add(stationId, 'bring', 'tea'), jobs.add(stationId, 'bring', 'tea')]);
  await jobs.settled('bring');
  expect([done, await jobs.find('bring', 'tea')]).toEqual([1, null]);
});

test('what is asked for anew while it is being done is done once more', async () => {
  let done = 0;
  runs.bring = async (subject) => {
    done += 1;
    if (done === 1) await jobs.add(stationId, 'bring', subject);
  };
  await jobs.add(stationId, 'bring', 'tea');
  await jobs.settled('bring');
  await jobs.settled('bring');
  expect([done, await jobs.find('bring', 'tea')]).toEqual([2, null]);
});

test('what cannot be done is tried again after its waits, told with its reason, and given up in the end, until somebody tries it again', async () => {
  let tries = 0;
  let mended = false;
  runs.bring = async () => {
    tries += 1;
    if (!mended) throw new NotDone('The kettle is cold.');
  };
  await jobs.add(stationId, 'bring', 'tea');
  await jobs.settled('bring');
  await jobs.settled('bring');
  expect(tries).toBe(1);
  const told = async () => (await station.as(station.http().get('/api/jobs')).expect(200)).body;
  expect(await told()).toEqual([expect.objectContaining({ words: 'Bring tea', trouble: 'The kettle is cold.', tries: 1, nextTryAt: expect.any(Number) })]);
  await later(1_100);
  await later(2_100);
  await later(60_000);
  expect([tries, gaveUp]).toEqual([3, ['tea']]);
  const [given] = await told();
  expect(given.nextTryAt).toBeNull();
  mended = true;
  await station.as(station.http().post(`/api/jobs/${given.id}/now`)).expect(204);
  await jobs.settled('bring');
  expect([tries, await told()]).toEqual([4, []]);
  await station.as(station.http().post(`/api/jobs/${given.id}/now`)).expect(409);
});

test('what is hopeless is not tried again; a fault of ours is told without its insides', async () => {
  runs.bring = async (subject) => {
    throw subject === 'tea' ? new NotDone('There is no tea.', true) : new Error('secret insides');
  };
  await jobs.add(stationId, 'bring', 'tea');
  await jobs.add(stationId, 'bring', 'cake');
  await jobs.settled('bring');
  await jobs.settled('bring');
  expect((await jobs.find('bring', 'tea'))!.givenUpAt).not.toBeNull();
  expect(await jobs.find('bring', 'cake')).toMatchObject({ trouble: 'Something went wrong here.', tries: 1, givenUpAt: null });
});

test('one that hangs or throws holds up no other kind', async () => {
  let release: () => void = () => undefined;
  runs.bring = () => new Promise((resolve) => (release = resolve));
  const done: string[] = [];
  runs.other = async (subject) => void done.push(subject);
  await jobs.add(stationId, 'bring', 'tea');
  for (const subject of ['a', 'b', 'c']) await jobs.add(stationId, 'other', subject);
  for (let at = 0; at < 5; at++) await jobs.settled('other');
  expect(done.sort()).toEqual(['a', 'b', 'c']);
  release();
  await jobs.settled('bring');
});

test('what is needed by many is done for each; what fails already is neither tried sooner nor held twice', async () => {
  const done: string[] = [];
  runs.other = async (subject) => {
    done.push(subject);
    if (subject === stationId) throw new NotDone('Not now.');
  };
  const each = () => jobs.needEach('other', 'SELECT id AS stationId, id FROM stations');
  await each();
  await jobs.settled('other');
  await each();
  await jobs.settled('other');
  expect(done).toEqual([stationId]);
  expect(await jobs.find('other', stationId)).toMatchObject({ tries: 1, trouble: 'Not now.' });
});

test('a job is kept with what else is written, or not at all', async () => {
  await together(station.database, async (entities) => {
    await jobs.add(stationId, 'other', 'undone', Date.now() + ahead + 60_000, entities);
    throw new Error('no');
  }).catch(() => undefined);
  expect(await jobs.find('other', 'undone')).toBeNull();
});

test('another station’s jobs are neither told nor tried', async () => {
  runs.bring = async () => {
    throw new NotDone('The kettle is cold.');
  };
  await jobs.add(stationId, 'bring', 'tea');
  await jobs.settled('bring');
  const { id } = (await jobs.find('bring', 'tea'))!;
  const other = await station.person('owner', 'other-station');
  expect((await station.as(station.http().get('/api/jobs'), other).expect(200)).body).toEqual([]);
  await station.as(station.http().post(`/api/jobs/${id}/now`), other).expect(409);
  await station.as(station.http().delete(`/api/jobs/${id}`), other).expect(409);
  const moderator = await station.person('moderator');
  await station.as(station.http().delete(`/api/jobs/${id}`), moderator).expect(403);
  await station.as(station.http().delete(`/api/jobs/${id}`)).expect(204);
  expect(await jobs.find('bring', 'tea')).toBeNull();
});
