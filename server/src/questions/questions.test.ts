// Questions from the house page over HTTP: who may ask, who reads them, and what it takes to come onto the picture by one.
import type { DoorView, GuestView, HouseView, OwnQuestion, PlaceAnswered, QuestionsView, ShowView } from '@lantern/contract';
import { DAY_MS, HOUR_MS } from '@lantern/core';
import { randomBytes } from 'node:crypto';
import { Clock } from '../foundation/clock';
import { RetentionService } from '../retention/retention.service';
import { TestStation } from '../test/station';

let station: TestStation;
let hall = '';
let producer = '';
let moderator = '';
let show: ShowView;
let slug = '';
let evening = 1;

const as = (method: 'get' | 'post' | 'patch' | 'put' | 'delete', path: string, who = station.cookie) => station.as(station.http()[method](path), who);
const newKey = () => randomBytes(24).toString('hex');
const ask = (body: object) =>
  station
    .http()
    .post(`/api/house/${slug}/questions`)
    .send({ key: newKey(), ...body });
async function asked(words: string, name = 'Orla'): Promise<{ key: string; question: OwnQuestion }> {
  const key = newKey();
  return { key, question: (await ask({ key, name, words }).expect(201)).body as OwnQuestion };
}
const own = async (...keys: string[]) =>
  (await station.http().post(`/api/house/${slug}/questions/own`).send({ keys }).expect(200)).body as Record<string, OwnQuestion>;
const answer = (key: string, comes: boolean) => station.http().post(`/api/house/${slug}/questions/place`).send({ key, comes });
const list = async () => (await as('get', `/api/shows/${show.id}/questions`)).body as QuestionsView;
const guests = async () => (await as('get', `/api/shows/${show.id}/guests`)).body as GuestView[];
const place = (id: string, how: 'post' | 'delete' = 'post', who?: string) => as(how, `/api/shows/${show.id}/questions/${id}/place`, who).send({});
const drawn = async () => {
  // One evening after the other: a channel has one show at a time.
  const date = new Date(Date.now() + ++evening * DAY_MS).toISOString().slice(0, 10);
  const draft = station.draft([hall], { date, time: '20:30', zone: 'UTC' });
  show = (await as('post', '/api/shows').send(draft).expect(201)).body as ShowView;
  slug = show.houseUrl.split('/').at(-1)!;
};

beforeAll(async () => {
  station = await TestStation.open();
  producer = await station.person('producer');
  moderator = await station.person('moderator');
  hall = (await as('post', '/api/channels/typed-in').send({ name: 'Hall', address: 'rtmp://127.0.0.1:9/hall', key: 'hall-key-1' }).expect(201)).body.id;
});
afterAll(() => station.close());
beforeEach(async () => {
  station.forgetTries();
  await drawn();
  await as('post', `/api/shows/${show.id}/place`).expect(200);
});

test('a visitor asks without an account; the team reads it, and nobody learns from outside what others asked', async () => {
  const { key, question } = await asked('Is the comet\n seen from\u0007 Skelldale?');
  expect(question).toEqual({ words: 'Is the comet seen from Skelldale?', state: 'open', place: 'none' });
  const other = await asked('And the moon?', 'Tam');
  const { taken, questions } = await list();
  expect([taken, questions.map(({ name, words }) => [name, words])]).toEqual([
    true,
    [
      ['Orla', 'Is the comet seen from Skelldale?'],
      ['Tam', 'And the moon?'],
    ],
  ]);
  await as('patch', `/api/shows/${show.id}/questions/${questions[0]!.id}`, moderator).send({ state: 'answered' }).expect(200);
  expect(await own(key)).toEqual({ [key]: { words: 'Is the comet seen from Skelldale?', state: 'answered', place: 'none' } });
  expect(JSON.stringify((await station.http().get(`/api/house/${slug}`)).body)).not.toMatch(/comet|moon/);
  // The key is nobody's but the browser's that asked.
  expect(JSON.stringify(await station.database.query('SELECT * FROM questions'))).not.toContain(other.key);
});

test.each<[string, object]>([
  ['no name', { name: '', words: 'Why?' }],
  ['a name of two lines', { name: 'Orla\nBcc: all', words: 'Why?' }],
  ['a name of 200 characters', { name: 'x'.repeat(200), words: 'Why?' }],
  ['nothing asked', { name: 'Orla', words: '' }],
  ['nothing but spaces', { name: 'Orla', words: ' \n ' }],
  ['too many words', { name: 'Orla', words: 'x'.repeat(301) }],
  ['a key that anybody would guess', { key: 'orla', name: 'Orla', words: 'Why?' }],
])('%s is refused in words, and kept nowhere', async (_, body) => {
  const reply = await ask(body);
  expect(reply.status).toBe(400);
  expect((reply.body as { words: string }).words).toMatch(/\w/);
  expect((await list()).questions).toEqual([]);
});

test('a question whose answer got lost is sent again and kept once, also where none are taken by then', async () => {
  const key = newKey();
  const both = await Promise.all([ask({ key, name: 'Orla', words: 'Why?' }), ask({ key, name: 'Orla', words: 'Why?' })]);
  expect(both.map(({ status }) => status)).toEqual([201, 201]);
  await as('put', `/api/shows/${show.id}/questions/taken`).send({ taken: false }).expect(200);
  expect((await ask({ key, name: 'Orla', words: 'Why?' })).status).toBe(201);
  expect((await list()).questions).toHaveLength(1);
});

test('on a full disk a question is refused in words, and only what is kept was said to be', async () => {
  const [{ page_count: pages }] = (await station.database.query('PRAGMA page_count')) as [{ page_count: number }];
  await station.database.query(`PRAGMA max_page_count = ${pages}`);
  const answers: { status: number; words: string }[] = [];
  for (let at = 0; at < 200 && answers.at(-1)?.status !== 507; at++) {
    station.forgetTries();
    const { status, body } = await ask({ name: 'Orla', words: 'Why? '.repeat(60).trim() });
    answers.push({ status, words: (body as { words: string }).words });
  }
  await station.database.query('PRAGMA max_page_count = 1073741823');
  expect(answers.at(-1)).toEqual({ status: 507, words: expect.stringMatching(/disk/i) as string });
  expect((await list()).questions).toHaveLength(answers.length - 1);
});

test('where none are taken, before a show stands, and for whoever may not see it, nothing can be asked; a flood is cut off', async () => {
  await as('put', `/api/shows/${show.id}/questions/taken`, moderator).send({ taken: false }).expect(200);
  expect(((await station.http().get(`/api/house/${slug}`)).body as HouseView).questions).toBe(false);
  expect((await ask({ name: 'Orla', words: 'Why?' })).status).toBe(409);
  await as('put', `/api/shows/${show.id}/questions/taken`).send({ taken: true }).expect(200);
  for (let at = 0; at < 20; at++) await ask({ name: 'Orla', words: `Why ${at}?` });
  expect((await list()).questions.length).toBeLessThan(10);
  station.forgetTries();
  await drawn();
  expect((await ask({ name: 'Orla', words: 'Why?' })).status).toBe(404);
});

test('what stands on the picture has no way to anywhere, can be shortened, and what is answered knows when', async () => {
  await asked('Is it at somewhere.example/free, or over Skelldale?');
  await asked('https://somewhere.example');
  const questions = async () => (await list()).questions;
  const [{ id }, { id: empty }] = (await questions()) as [QuestionsView['questions'][0], QuestionsView['questions'][0]];
  const change = (of: string, body: object) => as('patch', `/api/shows/${show.id}/questions/${of}`, moderator).send(body);
  expect((await questions()).map(({ onPicture }) => onPicture)).toEqual(['Is it at or over Skelldale?', '']);
  await change(id, { onPicture: 'Is it over Skelldale? see www.somewhere.example' }).expect(200);
  expect((await questions())[0]).toMatchObject({ words: 'Is it at somewhere.example/free, or over Skelldale?', onPicture: 'Is it over Skelldale? see' });
  await change(empty, { onPicture: 'me@somewhere.example' }).expect(400);
  await change(id, {}).expect(400);
  await change(id, { onPicture: 'x'.repeat(400) }).expect(400);
  await change(id, { onPicture: '' }).expect(200);
  expect((await questions())[0]!.onPicture).toBe('Is it at or over Skelldale?');
  const before = station.app.get(Clock).now();
  await change(id, { state: 'answered' }).expect(200);
  expect((await questions())[0]!.answeredAt).toBeGreaterThanOrEqual(before);
  await change(id, { state: 'open' }).expect(200);
  expect((await questions())[0]!.answeredAt).toBeNull();
});

test('a place is offered, taken with a pass of their own, and the same door opens at a second press', async () => {
  const { key } = await asked('Why is it green?');
  const [{ id }] = (await list()).questions as [QuestionsView['questions'][0]];
  // Nobody comes in who was not offered it.
  expect((await answer(key, true)).status).toBe(409);
  expect((await place(id, 'post', moderator)).status).toBe(403);
  await place(id, 'post', producer).expect(200);
  expect((await own(key))[key]!.place).toBe('offered');
  expect(await guests()).toEqual([]);
  const first = (await answer(key, true).expect(200)).body as PlaceAnswered;
  const again = (await answer(key, true).expect(200)).body as PlaceAnswered;
  expect(again.door).toBe(first.door);
  const door = await station
    .http()
    .post('/api/door')
    .send({ pass: first.door!.split('#')[1] });
  expect(door.body as DoorView).toMatchObject({ name: 'Orla', showId: show.id, answer: 'accepted' });
  expect((await guests()).map(({ name, standing }) => [name, standing])).toEqual([['Orla', 'accepted']]);
  // They are no guest of whom the public is told.
  expect(((await station.http().get(`/api/house/${slug}`)).body as HouseView).people.map(({ name }) => name)).not.toContain('Orla');
  // Taken back: the pass opens nothing, and they are told so.
  await place(id, 'delete').expect(200);
  expect(await guests()).toEqual([]);
  expect(
    (
      await station
        .http()
        .post('/api/door')
        .send({ pass: first.door!.split('#')[1] })
    ).status,
  ).toBe(404);
  expect((await answer(key, true)).status).toBe(409);
});

test('whoever would rather not is not asked into the list of guests, and can be asked once more; one key is no other’s', async () => {
  const mine = await asked('Why?');
  const [{ id }] = (await list()).questions as [QuestionsView['questions'][0]];
  await place(id).expect(200);
  expect((await answer('A'.repeat(32), true)).status).toBe(404);
  expect((await answer(mine.key, false).expect(200)).body).toEqual({ question: { words: 'Why?', state: 'open', place: 'declined' }, door: null });
  expect((await list()).questions[0]!.place).toBe('declined');
  expect((await answer(mine.key, true)).status).toBe(409);
  expect(await guests()).toEqual([]);
  await place(id).expect(200);
  // A pass that was withdrawn on the sheet opens nothing here either.
  const { door } = (await answer(mine.key, true).expect(200)).body as PlaceAnswered;
  expect(door).toContain('/door#');
  await as('delete', `/api/shows/${show.id}/guests/${(await guests())[0]!.id}`).expect(200);
  expect((await own(mine.key))[mine.key]!.place).toBe('none');
  expect((await answer(mine.key, true)).status).toBe(409);
  // And can be offered once more.
  await place(id).expect(200);
  expect((await own(mine.key))[mine.key]!.place).toBe('offered');
});

test('questions go with their show, and names of visitors a while after it', async () => {
  await asked('Why?');
  const clock = station.app.get(Clock);
  await station.app.get(RetentionService).now();
  expect((await list()).questions).toHaveLength(1);
  const real = clock.now.bind(clock);
  jest.spyOn(clock, 'now').mockImplementation(() => (real() + 800 * DAY_MS + HOUR_MS) as never);
  await station.app.get(RetentionService).now();
  jest.restoreAllMocks();
  expect(await station.database.query('SELECT COUNT(*) AS count FROM questions WHERE showId = ?', [show.id])).toEqual([{ count: 0 }]);
});
