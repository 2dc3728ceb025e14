// What is written down while a show is on: each line once, from whoever helps, and beneath the recording afterwards.
import type { CaptionsView, NotesView, ShowView } from '@lantern/contract';
import { RecordingRows } from '../recording/recording-rows';
import { Show } from '../shows/show.entities';
import { TestStation } from '../test/station';

let station: TestStation;
let show: ShowView;
const at = (path = '') => `/api/shows/${show.id}/notes${path}`;
const write = (id: string, words: string, begunMsAgo = 2_000) => station.as(station.http().post(at())).send({ id: id.repeat(24), words, begunMsAgo });
const view = async () => (await station.as(station.http().get(at())).expect(200)).body as NotesView;
const be = (columns: Partial<Show>) => station.database.getRepository(Show).update({ id: show.id }, columns);

beforeAll(async () => {
  station = await TestStation.open();
  show = (await station.as(station.http().post('/api/shows')).send(station.draft([])).expect(201)).body as ShowView;
});
afterAll(() => station.close());

test('nothing is written down before it is on', async () => {
  expect(await view()).toMatchObject({ open: false, notes: [] });
  await write('a', 'Too early').expect(409);
});

test('each line is kept once, whoever presses twice, and can be taken out again', async () => {
  await be({ state: 'onAir', onAirSince: Date.now() - 60_000 });
  await Promise.all([write('a', 'Good evening'), write('a', 'Good evening'), write('b', 'from the\ndome', 1_000)]);
  expect((await view()).notes.map(({ words }) => words)).toEqual(['Good evening', 'from the dome']);
  await write('c', 'A slip').expect(200);
  const { body } = await station.as(station.http().delete(at(`/${'c'.repeat(24)}`))).expect(200);
  expect((body as NotesView).count).toBe(2);
});

test.each([
  ['no words', 'd', '', 0],
  ['far too many', 'd', 'x'.repeat(501), 0],
  ['a time to come', 'd', 'Soon', -5],
  ['no name', '!', 'Soon', 0],
])('a line with %s is refused', async (_, id, words, ago) => {
  await write(id, words, ago).expect(400);
});

test('afterwards they are offered as captions, from when each was begun', async () => {
  await be({ state: 'over', endedAt: Date.now() });
  await station.app.get(RecordingRows).become(show.id, { state: 'ready', lengthMs: 70_000, parts: [{ fromMs: 0, atMs: 0, lengthMs: 70_000 }] });
  const { notes } = (await station.as(station.http().get(`/api/shows/${show.id}/captions`)).expect(200)).body as CaptionsView;
  expect(notes.map(({ text }) => text)).toEqual(['Good evening', 'from the dome']);
  expect(notes[0]!.fromMs).toBeGreaterThan(57_000);
  expect(notes[1]!.fromMs - notes[0]!.fromMs).toBeGreaterThan(800);
  // A line that was still on its way as the show ended is not lost where it was kept before.
  await write('a', 'Good evening').expect(200);
});
