// The stream of changes to a station's pages, over real connections.
import type { ShowView, StationChanges } from '@lantern/contract';
import { get, type ClientRequest } from 'node:http';
import { TestStation } from '../test/station';

let station: TestStation;
let port: number;
let hall = '';
const open: ClientRequest[] = [];
const as = (method: 'get' | 'post' | 'patch' | 'delete', path: string, who = station.cookie) => station.as(station.http()[method](path), who);

beforeAll(async () => {
  station = await TestStation.open();
  port = await station.listen();
  hall = (await as('post', '/api/channels/typed-in').send({ name: 'Hall', address: 'rtmp://127.0.0.1:9/hall', key: 'hall-key-1' }).expect(201)).body.id;
});
afterAll(() => station.close());
afterEach(() => {
  for (const request of open.splice(0)) request.destroy();
});

interface Page {
  status: number;
  heard: StationChanges[];
  ended: boolean;
  until(condition: (page: Page) => boolean): Promise<void>;
}

async function page(who: string): Promise<Page> {
  const made: Page = {
    ...{ status: 0, heard: [], ended: false },
    until: async (condition) => {
      for (let tries = 0; tries < 250 && !condition(made); tries++) await new Promise((next) => setTimeout(next, 20));
      if (!condition(made)) throw new Error(`not heard: ${JSON.stringify(made.heard)}`);
    },
  };
  let begun = false;
  const request = get({ port, path: '/api/changes', headers: { cookie: who } }, (response) => {
    made.status = response.statusCode!;
    let text = '';
    response.on('data', (bytes) => {
      text += String(bytes);
      const messages = text.split('\n\n');
      text = messages.pop()!;
      for (const message of messages) {
        if (message.startsWith('event: begun')) begun = true;
        if (message.startsWith('data: ')) made.heard.push(JSON.parse(message.slice(6)) as StationChanges);
      }
    });
    response.on('close', () => (made.ended = true));
  }).on('error', () => (made.ended = true));
  open.push(request);
  await made.until(() => begun || (made.status !== 0 && made.status !== 200));
  return made;
}

test('each page of the station hears which show changed, in one message however much is done at once; no other station does', async () => {
  const show = (
    await as('post', '/api/shows')
      .send(station.draft([hall]))
      .expect(201)
  ).body as ShowView;
  const stranger = await page(await station.person('owner', 'elsewhere'));
  const [mine, theirs] = [await page(station.cookie), await page(await station.person('producer'))];
  await Promise.all(
    ['title', 'room', 'description'].map((field) =>
      as('patch', `/api/shows/${show.id}`)
        .send({ base: show.version, changes: { [field]: 'Another' } })
        .expect(200),
    ),
  );
  for (const each of [mine, theirs]) await each.until(({ heard }) => heard.some(({ shows }) => shows.includes(show.id)));
  expect(mine.heard.length).toBeLessThanOrEqual(2);
  expect(stranger.heard.filter(({ shows }) => shows.length)).toEqual([]);
});

test('a new show, a channel, going on air and wrapping up are heard of', async () => {
  const mine = await page(station.cookie);
  await as('post', '/api/channels/typed-in').send({ name: 'Annex', address: 'rtmp://127.0.0.1:9/annex', key: 'annex-key-1' }).expect(201);
  await mine.until(({ heard }) => heard.some(({ channels }) => channels));
  const soon = new Date(Date.now() + 3 * 3_600_000).toISOString();
  const when = { date: soon.slice(0, 10), time: soon.slice(11, 16), zone: 'UTC' };
  const show = (
    await as('post', '/api/shows')
      .send(station.draft([hall], when))
      .expect(201)
  ).body as ShowView;
  const times = ({ heard }: Page) => heard.filter(({ shows }) => shows.includes(show.id)).length;
  await mine.until((page) => times(page) === 1);
  await as('post', `/api/shows/${show.id}/place`).expect(200);
  await mine.until((page) => times(page) === 2);
  await as('post', `/api/shows/${show.id}/air`).expect(200);
  await mine.until((page) => times(page) === 3 && page.heard.some(({ air }) => air.includes(show.id)));
  await as('post', `/api/shows/${show.id}/wrap`).expect(200);
  await mine.until((page) => times(page) >= 4 && page.heard.some(({ recordings }) => recordings.includes(show.id)));
});

test('nobody hears anything who is not signed in, and a stream ends with its session', async () => {
  expect((await page('')).status).toBe(401);
  const cookie = await station.signIn('maren@alderfell.example', 'lantern-light');
  const mine = await page(cookie);
  await as('delete', '/api/session', cookie).expect(204);
  await mine.until(({ ended }) => ended);
});

test('that somebody is asked into the team is heard by whoever looks at it', async () => {
  const heard = await page(station.cookie);
  await as('post', '/api/team/invitations').send({ email: 'idris@alderfell.example', role: 'moderator' }).expect(201);
  await heard.until(({ heard: all }) => all.some(({ team }) => team));
});
