// Polls over HTTP: prepared, opened one at a time, answered by presses and by messages, closed with what came until then.
import type { HousePollMine, PollView, ShowView } from '@lantern/contract';
import { DAY_MS, HOUR_MS, instant, wallTimeOf } from '@lantern/core';
import { randomBytes } from 'node:crypto';
import { AiringRows } from '../shows/airing-rows';
import { Clock } from '../foundation/clock';
import { MessageRows } from '../mailbag/message-rows';
import { RetentionService } from '../retention/retention.service';
import { TestStation } from '../test/station';
import { PollsService } from './polls.service';

let station: TestStation;
let hall = '';
let moderator = '';
let show: ShowView;
let slug = '';

const as = (method: 'get' | 'post' | 'put' | 'delete', path: string, who = station.cookie) => station.as(station.http()[method](path), who);
const newKey = () => randomBytes(24).toString('hex');
const path = () => `/api/shows/${show.id}/polls`;
const DRAFT = { question: 'What first?', options: ['The comet', 'Saturn', 'A double star'] };
const list = async () => (await as('get', path()).expect(200)).body as PollView[];
const counts = async () => (await list()).map((poll) => poll.counts);
async function prepared(draft: object = DRAFT): Promise<PollView> {
  return ((await as('post', path(), moderator).send(draft).expect(201)).body as PollView[]).at(-1)!;
}
const turn = (poll: PollView, to: 'open' | 'close') => as('post', `${path()}/${poll.id}/${to}`, moderator).send({});
async function opened(draft: object = DRAFT): Promise<PollView> {
  const poll = await prepared(draft);
  await turn(poll, 'open').expect(200);
  return poll;
}
const vote = (poll: PollView, option: number, writer = newKey()) => station.http().post(`/api/house/${slug}/poll/vote`).send({ poll: poll.id, option, writer });
const seen = async (writer = newKey()) => (await station.http().post(`/api/house/${slug}/poll`).send({ writer }).expect(200)).body as HousePollMine;
const write = (words: string, writer = newKey()) => station.http().post(`/api/house/${slug}/messages`).send({ key: newKey(), writer, name: 'Orla', words });
let remote = 0;
/** As a collector keeps what a channel gave. */
async function fromChannel(...said: [writer: string, words: string][]): Promise<void> {
  const [airing] = await station.app.get(AiringRows).ofShow(show.id);
  const messages = said.map(([writer, words]) => ({
    ...{ id: `r${++remote}`, writtenAt: Date.now(), writer, standing: 'follower' as const, words, answers: null, hidden: false },
  }));
  await station.app.get(MessageRows).keep({ ...airing!, remoteId: 'there' }, { messages, cursor: String(remote) });
}
async function until<T>(look: () => Promise<T>, holds: (found: T) => boolean): Promise<T> {
  for (let tries = 0; ; tries++) {
    const found = await look();
    if (holds(found)) return found;
    if (tries > 400) throw new Error(`it never came about: ${JSON.stringify(found)}`);
    await new Promise((next) => setTimeout(next, 25));
  }
}

beforeAll(async () => {
  station = await TestStation.open();
  moderator = await station.person('moderator');
  hall = (await as('post', '/api/channels/typed-in').send({ name: 'Hall', address: 'rtmp://127.0.0.1:9/hall', key: 'hall-key-1' }).expect(201)).body.id;
});
afterAll(() => station.close());
beforeEach(async () => {
  station.forgetTries();
  const when = { ...wallTimeOf(instant(Math.floor((Date.now() + 2 * HOUR_MS) / 60_000) * 60_000), 'UTC'), zone: 'UTC' };
  show = (
    await as('post', '/api/shows')
      .send(station.draft([hall], when))
      .expect(201)
  ).body as ShowView;
  slug = show.houseUrl.split('/').at(-1)!;
  await as('post', `/api/shows/${show.id}/place`).expect(200);
  await as('post', `/api/shows/${show.id}/air`).send({ tab: null }).expect(200);
  await as('put', `/api/shows/${show.id}/messages/talk`).send({ open: true, lookedAt: 'none', everyS: 0 }).expect(204);
});
afterEach(async () => {
  station.travelTo(Date.now());
  await as('post', `/api/shows/${show.id}/wrap`);
});

test('a poll is answered once from each browser, which may think better of it until it is closed', async () => {
  const poll = await opened();
  const mine = newKey();
  await vote(poll, 0, mine).expect(200);
  await vote(poll, 1).expect(200);
  expect((await vote(poll, 1, mine).expect(200)).body).toMatchObject({ mine: 1, poll: { counts: [0, 2, 0], state: 'open' } });
  expect(await seen(mine)).toMatchObject({ mine: 1 });
  expect(await seen()).toMatchObject({ mine: null, poll: { question: 'What first?', counts: [0, 2, 0] } });
  for (let press = 0; press < 2; press++) await turn(poll, 'close').expect(200);
  expect((await vote(poll, 0, mine).expect(409)).body.words).toContain('closed');
  expect(await seen(mine)).toMatchObject({ mine: 1, poll: { state: 'closed', counts: [0, 2, 0] } });
  expect(await list()).toEqual([expect.objectContaining({ state: 'closed', from: [{ name: 'House page', votes: 2 }] })]);
});

test('answers in messages count, by letter or word, once for each name; what was said before, by the host, or as more than an answer does not', async () => {
  await fromChannel(['Fern', 'A']);
  const poll = await opened();
  await fromChannel(['Fern', 'b!'], ['Tam', 'saturn'], ['Wilf', 'A comet would be fine'], ['Ibbot', 'C'], ['Ibbot', 'a']);
  const mine = newKey();
  await vote(poll, 2, mine).expect(200);
  // The same browser writes: it is one vote.
  await write('A', mine).expect(201);
  await as('post', `/api/shows/${show.id}/messages`).send({ words: 'B', key: newKey() }).expect(200);
  await until(counts, ([each]) => JSON.stringify(each) === '[2,2,0]');
  expect((await list())[0]!.from).toEqual(expect.arrayContaining([{ name: 'House page', votes: 1 }, expect.objectContaining({ votes: 3 })]));
});

test('what came a moment before it is closed is counted; what comes after is not', async () => {
  const poll = await opened();
  await fromChannel(...Array.from({ length: 1_200 }, (_, at): [string, string] => [`Viewer ${at}`, at % 3 ? 'b' : 'Good evening']));
  await turn(poll, 'close').expect(200);
  await fromChannel(['Late', 'b']);
  await new Promise((next) => setTimeout(next, 800));
  expect(await counts()).toEqual([[0, 800, 0]]);
});

test('a server that is killed between keeping a message and counting it counts it afterwards, and none twice', async () => {
  const poll = await opened();
  const service = station.app.get(PollsService) as unknown as { countSome: (...all: never[]) => Promise<boolean> };
  const killed = jest.spyOn(service, 'countSome').mockRejectedValue(new Error('killed'));
  await fromChannel(['Fern', 'a'], ['Tam', 'b']);
  await until(
    async () => killed.mock.calls.length,
    (calls) => calls > 0,
  );
  expect(await counts()).toEqual([[0, 0, 0]]);
  killed.mockRestore();
  await fromChannel(['Wilf', 'a']);
  await until(counts, ([each]) => JSON.stringify(each) === '[2,1,0]');
  await turn(poll, 'close').expect(200);
  expect(await counts()).toEqual([[2, 1, 0]]);
});

test('one is open at a time, and what was opened is changed no more', async () => {
  const first = await opened();
  const second = await prepared({ question: 'And then?', options: ['Tea', 'Bed'] });
  expect((await turn(second, 'open').expect(409)).body.words).toContain('“What first?” is open');
  await as('put', `${path()}/${first.id}`)
    .send({ question: 'Changed?', options: ['Yes', 'No'] })
    .expect(409);
  await as('delete', `${path()}/${first.id}`).expect(409);
  await as('put', `${path()}/${second.id}`)
    .send({ question: 'And afterwards?', options: ['Tea', 'Bed', 'Both'] })
    .expect(200);
  await turn(first, 'close').expect(200);
  const both = await Promise.all([turn(second, 'open'), turn(second, 'open')]);
  expect(both.map(({ status }) => status)).toEqual([200, 200]);
  expect((await seen()).poll).toMatchObject({ question: 'And afterwards?' });
  expect((await turn(first, 'open').expect(409)).body.words).toContain('It is closed');
  await turn(second, 'close').expect(200);
  await as('delete', `${path()}/${second.id}`).expect(200);
  expect((await seen()).poll).toMatchObject({ question: 'What first?', state: 'closed' });
});

test.each<[string, object]>([
  ['nothing asked', { question: ' ' }],
  ['one answer', { options: ['Yes'] }],
  ['six answers', { options: ['1', '2', '3', '4', '5', '6'] }],
  ['an empty answer', { options: ['Yes', ' '] }],
  ['the same answer twice', { options: ['Yes', 'yes'] }],
  ['an answer of two lines', { options: ['Yes\nNo', 'Maybe'] }],
  ['too much asked', { question: 'x'.repeat(91) }],
])('a poll with %s is refused in words, and not kept', async (_, change) => {
  const { body } = await as('post', path())
    .send({ ...DRAFT, ...change })
    .expect(400);
  expect((body as { words: string }).words).toMatch(/\w/);
  expect(await list()).toEqual([]);
});

test('strangers answer what there is, and learn of nothing that is only prepared', async () => {
  const poll = await prepared();
  expect(await seen()).toEqual({ poll: null, mine: null });
  await vote(poll, 0).expect(409);
  await turn(poll, 'open').expect(200);
  await vote(poll, 3).expect(400);
  await vote(poll, 0, 'orla').expect(400);
  await vote({ ...poll, id: '00000000-0000-4000-8000-000000000000' }, 0).expect(404);
  await as('post', `/api/shows/${show.id}/wrap`).expect(200);
  await vote(poll, 0).expect(409);
});

test('on a full disk a vote is refused in words, and only what was taken is counted; once there is room it goes on', async () => {
  const poll = await opened();
  const [{ page_count: pages }] = (await station.database.query('PRAGMA page_count')) as [{ page_count: number }];
  await station.database.query(`PRAGMA max_page_count = ${pages}`);
  let taken = 0;
  let refused = '';
  try {
    for (; !refused && taken < 400;) {
      station.forgetTries();
      const { status, body } = await vote(poll, 1);
      if (status === 200) taken += 1;
      else refused = `${status} ${(body as { words: string }).words}`;
    }
  } finally {
    await station.database.query('PRAGMA max_page_count = 1073741823');
  }
  expect(refused).toMatch(/^507 .*disk/i);
  expect(await counts()).toEqual([[0, taken, 0]]);
  await vote(poll, 0).expect(200);
  expect(await counts()).toEqual([[1, taken, 0]]);
});

test('thirty days after the show the votes are gone', async () => {
  const poll = await opened();
  await vote(poll, 0).expect(200);
  await as('post', `/api/shows/${show.id}/wrap`).expect(200);
  station.travelTo(station.app.get(Clock).now() + 40 * DAY_MS);
  await station.app.get(RetentionService).now();
  expect(await station.database.query(`SELECT * FROM votes WHERE showId = '${show.id}'`)).toEqual([]);
});
