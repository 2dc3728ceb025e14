// Ending a show on a network that does not answer: tried until it does, also by a server that was stopped in between.
import type { AirView, ChannelView, JobView, ShowReport, ShowView, WrapResult } from '@lantern/contract';
import { HOUR_MS, instant, wallTimeOf } from '@lantern/core';
import { rmSync } from 'node:fs';
import { StandIns } from '../test/stand-ins';
import { ShowRows } from '../shows/show-rows';
import { TestStation } from '../test/station';

let networks: StandIns;
let station: TestStation;
let town: ChannelView;

beforeAll(async () => {
  networks = await StandIns.open();
  station = await TestStation.open();
  town = await networks.link(station, 'townfold', 'tf-alderfell');
});
afterAll(async () => {
  await station.close();
  rmSync(station.folder, { recursive: true, force: true });
  await networks.close();
});

const as = (method: 'get' | 'post' | 'delete', path: string) => station.as(station.http()[method](path));

async function onAir(): Promise<ShowView> {
  const when = { ...wallTimeOf(instant(Math.ceil(Date.now() / HOUR_MS) * HOUR_MS + 3 * HOUR_MS), 'UTC'), zone: 'UTC' };
  const show = (
    await as('post', '/api/shows')
      .send(station.draft([town.id], when))
      .expect(201)
  ).body as ShowView;
  await as('post', `/api/shows/${show.id}/place`).expect(200);
  await as('post', `/api/shows/${show.id}/air`).expect(200);
  return (await as('get', `/api/shows/${show.id}`)).body as ShowView;
}
const eventOf = (show: ShowView) => networks.event(new URL(show.airings[0]!.watchUrl!).pathname.split('/').at(-1)!);
const endWords = async (show: ShowView) => ((await as('get', `/api/shows/${show.id}/report`).expect(200)).body as ShowReport).airings[0]!.endWords;
async function until(condition: () => Promise<boolean>): Promise<void> {
  for (let tries = 0; tries < 200 && !(await condition()); tries++) await new Promise((next) => setTimeout(next, 50));
  expect(await condition()).toBe(true);
}

test('what could not be ended is ended by the next server, once the network answers', async () => {
  const show = await onAir();
  await networks.operate('faults', { network: 'townfold', fault: 'down' });
  const { results } = (await as('post', `/api/shows/${show.id}/wrap`).expect(200)).body as WrapResult;
  expect(results).toEqual([expect.objectContaining({ done: false, words: expect.stringContaining('does not answer') })]);
  expect((await eventOf(show)).state).toBe('planned');
  await until(async () =>
    ((await as('get', '/api/jobs')).body as JobView[]).some(({ words }) => /^End “Dusk Report”, .+, on Alderfell Sky Club \(Townfold\)$/.test(words)),
  );
  await station.close(true);
  await networks.operate('faults', { network: 'townfold', fault: 'none' });
  station = await TestStation.open(station.folder);
  await until(async () => (await endWords(show)) === 'Ended on Townfold, at a later try.');
  expect((await eventOf(show)).state).toBe('over');
  expect((await as('get', '/api/jobs')).body).toEqual([]);
});

test('what a channel makes only now, while the show is wrapped up, is ended too', async () => {
  const handle = await networks.link(station, 'pipwire', 'pw-alderfellsky');
  const when = { ...wallTimeOf(instant(Math.ceil(Date.now() / HOUR_MS) * HOUR_MS + 3 * HOUR_MS), 'UTC'), zone: 'UTC' };
  const show = (
    await as('post', '/api/shows')
      .send(station.draft([handle.id], when))
      .expect(201)
  ).body as ShowView;
  await as('post', `/api/shows/${show.id}/place`).expect(200);
  await networks.operate('faults', { network: 'pipwire', fault: 'slow' });
  await as('post', `/api/shows/${show.id}/air`).expect(200);
  await as('post', `/api/shows/${show.id}/wrap`).expect(200);
  await networks.operate('faults', { network: 'pipwire', fault: 'none' });
  await until(async () => {
    const { airings } = (await as('get', `/api/shows/${show.id}`)).body as ShowView;
    const [, reference] = /([^/]+)$/.exec(airings[0]!.watchUrl ?? '') ?? [];
    return reference !== undefined && (await networks.event(reference)).state === 'over';
  });
});

test('an ending that was given up says so in the report, and is tried again by hand', async () => {
  const show = await onAir();
  await networks.operate('faults', { network: 'townfold', fault: 'down' });
  await as('post', `/api/shows/${show.id}/wrap`).expect(200);
  await until(async () => {
    // As if all tries but the last were behind it; a try that is under way counts from where it began.
    await station.database.query(`UPDATE jobs SET tries = 13, dueAt = 0 WHERE kind = 'end' AND givenUpAt IS NULL`);
    return (await endWords(show)).includes('End it there by hand');
  });
  await networks.operate('faults', { network: 'townfold', fault: 'none' });
  const [job] = (await as('get', '/api/jobs')).body as [JobView];
  expect(job.nextTryAt).toBeNull();
  await as('post', `/api/jobs/${job.id}/now`).expect(204);
  await until(async () => (await eventOf(show)).state === 'over');
});

test('a full disk keeps no show before its viewers: it is ended there, and noted here by another press', async () => {
  const show = await onAir();
  const rows = station.app.get(ShowRows);
  const full = jest.spyOn(rows, 'move').mockRejectedValue(Object.assign(new Error('database or disk is full'), { code: 'SQLITE_FULL' }));
  const { words } = (await as('post', `/api/shows/${show.id}/wrap`).expect(507)).body as { words: string };
  expect(words).toMatch(/^Ended on Townfold\. The disk of the server is full.* wrap it up once more then\.$/);
  expect((await eventOf(show)).state).toBe('over');
  full.mockRestore();
  expect((await as('get', `/api/shows/${show.id}/air`)).body).toMatchObject({ showState: 'onAir' });
  expect(((await as('post', `/api/shows/${show.id}/wrap`).expect(200)).body as WrapResult).results).toEqual([expect.objectContaining({ done: true })]);
  expect((await as('get', `/api/shows/${show.id}`)).body).toMatchObject({ state: 'over' });
});

test('an event that ends there while the show is on air is said, and two presses make one other, also where the server is killed in between', async () => {
  const show = await onAir();
  const lamp = async () => ((await as('get', `/api/shows/${show.id}/air`)).body as AirView).airings[0]!;
  const anew = () => as('post', `/api/shows/${show.id}/airings/${show.airings[0]!.id}/anew`).expect(200);
  // No picture can be sent to these stand-ins: dark, or a fault once the break card is there and finds nobody who takes it.
  await until(async () => ['dark', 'fault'].includes((await lamp()).lamp));
  // Nothing has ended: the press does nothing.
  await anew();
  expect((await lamp()).watchUrl).toBe(show.airings[0]!.watchUrl);
  await networks.operate('events', { network: 'townfold', event: new URL(show.airings[0]!.watchUrl!).pathname.split('/').at(-1)!, what: 'end' });
  await until(async () => (await lamp()).mayBeMadeAnew);
  expect(await lamp()).toMatchObject({ lamp: 'out', words: expect.stringContaining('Ended on Townfold, and not from here') });
  const count = async () => (await networks.events()).filter(({ title }) => title === 'Dusk Report').length;
  const before = await count();
  await networks.operate('faults', { network: 'townfold', fault: 'lose-answer' });
  await Promise.all([anew(), anew()]);
  await until(async () => (await count()) > before);
  await station.close(true);
  await networks.operate('faults', { network: 'townfold', fault: 'none' });
  station = await TestStation.open(station.folder);
  await until(async () => ![null, show.airings[0]!.watchUrl].includes((await lamp()).watchUrl));
  expect(await count()).toBe(before + 1);
  await as('post', `/api/shows/${show.id}/wrap`).expect(200);
  const after = (await as('get', `/api/shows/${show.id}`)).body as ShowView;
  expect((await eventOf(after)).state).toBe('over');
});

test('a network that takes the end and goes on is named, and told again until the show is over there', async () => {
  await networks.operate('faults', { network: 'townfold', fault: 'goes-on' });
  const show = await onAir();
  const { results } = (await as('post', `/api/shows/${show.id}/wrap`).expect(200)).body as WrapResult;
  expect(results).toEqual([expect.objectContaining({ done: false, words: expect.stringContaining('shows the show all the same') })]);
  expect(await endWords(show)).toContain('shows the show all the same');
  await networks.operate('faults', { network: 'townfold', fault: 'none' });
  await until(async () => (await endWords(show)) === 'Ended on Townfold, at a later try.');
  expect((await eventOf(show)).state).toBe('over');
});
