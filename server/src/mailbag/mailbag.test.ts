// Messages from channels as the team reads them, answers them, and hides them, against the real stand-ins.
import type { ChannelView, MessagesView, MessageView, QuestionsView, SaidView, ShowView } from '@lantern/contract';
import { HOUR_MS, instant, wallTimeOf } from '@lantern/core';
import { randomBytes } from 'node:crypto';
import { rmSync } from 'node:fs';
import { StandIns } from '../test/stand-ins';
import { TestStation } from '../test/station';
import { AiringRows } from '../shows/airing-rows';
import { MessageRows } from './message-rows';
import { CollectorsService } from './collectors.service';

let networks: StandIns;
let station: TestStation;
let channels: Record<'library' | 'town' | 'guild' | 'short', ChannelView>;
let moderator = '';
let show: ShowView;

beforeAll(async () => {
  networks = await StandIns.open();
  station = await TestStation.open();
  channels = {
    library: await networks.link(station, 'reelmoor', 'rm-alderfell'),
    town: await networks.link(station, 'townfold', 'tf-alderfell'),
    guild: await networks.link(station, 'guildhand', 'gh-alderfell'),
    short: await networks.link(station, 'pipwire', 'pw-alderfellsky'),
  };
  moderator = await station.person('moderator');
});
afterAll(async () => {
  await station.close();
  rmSync(station.folder, { recursive: true, force: true });
  await networks.close();
});
afterEach(async () => {
  for (const network of ['reelmoor', 'townfold', 'guildhand', 'pipwire']) await networks.operate('faults', { network, fault: 'none' });
  await as('post', `/api/shows/${show.id}/wrap`);
});

const as = (method: 'get' | 'post' | 'put', path: string, who = station.cookie) => station.as(station.http()[method](path), who);
const key = () => randomBytes(12).toString('hex');

async function onAir(...some: ChannelView[]): Promise<void> {
  const when = { ...wallTimeOf(instant(Math.ceil(Date.now() / HOUR_MS) * HOUR_MS + 3 * HOUR_MS), 'UTC'), zone: 'UTC' };
  const ids = some.map(({ id }) => id);
  show = (await as('post', '/api/shows').send(station.draft(ids, when)).expect(201)).body as ShowView;
  await as('post', `/api/shows/${show.id}/place`).expect(200);
  await as('post', `/api/shows/${show.id}/air`).expect(200);
  show = (await as('get', `/api/shows/${show.id}`)).body as ShowView;
  await station.app.get(CollectorsService).tick();
}
const pageOf = (channel: ChannelView) => show.airings.find((each) => each.channel.id === channel.id)!.watchUrl!;
async function viewer(channel: ChannelView, words: string, name = 'Fern'): Promise<void> {
  const body = JSON.stringify({ name, words, standing: channel === channels.guild ? 'member' : 'newcomer' });
  const reply = await fetch(`${pageOf(channel)}/said`, { method: 'POST', headers: { 'content-type': 'application/json' }, body });
  expect(reply.status).toBe(200);
}
const seenOn = async (channel: ChannelView) =>
  ((await (await fetch(`${pageOf(channel)}/said`)).json()) as { id: string; text: string; answers: string | null; own: boolean }[]).map(
    ({ text, own, answers }) => [text, ...(own ? ['own'] : []), ...(answers ? ['beneath'] : [])].join(' · '),
  );
const list = async (since = 0, who?: string) => (await as('get', `/api/shows/${show.id}/messages?since=${since}`, who).expect(200)).body as MessagesView;
async function until<T>(look: () => Promise<T>, holds: (found: T) => boolean): Promise<T> {
  for (let tries = 0; tries < 800; tries++) {
    const found = await look();
    if (holds(found)) return found;
    await new Promise((next) => setTimeout(next, 50));
  }
  throw new Error(`it never came about: ${JSON.stringify(await look()).slice(0, 500)}`);
}
const words = ({ messages }: MessagesView) => messages.map((message) => message.words);
const saying = (said: string) => until(list, (all) => words(all).includes(said)).then(({ messages }) => messages.find((each) => each.words === said)!);
const act = (message: MessageView, what: string, body: object, who?: string) =>
  as(what === 'hidden' ? 'put' : 'post', `/api/shows/${show.id}/messages/${message.id}/${what}`, who).send(body);

test('what is written anywhere comes into one list; a moderator answers it where it was written', async () => {
  await onAir(...Object.values(channels));
  expect((await list()).sources.map(({ network, trouble }) => [network, trouble]).sort()).toEqual(
    ['guildhand', 'house page', 'pipwire', 'reelmoor', 'townfold'].map((each) => [each, '']),
  );
  for (const [name, channel] of Object.entries(channels)) await viewer(channel, `Good evening from ${name}`);
  const all = await until(list, ({ messages }) => messages.length === 4);
  expect(words(all).sort()).toEqual(['guild', 'library', 'short', 'town'].map((name) => `Good evening from ${name}`));
  expect(all.messages.map(({ place }) => place)).toEqual(all.messages.map(({ place }) => place).sort((a, b) => a - b));
  // What was looked at is not sent again; what is new is.
  expect(await list(all.revision)).toMatchObject({ messages: [], revision: all.revision });
  const onLibrary = await saying('Good evening from library');
  const once = key();
  await act(onLibrary, 'answer', { words: 'And to you!', key: once }, moderator).expect(204);
  await act(onLibrary, 'answer', { words: 'And to you!', key: once }, moderator).expect(204);
  expect(await seenOn(channels.library)).toEqual(['Good evening from library', 'And to you! · own · beneath']);
  const news = await list(all.revision);
  expect(news.messages).toEqual([
    expect.objectContaining({ id: onLibrary.id, answeredAt: expect.any(Number) }),
    expect.objectContaining({ words: 'And to you!', standing: 'own', answers: onLibrary.id }),
  ]);
  // Where there are no threads it is said to whom.
  await act(await saying('Good evening from town'), 'answer', { words: 'You hear us?', key: key() }).expect(204);
  expect(await seenOn(channels.town)).toEqual(['Good evening from town', 'Fern: You hear us? · own']);
  // It comes by the collector as well, and is one message all the same.
  await new Promise((next) => setTimeout(next, 2_500));
  expect(words(await list()).filter((each) => each === 'And to you!' || each === 'Fern: You hear us?')).toHaveLength(2);
});

test('what is too long for a network is refused in words before it is tried, and the same goes to all others', async () => {
  await onAir(channels.library, channels.short);
  const long = 'x'.repeat(300);
  const { said } = (await as('post', `/api/shows/${show.id}/messages`).send({ words: long, key: key() }).expect(200)).body as SaidView;
  expect(said.map(({ name, refusal }) => [name.split('(').at(-1), refusal]).sort()).toEqual([
    ['House page', ''],
    ['Pipwire)', 'Pipwire takes 270 characters: this is 30 too long.'],
    ['Reelmoor)', ''],
  ]);
  expect(await seenOn(channels.library)).toEqual([`${long} · own`]);
  expect(await seenOn(channels.short)).toEqual([]);
});

test('abuse is hidden where it stands, and shown again where that can be', async () => {
  await onAir(channels.town, channels.guild);
  for (const channel of [channels.town, channels.guild]) await viewer(channel, `you snarkwits of ${channel.network}`);
  const [onTown, onGuild] = [await saying('you snarkwits of townfold'), await saying('you snarkwits of guildhand')];
  for (const message of [onTown, onGuild]) await act(message, 'hidden', { hidden: true }, moderator).expect(204);
  expect([await seenOn(channels.town), await seenOn(channels.guild)]).toEqual([[], []]);
  expect((await list()).messages.map(({ state }) => state).sort()).toEqual(['hidden', 'removed']);
  await act(onTown, 'hidden', { hidden: false }).expect(204);
  expect(await seenOn(channels.town)).toEqual(['you snarkwits of townfold']);
  expect((await act(onGuild, 'hidden', { hidden: false }).expect(409)).body).toMatchObject({ words: expect.stringContaining('gone for good') });
  // Hidden is said only of what is.
  await networks.operate('faults', { network: 'townfold', fault: 'down' });
  expect((await act(onTown, 'hidden', { hidden: true }).expect(502)).body).toMatchObject({ words: expect.stringContaining('Townfold') });
  expect((await saying('you snarkwits of townfold')).state).toBe('shown');
});

test('who may write is set for each channel from here; a network that leaves no choice says so, and the sheet agrees', async () => {
  await onAir(channels.library, channels.town, channels.guild);
  const writers = (channel: ChannelView, rule: string) => as('put', `/api/shows/${show.id}/messages/writers/${channel.id}`, moderator).send({ messages: rule });
  for (const channel of [channels.library, channels.town]) await writers(channel, 'followers').expect(204);
  for (const channel of [channels.library, channels.town]) await expect(viewer(channel, 'From outside')).rejects.toThrow();
  expect(
    (await list()).sources.map(({ network, writers, offers }) => [network, writers, offers.find(({ name }) => name === 'messages')?.from.length ?? 0]).sort(),
  ).toEqual([
    ['guildhand', 'members', 0],
    ['house page', null, 0],
    ['reelmoor', 'followers', 3],
    ['townfold', 'followers', 2],
  ]);
  expect((await writers(channels.town, 'off').expect(409)).body).toMatchObject({ words: 'Townfold leaves no such choice of who may write.' });
  expect((await writers(channels.guild, 'everyone').expect(409)).body).toMatchObject({ words: 'Guildhand leaves no such choice of who may write.' });
  // Nothing of it waits to be told, and nothing of it is undone where the rest of the sheet is.
  const sheet = (await as('get', `/api/shows/${show.id}`)).body as ShowView;
  expect(sheet.airings.flatMap(({ choices, untold }) => [choices.messages, ...untold])).toEqual(expect.arrayContaining(['followers', 'followers', undefined]));
  expect(sheet.airings.flatMap(({ untold }) => untold)).toEqual([]);
  // What the network refuses stays as it was.
  await networks.operate('faults', { network: 'townfold', fault: 'down' });
  await writers(channels.town, 'everyone').expect(502);
  expect((await list()).sources.find(({ network }) => network === 'townfold')).toMatchObject({ writers: 'followers' });
});

test('how often, from which accounts and how short one writes is set where a network knows of it, and holds there', async () => {
  await onAir(channels.library, channels.town);
  const set = (channel: ChannelView, body: object) => as('put', `/api/shows/${show.id}/messages/writers/${channel.id}`, moderator).send(body);
  const offersOf = async (channel: ChannelView) =>
    (await list()).sources.find(({ channelId }) => channelId === channel.id)!.offers.map(({ name, now }) => [name, now]);
  expect(await offersOf(channels.library)).toEqual([
    ['messages', 'everyone'],
    ['messagesEveryS', 0],
    ['writersAgedDays', 0],
  ]);
  await set(channels.library, { messagesEveryS: 60 }).expect(204);
  await viewer(channels.library, 'Once', 'Moss');
  await expect(viewer(channels.library, 'And again', 'Moss')).rejects.toThrow();
  await viewer(channels.library, 'Somebody else', 'Sedge');
  await set(channels.library, { writersAgedDays: 30, messagesEveryS: 0 }).expect(204);
  await expect(viewer(channels.library, 'New here', 'Heath')).rejects.toThrow();
  expect(await offersOf(channels.library)).toEqual([
    ['messages', 'everyone'],
    ['messagesEveryS', 0],
    ['writersAgedDays', 30],
  ]);
  await set(channels.town, { shortestMessage: 10 }).expect(204);
  await expect(viewer(channels.town, 'Hm')).rejects.toThrow();
  await set(channels.town, { messagesEveryS: 60 }).expect(409);
  await set(channels.library, { messagesEveryS: 7 }).expect(409);
  await set(channels.library, {}).expect(409);
  const sheet = (await as('get', `/api/shows/${show.id}`)).body as ShowView;
  expect(sheet.airings.flatMap(({ untold }) => untold)).toEqual([]);
});

test('who writes too much on a network writes nothing more there, as far as it knows such a thing; said is what it has confirmed', async () => {
  await onAir(channels.library, channels.guild);
  await viewer(channels.library, 'you snarkwits', 'Moss');
  await viewer(channels.guild, 'you snarkwits there', 'Moss');
  const message = await saying('you snarkwits');
  expect(message.silence).toBe('no');
  const silence = (of: { id: string }, value: string) => as('put', `/api/shows/${show.id}/messages/${of.id}/silence`, moderator).send({ silence: value });
  await networks.operate('faults', { network: 'reelmoor', fault: 'down' });
  await silence(message, 'ten minutes').expect(502);
  expect((await saying('you snarkwits')).silence).toBe('no');
  await networks.operate('faults', { network: 'reelmoor', fault: 'none' });
  await silence(message, 'ten minutes').expect(204);
  await silence(message, 'ten minutes').expect(204);
  expect(await saying('you snarkwits')).toMatchObject({ silence: 'ten minutes', state: 'shown' });
  await expect(viewer(channels.library, 'still here', 'Moss')).rejects.toThrow();
  await silence(message, 'no').expect(204);
  await viewer(channels.library, 'back again', 'Moss');
  await silence(message, 'this show').expect(204);
  expect(await saying('you snarkwits')).toMatchObject({ silence: 'this show', state: 'hidden' });
  expect(await seenOn(channels.library)).toEqual(['back again']);
  const there = await saying('you snarkwits there');
  expect(there.silence).toBeNull();
  expect((await silence(there, 'this show').expect(409)).body).toMatchObject({ words: expect.stringContaining('Guildhand knows no such way') });
});

test('a message is gathered as a question once, with where it came from', async () => {
  await onAir(channels.short);
  await viewer(channels.short, 'Why is it green?', 'Niamh');
  const message = await saying('Why is it green?');
  await Promise.all([act(message, 'question', {}, moderator).expect(204), act(message, 'question', {}).expect(204)]);
  const { questions } = (await as('get', `/api/shows/${show.id}/questions`)).body as QuestionsView;
  expect(questions).toEqual([
    expect.objectContaining({ name: 'Niamh', words: 'Why is it green?', from: 'Pipwire', onHousePage: false, onPicture: 'Why is it green?' }),
  ]);
  expect((await saying('Why is it green?')).gathered).toBe(true);
  expect((await as('post', `/api/shows/${show.id}/questions/${questions[0]!.id}/place`).send({}).expect(409)).body).toMatchObject({
    words: expect.stringContaining('guest pass'),
  });
});

test('a network that is silent is named, delays nobody else, and has lost nothing when it is back', async () => {
  await onAir(channels.library, channels.town);
  await viewer(channels.library, 'Before the trouble');
  await saying('Before the trouble');
  await networks.operate('faults', { network: 'reelmoor', fault: 'down' });
  const inTrouble = await until(list, ({ sources }) => sources.some(({ trouble }) => trouble));
  expect(inTrouble.sources.filter(({ trouble }) => trouble)).toEqual([
    expect.objectContaining({ network: 'reelmoor', trouble: expect.stringContaining('Reelmoor') }),
  ]);
  await viewer(channels.library, 'Written meanwhile');
  const began = Date.now();
  await viewer(channels.town, 'And here?');
  await saying('And here?');
  expect(Date.now() - began).toBeLessThan(5_000);
  await networks.operate('faults', { network: 'reelmoor', fault: 'none' });
  await saying('Written meanwhile');
  const after = await until(list, ({ sources }) => sources.every(({ trouble }) => !trouble));
  expect(words(after)).toEqual(['Before the trouble', 'And here?', 'Written meanwhile']);
});

test('a flood on one network and a server that is stopped in the middle: none is lost, none comes twice', async () => {
  await onAir(channels.library, channels.town, channels.short);
  const flood = Array.from({ length: 450 }, (_, at) => `flood ${at}`);
  const writing = (async () => {
    for (let at = 0; at < flood.length; at += 50) await Promise.all(flood.slice(at, at + 50).map((each) => viewer(channels.short, each)));
  })();
  await viewer(channels.town, 'Among the flood');
  await saying('Among the flood');
  await until(list, ({ messages }) => messages.length > 60);
  await station.close(true);
  await writing;
  await viewer(channels.library, 'While nobody listened');
  station = await TestStation.open(station.folder);
  await station.app.get(CollectorsService).tick();
  const all = await until(list, ({ messages }) => messages.length >= flood.length + 2);
  expect(words(all).sort()).toEqual([...flood, 'Among the flood', 'While nobody listened'].sort());
  // Whoever asks what is new goes through all of it.
  let [revision, seen] = [1, 0];
  for (let more = true; more;) {
    const news = await list(revision);
    [revision, seen, more] = [news.revision, seen + news.messages.length, news.more];
  }
  expect([revision, seen]).toEqual([all.revision, all.messages.length - 1]);
});

test('what holds a word or a link that the station will not have is hidden as it comes, also after a silence; what was looked at is shown again', async () => {
  await onAir(channels.town, channels.guild);
  await as('put', `/api/shows/${show.id}/messages/rules`, moderator)
    .send({ words: [' snarkwit', 'snarkwit', ''], links: true })
    .expect(204);
  expect((await list()).rules).toEqual({ words: ['snarkwit'], links: true });
  for (const said of ['Good evening', 'you SNARKWIT', 'see https://win.example']) await viewer(channels.town, said);
  await viewer(channels.guild, 'you snarkwit of a guild');
  const all = await until(list, ({ messages }) => messages.length === 4 && messages.filter(({ state }) => state === 'hidden').length === 2);
  expect(await seenOn(channels.town)).toEqual(['Good evening']);
  expect(all.messages.map((each) => [each.words, each.state, each.held])).toEqual(
    expect.arrayContaining([
      ['Good evening', 'shown', null],
      ['you SNARKWIT', 'hidden', 'word'],
      ['see https://win.example', 'hidden', 'link'],
      // Taken away for good only by a person.
      ['you snarkwit of a guild', 'shown', 'word'],
    ]),
  );
  await act(await saying('see https://win.example'), 'hidden', { hidden: false }, moderator).expect(204);
  expect(await seenOn(channels.town)).toEqual(['Good evening', 'see https://win.example']);
  expect(await saying('see https://win.example')).toMatchObject({ state: 'shown', held: null });
  // A network that will not hear of it at first is told until it does.
  const collected = station.app.get(MessageRows);
  const airing = (await station.app.get(AiringRows).ofShow(show.id)).find(({ channelId }) => channelId === channels.town.id)!;
  await viewer(channels.town, 'snarkwit in the silence');
  await networks.operate('faults', { network: 'townfold', fault: 'down' });
  const gone = {
    id: 'gone-there',
    writtenAt: Date.now(),
    writer: 'Tam',
    standing: 'newcomer',
    words: 'snarkwit, gone meanwhile',
    answers: null,
    hidden: false,
  } as const;
  await collected.keep(airing, { messages: [gone], cursor: await collected.cursorOf(airing) }, { words: ['snarkwit'], links: false });
  await networks.operate('faults', { network: 'townfold', fault: 'none' });
  await until(
    () => seenOn(channels.town),
    (seen) => !seen.includes('snarkwit in the silence'),
  );
  expect(
    (
      await until(
        () => saying('snarkwit, gone meanwhile'),
        ({ state }) => state !== 'shown',
      )
    ).state,
  ).toBe('removed');
  await as('put', `/api/shows/${show.id}/messages/rules`).send({ words: [], links: false }).expect(204);
});

test('an odd message from a network keeps no other from being read, and breaks no page', async () => {
  await onAir(channels.town);
  const airing = (await station.app.get(AiringRows).ofShow(show.id))[0]!;
  const odd = { writtenAt: Number.MAX_SAFE_INTEGER, writer: ' ', standing: 'unknown', answers: 'of nobody', hidden: false } as const;
  const batch = [
    { ...odd, id: 'odd-1', words: '\u202e' + 'x'.repeat(40_000) },
    { ...odd, id: 'odd-1', words: 'the same once more' },
    { ...odd, id: 'good', writer: 'Fern', words: 'Good evening', writtenAt: Date.now() },
  ];
  await station.app.get(MessageRows).keep(airing, { messages: batch, cursor: '0' });
  const { messages } = await list();
  expect(messages.map(({ writer, words }) => [writer, words.length])).toEqual([
    ['Somebody', 5_000],
    ['Fern', 12],
  ]);
  expect(messages[0]).toMatchObject({ answers: null, standing: 'unknown' });
  expect(new Date(messages[0]!.writtenAt).getTime()).toBeLessThan(Date.now() + 2 * 24 * HOUR_MS);
});

test('another station sees none of it', async () => {
  await onAir(channels.town);
  await viewer(channels.town, 'For this station');
  const { id } = await saying('For this station');
  const stranger = await station.person('owner', 'somewhere-else');
  await as('get', `/api/shows/${show.id}/messages`, stranger).expect(404);
  await as('post', `/api/shows/${show.id}/messages/${id}/answer`, stranger).send({ words: 'Ha', key: key() }).expect(404);
});
