// Messages on the house page over HTTP: who may write, what everybody sees of it, and what the team does with it.
import type { HouseMessage, HouseTalk, HouseView, MessagesView, MessageView, OwnQuestion, QuestionsView, ShowView, TalkKept } from '@lantern/contract';
import { DAY_MS, HOUR_MS, instant, wallTimeOf } from '@lantern/core';
import { randomBytes } from 'node:crypto';
import { get, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Clock } from '../foundation/clock';
import { RetentionService } from '../retention/retention.service';
import { together } from '../foundation/together';
import { TestStation } from '../test/station';
import { Message } from './message.entities';
import { MessageRows } from './message-rows';

let station: TestStation;
let hall = '';
let moderator = '';
let show: ShowView;
let slug = '';

const as = (method: 'get' | 'post' | 'patch' | 'put', path: string, who = station.cookie) => station.as(station.http()[method](path), who);
const newKey = () => randomBytes(24).toString('hex');
const page = () => `/api/house/${slug}/messages`;
const write = (words: string, change: object = {}) =>
  station
    .http()
    .post(page())
    .send({ key: newKey(), writer: newKey(), name: 'Orla', words, ...change });
const written = async (words: string, change: object = {}) => (await write(words, change).expect(201)).body as TalkKept;
const seen = async () => ((await station.http().get(page()).expect(200)).body as HouseTalk).messages;
const words = async () => (await seen()).map((message) => message.words);
const list = async () => ((await as('get', `/api/shows/${show.id}/messages`).expect(200)).body as MessagesView).messages;
const find = async (said: string) => (await list()).find((message) => message.words === said)!;
const act = (message: Pick<MessageView, 'id'>, what: 'hidden' | 'silence' | 'answer' | 'question', body: object, who = moderator) =>
  as(what === 'hidden' || what === 'silence' ? 'put' : 'post', `/api/shows/${show.id}/messages/${message.id}/${what}`, who).send(body);
const set = (rules: object) => as('put', `/api/shows/${show.id}/messages/talk`, moderator).send({ open: true, lookedAt: 'none', everyS: 0, ...rules });

async function placedIn(ms: number): Promise<void> {
  const when = { ...wallTimeOf(instant(Math.floor((Date.now() + ms) / 60_000) * 60_000), 'UTC'), zone: 'UTC' };
  show = (
    await as('post', '/api/shows')
      .send(station.draft([hall], when))
      .expect(201)
  ).body as ShowView;
  slug = show.houseUrl.split('/').at(-1)!;
  await as('post', `/api/shows/${show.id}/place`).expect(200);
}

beforeAll(async () => {
  station = await TestStation.open();
  await station.app.listen(0, '127.0.0.1');
  moderator = await station.person('moderator');
  hall = (await as('post', '/api/channels/typed-in').send({ name: 'Hall', address: 'rtmp://127.0.0.1:9/hall', key: 'hall-key-1' }).expect(201)).body.id;
});
afterAll(() => station.close());
beforeEach(async () => {
  station.forgetTries();
  await placedIn(2 * HOUR_MS);
  await as('post', `/api/shows/${show.id}/air`).send({ tab: null }).expect(200);
  await set({}).expect(204);
});
afterEach(async () => {
  station.travelTo(Date.now());
  await as('post', `/api/shows/${show.id}/wrap`);
});

test('a visitor writes without an account, everybody reads it, and the host answers beneath it', async () => {
  const { message, waits } = await written('Is the comet\n green?');
  expect([waits, message]).toEqual([false, expect.objectContaining({ name: 'Orla', words: 'Is the comet green?', shown: true, own: false, asks: true })]);
  const inMailbag = await find('Is the comet green?');
  expect(inMailbag).toMatchObject({ channelId: 'house page', writer: 'Orla', standing: 'newcomer', silence: 'no' });
  const key = newKey();
  for (let press = 0; press < 2; press++) await act(inMailbag, 'answer', { words: 'Green as glass.', key }).expect(204);
  expect((await seen()).map(({ words, own, to, answered }) => [words, own, to, answered])).toEqual([
    ['Is the comet green?', false, null, true],
    ['Green as glass.', true, 'Orla', false],
  ]);
  const said = (await as('post', `/api/shows/${show.id}/messages`).send({ words: 'We go on in a minute', key: newKey() }).expect(200)).body;
  expect(said).toEqual({ said: [{ channelId: 'house page', name: 'House page', refusal: '' }] });
  expect((await words()).at(-1)).toBe('We go on in a minute');
});

test.each<[string, object]>([
  ['no name', { name: ' ' }],
  ['a name of two lines', { name: 'Orla\nTam' }],
  ['nothing', { words: ' \n ' }],
  ['301 characters', { words: 'x'.repeat(301) }],
  ['a key that anybody would guess', { key: 'orla' }],
  ['a browser that anybody would guess', { writer: 'orla' }],
])('a message with %s is refused in words, and kept nowhere', async (_, change) => {
  const reply = await write('Good evening', change).expect(400);
  expect((reply.body as { words: string }).words).toMatch(/\w/);
  expect(await list()).toEqual([]);
});

test('one that is sent again, since its answer got lost, is the same one; two at once are one', async () => {
  const same = { key: newKey(), writer: newKey() };
  const both = await Promise.all([written('Good evening', same), written('Good evening', same)]);
  expect(new Set(both.map(({ id }) => id)).size).toBe(1);
  await set({ open: false }).expect(204);
  expect((await written('Good evening', same)).id).toBe(both[0]!.id);
  expect(await list()).toHaveLength(1);
});

test('how late a visitor saw the show as they wrote is kept with it, and only what can be', async () => {
  await written('Lovely!', { behindMs: 4_200 });
  await written('And you?');
  expect((await list()).map(({ behindMs }) => behindMs)).toEqual([4_200, null]);
  for (const behindMs of [-1, 1.5, 'late', 600_000]) await write('Odd', { behindMs }).expect(400);
});

test('each browser has its turn, and is told how long it waits', async () => {
  await set({ everyS: 15 }).expect(204);
  const writer = newKey();
  await written('First', { writer });
  expect((await write('Second', { writer }).expect(409)).body.words).toMatch(/Give others a turn: wait 1\d seconds/);
  await written('Of somebody else');
  station.travelTo(station.app.get(Clock).now() + 16_000);
  await written('Second', { writer });
  expect(await words()).toEqual(['First', 'Of somebody else', 'Second']);
});

test('what is looked at first is seen by nobody before; then all that this browser writes is', async () => {
  await set({ lookedAt: 'first' }).expect(204);
  const writer = newKey();
  expect(await written('Hello all', { writer })).toMatchObject({ waits: true, message: null });
  expect(await seen()).toEqual([]);
  const waiting = await find('Hello all');
  expect(waiting).toMatchObject({ state: 'hidden', held: 'looked at first' });
  expect((await act(waiting, 'answer', { words: 'Hello', key: newKey() }).expect(409)).body.words).toContain('Show this message first');
  await act(waiting, 'hidden', { hidden: false }).expect(204);
  expect(await words()).toEqual(['Hello all']);
  expect(await written('And good evening', { writer })).toMatchObject({ waits: false });
  await set({ lookedAt: 'every' }).expect(204);
  expect(await written('Once more', { writer })).toMatchObject({ waits: true });
});

test('words that the station will not have wait, and links do', async () => {
  await as('put', `/api/shows/${show.id}/messages/rules`)
    .send({ words: ['snarkwit'], links: true })
    .expect(204);
  for (const said of ['you SNARKWIT', 'see https://win.example now', 'Good evening']) await written(said);
  expect(await words()).toEqual(['Good evening']);
  expect((await list()).map(({ held }) => held)).toEqual(['word', 'link', null]);
  await as('put', `/api/shows/${show.id}/messages/rules`).send({ words: [], links: false }).expect(204);
});

test('others ask the same: once from each browser, and not from the one that asked', async () => {
  const writer = newKey();
  const { id } = await written('Is it green?', { writer });
  const too = (who: string, of = id) => station.http().post(`${page()}/${of}/asked-too`).send({ writer: who });
  const other = newKey();
  for (const who of [writer, other, other, newKey()]) await too(who).expect(200);
  expect((await seen()).map(({ askedToo }) => askedToo)).toEqual([2]);
  expect(await find('Is it green?')).toMatchObject({ askedToo: 2 });
  const { id: plain } = await written('Good evening');
  expect((await too(newKey(), plain).expect(200)).body).toMatchObject({ askedToo: 0 });
  await act(await find('Is it green?'), 'hidden', { hidden: true }).expect(204);
  await too(newKey()).expect(404);
});

test('whoever is silenced writes nothing for ten minutes; whoever is shut out not in this show, and theirs is gone from the page', async () => {
  const writer = newKey();
  await written('Spam', { writer });
  await written('More spam', { writer });
  await written('Good evening');
  const spam = await find('Spam');
  await act(spam, 'silence', { silence: 'ten minutes' }).expect(204);
  expect((await write('Even more', { writer }).expect(409)).body.words).toContain('wait 10 minutes');
  expect(await words()).toEqual(['Spam', 'More spam', 'Good evening']);
  expect((await list()).map(({ silence }) => silence)).toEqual(['ten minutes', 'ten minutes', 'no']);
  station.travelTo(station.app.get(Clock).now() + 11 * 60_000);
  await written('Even more', { writer });
  await act(spam, 'silence', { silence: 'this show' }).expect(204);
  expect(await words()).toEqual(['Good evening']);
  expect((await write('I am back', { writer }).expect(409)).body.words).toContain('no more messages from you');
  await act(spam, 'silence', { silence: 'no' }).expect(204);
  await written('I am back', { writer });
  expect(JSON.stringify((await as('get', '/api/audit').expect(200)).body)).toMatch(/shut out/);
});

test('a message becomes a question that its browser follows, and by which it can be offered a place', async () => {
  const key = newKey();
  await written('May I ask?', { key });
  const message = await find('May I ask?');
  for (let press = 0; press < 2; press++) await act(message, 'question', {}).expect(204);
  const { questions } = (await as('get', `/api/shows/${show.id}/questions`)).body as QuestionsView;
  expect(questions).toEqual([expect.objectContaining({ words: 'May I ask?', name: 'Orla', from: 'the house page', onHousePage: true })]);
  await as('post', `/api/shows/${show.id}/questions/${questions[0]!.id}/place`).send({}).expect(200);
  const own = (
    await station
      .http()
      .post(`/api/house/${slug}/questions/own`)
      .send({ keys: [key] })
      .expect(200)
  ).body as Record<string, OwnQuestion>;
  expect(own[key]).toMatchObject({ place: 'offered' });
});

test('answers are prepared for the whole station, each once', async () => {
  const prepared = async () => ((await as('get', `/api/shows/${show.id}/messages`).expect(200)).body as MessagesView).prepared;
  const put = (answers: string[]) => as('put', `/api/shows/${show.id}/messages/prepared`, moderator).send({ answers });
  await put([' After ten. ', 'After ten.', ' ', 'It is\n recorded.']).expect(204);
  expect(await prepared()).toEqual(['After ten.', 'It is recorded.']);
  expect((await put(['x'.repeat(251)]).expect(400)).body.words).toContain('250 characters');
  expect(await prepared()).toEqual(['After ten.', 'It is recorded.']);
});

test('messages are taken from an hour before until the end, and where the page is not shut to them', async () => {
  await as('post', `/api/shows/${show.id}/wrap`).expect(200);
  expect((await write('Is it over?').expect(409)).body.words).toContain('Nothing can be written');
  await placedIn(3 * DAY_MS);
  const talk = async () => ((await station.http().get(`/api/house/${slug}`)).body as HouseView).talk;
  await write('Too early').expect(409);
  expect(await talk()).toEqual({ from: show.startsAt - HOUR_MS });
  station.travelTo(show.startsAt - HOUR_MS + 1_000);
  await written('Early enough');
  await set({ open: false }).expect(204);
  await write('Shut').expect(409);
  expect([await talk(), await seen()]).toEqual([null, []]);
  await as('post', `/api/shows/${show.id}/withdraw`).expect(200);
});

test('on a full disk a message is refused in words, and only what is kept was said to be', async () => {
  const [{ page_count: pages }] = (await station.database.query('PRAGMA page_count')) as [{ page_count: number }];
  await station.database.query(`PRAGMA max_page_count = ${pages}`);
  const replies: { status: number; words: string }[] = [];
  try {
    for (let at = 0; at < 60 && !replies.some(({ status }) => status === 507); at++) {
      station.forgetTries();
      const said = `${at} ${'x'.repeat(290)}`;
      replies.push({ status: (await write(said)).status, words: said });
    }
  } finally {
    await station.database.query('PRAGMA max_page_count = 1073741823');
  }
  expect(replies.at(-1)!.status).toBe(507);
  expect(await words()).toEqual(replies.filter(({ status }) => status === 201).map((each) => each.words));
});

test('what is hidden is gone from an open page within a second, and its words are told to nobody', async () => {
  const news = await hearing();
  const { id } = await written('You are all snarkwits');
  await until(() => news.said.some((each) => each.id === id && each.shown));
  const began = Date.now();
  await act({ id }, 'hidden', { hidden: true }).expect(204);
  await until(() => news.said.some((each) => each.id === id && !each.shown));
  expect(Date.now() - began).toBeLessThan(5_000);
  expect(news.said.filter((each) => each.id === id).at(-1)).toMatchObject({ shown: false, words: '', name: '' });
  expect(await seen()).toEqual([]);
  news.close();
});

test('of many that come at once an open page hears all, and in the order of arrival', async () => {
  const news = await hearing();
  await written('The first');
  await until(() => news.said.length === 1);
  const first = await station.database.getRepository(Message).findOneByOrFail({ words: 'The first' });
  const rows = station.app.get(MessageRows);
  await together(station.database, async (entities) => {
    for (let at = 0; at < 450; at++) await rows.addHere(entities, { ...plain(first), remoteId: `flood ${at}`, words: `Flood ${at}` });
  });
  rows.changed(show.id);
  await until(() => news.said.length >= 451);
  expect(news.said.map((each) => each.words)).toEqual(['The first', ...Array.from({ length: 450 }, (_, at) => `Flood ${at}`)]);
  news.close();
});

test('thirty days after the show they are gone, with all that is known of the browsers', async () => {
  const { id } = await written('Is it green?');
  await station.http().post(`${page()}/${id}/asked-too`).send({ writer: newKey() }).expect(200);
  await as('post', `/api/shows/${show.id}/wrap`).expect(200);
  station.travelTo(Date.now() + 40 * DAY_MS);
  await station.app.get(RetentionService).now();
  for (const table of ['messages', 'house_writers', 'asked_too'])
    expect(await station.database.query(`SELECT * FROM ${table} WHERE showId = '${show.id}'`)).toEqual([]);
});

/** Without what each row has of its own. */
function plain({ id: _id, place: _place, revision: _revision, ...columns }: Message): Omit<Message, 'id' | 'place' | 'revision'> {
  return columns;
}

async function until(holds: () => boolean): Promise<void> {
  for (let tries = 0; !holds(); tries++) {
    if (tries > 1_200) throw new Error('it never came about');
    await new Promise((next) => setTimeout(next, 25));
  }
}

/** Opens the page's stream of changes, and collects what is said on it. */
async function hearing(): Promise<{ said: HouseMessage[]; close: () => void }> {
  const { port } = station.app.getHttpServer().address() as AddressInfo;
  const said: HouseMessage[] = [];
  const response = await new Promise<IncomingMessage>((resolve, reject) =>
    get(`http://127.0.0.1:${port}/api/house/${slug}/changes`, resolve).on('error', reject),
  );
  let text = '';
  response.setEncoding('utf8').on('data', (piece: string) => {
    text += piece;
    const events = text.split('\n\n');
    text = events.pop()!;
    for (const event of events) if (event.startsWith('event: said\n')) said.push(...(JSON.parse(event.split('\ndata: ')[1]!) as HouseMessage[]));
  });
  return { said, close: () => response.destroy() };
}
