// What is noted of one date for the next: kept, found by later dates of its series, and written over nothing of somebody else's.
import type { LessonsView, ShowView } from '@lantern/contract';
import { DAY_MS } from '@lantern/core';
import { Show } from '../shows/show.entities';
import { TestStation } from '../test/station';

let station: TestStation;
let dates: ShowView[];
const lessonsOf = async ({ id }: ShowView) => (await station.as(station.http().get(`/api/shows/${id}/lessons`)).expect(200)).body as LessonsView;
const keep = ({ id }: ShowView, base: number, lessons: object[]) => station.as(station.http().put(`/api/shows/${id}/lessons`)).send({ base, lessons });

beforeAll(async () => {
  station = await TestStation.open();
  dates = [];
  for (const at of [0, 7, 14]) {
    const show = (await station.as(station.http().post('/api/shows')).send(station.draft([])).expect(201)).body as ShowView;
    // Dates of one series, as far as these notes go.
    await station.database.query('PRAGMA foreign_keys = OFF');
    await station.database.getRepository(Show).update({ id: show.id }, { seriesId: 'evenings', startsAt: show.startsAt + at * DAY_MS });
    dates.push(show);
  }
});
afterAll(() => station.close());

test('what was noted is found by later dates, at the cue that it belongs to, and by none before', async () => {
  const [first, second, third] = dates as [ShowView, ShowView, ShowView];
  expect(await lessonsOf(first)).toEqual({ revision: 0, lessons: [], before: [] });
  await keep(first, 0, [
    { cue: 'The comet', words: ' Let the picture stand longer ' },
    { cue: '', words: 'Begin ten minutes later' },
  ]).expect(200);
  await keep(second, 0, [{ cue: '', words: 'Ten was too much' }]).expect(200);
  expect((await lessonsOf(third)).before.map(({ showId, lessons }) => [showId, lessons.map(({ cue, words }) => [cue, words])])).toEqual([
    [second.id, [['', 'Ten was too much']]],
    [
      first.id,
      [
        ['The comet', 'Let the picture stand longer'],
        ['', 'Begin ten minutes later'],
      ],
    ],
  ]);
  expect((await lessonsOf(first)).before).toEqual([]);
});

test('a show of no series finds what was noted of earlier ones of its name, and of no other', async () => {
  const draft = { ...station.draft([]), title: 'Sky for beginners' };
  const add = async (title: string, days: number) => {
    const show = (
      await station
        .as(station.http().post('/api/shows'))
        .send({ ...draft, title })
        .expect(201)
    ).body as ShowView;
    await station.database.getRepository(Show).update({ id: show.id }, { startsAt: show.startsAt + days * DAY_MS });
    return show;
  };
  const [first, other, again] = [await add(draft.title, 0), await add('Sky for owls', 1), await add(draft.title, 7)];
  await keep(first, 0, [{ cue: '', words: 'Bring a second lamp' }]).expect(200);
  await keep(other, 0, [{ cue: '', words: 'Later' }]).expect(200);
  expect((await lessonsOf(again)).before.map(({ showId }) => showId)).toEqual([first.id]);
});

test('a second press, and somebody else who wrote meanwhile, take nothing away', async () => {
  const [first] = dates as [ShowView];
  const { revision, lessons } = await lessonsOf(first);
  const [one, other] = await Promise.all([
    keep(first, revision, [...lessons, { cue: '', words: 'A' }]),
    keep(first, revision, [...lessons, { cue: '', words: 'B' }]),
  ]);
  expect([one.status, other.status].sort()).toEqual([200, 409]);
  expect((await lessonsOf(first)).lessons).toHaveLength(3);
});

test.each([
  ['nothing', { words: '' }],
  ['too much', { words: 'x'.repeat(401) }],
  ['something odd', { words: 7 }],
  ['no cue at all', { cue: null }],
])('a note that says %s is refused', async (_, change) => {
  const [, second] = dates as [ShowView, ShowView];
  const { revision } = await lessonsOf(second);
  await keep(second, revision, [{ cue: '', words: 'Fine', ...change }]).expect(400);
});
