// All stand-ins through their public interfaces: what they grant, and what they refuse whatever was
// checked before.
import 'reflect-metadata';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { Test } from '@nestjs/testing';
import { createHash, randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import request from 'supertest';
import { AppModule } from './app.module';
import { Events } from './kit/events';
import { configureHttp, serveDescription } from './http';

const folder = mkdtempSync(join(tmpdir(), 'lantern-networks-'));
const clock = join(folder, 'clock');
const REDIRECT = 'http://localhost:4700/api/channels/links/return';
/** A Tuesday, on a full five minutes. */
const NOON = Date.UTC(2030, 0, 15, 12);
const MINUTE = 60_000;
const DAY = 24 * 60 * MINUTE;
let app: NestExpressApplication;
let reelmoor = '';
let townfold = '';
let guildhand = '';
let pipwire = '';

beforeAll(async () => {
  Object.assign(process.env, { LANTERN_NETWORKS_DATA: folder, LANTERN_NETWORKS_RTMP_PORT: '0', LANTERN_CLOCK_FILE: clock });
  setNow(NOON);
  const module = await Test.createTestingModule({ imports: [AppModule] }).compile();
  app = module.createNestApplication<NestExpressApplication>({ logger: false });
  configureHttp(app);
  serveDescription(app);
  await app.init();
  reelmoor = (await tokens('reelmoor')).access_token;
  townfold = (await tokens('townfold')).access_token;
  guildhand = (await tokens('guildhand')).access_token;
  pipwire = (await tokens('pipwire')).access_token;
});
afterAll(async () => {
  await app.close();
  rmSync(folder, { recursive: true, force: true });
});
beforeEach(() => setNow(NOON));

function setNow(epochMs: number): void {
  writeFileSync(clock, String(epochMs - Date.now()));
}
async function waitFor(holds: () => Promise<boolean>): Promise<void> {
  const until = Date.now() + 20_000;
  while (!(await holds())) {
    if (Date.now() > until) throw new Error('it never came about');
    await new Promise((done) => setTimeout(done, 100));
  }
}
const http = () => request(app.getHttpServer());
const as = (test: request.Test, token: string) => test.set('authorization', `Bearer ${token}`);

function consentQuery(change: Record<string, string> = {}): { query: Record<string, string>; verifier: string } {
  const verifier = randomBytes(32).toString('base64url');
  const code_challenge = createHash('sha256').update(verifier).digest('base64url');
  const query = { response_type: 'code', client_id: 'noble-lantern', redirect_uri: REDIRECT, state: 's', code_challenge, code_challenge_method: 'S256' };
  return { query: { ...query, ...change }, verifier };
}
async function consent(network: string, name = 'maren', password = 'lantern-light'): Promise<{ code: string; verifier: string }> {
  const { query, verifier } = consentQuery();
  const reply = await http().post(`/${network}/oauth/consent`).query(query).type('form').send({ name, password, answer: 'allow' }).expect(303);
  return { code: new URL(reply.headers.location!).searchParams.get('code')!, verifier };
}
const exchange = (network: string, form: Record<string, string>) =>
  http()
    .post(`/${network}/oauth/token`)
    .type('form')
    .send({ client_id: 'noble-lantern', redirect_uri: REDIRECT, grant_type: 'authorization_code', ...form });
async function tokens(network: string, name?: string, password?: string): Promise<{ access_token: string; refresh_token: string }> {
  const { code, verifier } = await consent(network, name, password);
  return (await exchange(network, { code, code_verifier: verifier }).expect(200)).body as { access_token: string; refresh_token: string };
}

describe('granting access', () => {
  test.each([
    ['an unknown application', { client_id: 'somebody' }],
    ['no proof key', { code_challenge: '' }],
    ['a plain proof key', { code_challenge_method: 'plain' }],
    ['a return to elsewhere', { redirect_uri: 'https://elsewhere.example/' }],
    ['no state', { state: '' }],
  ])('%s gets no consent page', async (_name, change) => {
    await http().get('/reelmoor/oauth/consent').query(consentQuery(change).query).expect(400);
  });

  test('declining sends the browser back without a code', async () => {
    const { query } = consentQuery();
    const reply = await http().post('/townfold/oauth/consent').query(query).type('form').send({ answer: 'decline' }).expect(303);
    const back = new URL(reply.headers.location!);
    expect([back.searchParams.get('error'), back.searchParams.get('state'), back.searchParams.get('code')]).toEqual(['access_denied', 's', null]);
  });

  test('a code is good once, with its own verifier, for its own address, for a minute', async () => {
    const first = await consent('reelmoor');
    await exchange('reelmoor', { code: first.code, code_verifier: 'guessed' }).expect(400);
    await exchange('reelmoor', { code: first.code, code_verifier: first.verifier, redirect_uri: 'http://localhost/other' }).expect(400);
    await exchange('townfold', { code: first.code, code_verifier: first.verifier }).expect(400);
    await exchange('reelmoor', { code: first.code, code_verifier: first.verifier }).expect(200);
    await exchange('reelmoor', { code: first.code, code_verifier: first.verifier }).expect(400);
    const late = await consent('reelmoor');
    setNow(NOON + 2 * MINUTE);
    await exchange('reelmoor', { code: late.code, code_verifier: late.verifier }).expect(400);
  });

  test('tokens run out, are refreshed once, and speak for their own network and login only', async () => {
    const given = await tokens('reelmoor');
    await as(http().get('/reelmoor/api/channels'), given.access_token).expect(200);
    await as(http().get('/townfold/open/places'), given.access_token).expect(401);
    setNow(NOON + 2 * 60 * MINUTE);
    await as(http().get('/reelmoor/api/channels'), given.access_token).expect(401);
    const fresh = (await exchange('reelmoor', { grant_type: 'refresh_token', refresh_token: given.refresh_token }).expect(200)).body;
    await as(http().get('/reelmoor/api/channels'), fresh.access_token).expect(200);
    await exchange('reelmoor', { grant_type: 'refresh_token', refresh_token: given.refresh_token }).expect(400);
    const stranger = (await tokens('reelmoor', 'stranger', 'somebody-else')).access_token;
    const list = await as(http().get('/reelmoor/api/channels'), stranger).expect(200);
    expect(list.body.items.map(({ name }: { name: string }) => name)).toEqual(['Somebody Else']);
    await as(http().get('/reelmoor/api/channels/rm-alderfell/lines'), stranger).expect(403);
  });
});

describe('Reelmoor', () => {
  let lineId = '';
  const broadcast = (change: object = {}) => ({
    title: 'Dusk Report',
    description: 'The sky.',
    scheduledStart: new Date(NOON + 60 * MINUTE).toISOString(),
    durationMinutes: 40,
    lineId,
    visibility: 'everyone',
    beginsBy: 'told',
    ...change,
  });
  const create = (change: object = {}, once = randomBytes(6).toString('hex')) =>
    as(http().post('/reelmoor/api/channels/rm-alderfell/broadcasts'), reelmoor).set('idempotency-key', once).send(broadcast(change));

  beforeAll(async () => {
    setNow(NOON);
    lineId = (await as(http().post('/reelmoor/api/channels/rm-alderfell/lines'), reelmoor).send({ label: 'Hall' }).expect(201)).body.lineId;
  });

  test.each<[string, () => object, string]>([
    ['101 characters of title', () => ({ title: 'x'.repeat(101) }), 'title'],
    ['no title', () => ({ title: ' ' }), 'title'],
    ['4801 characters of text', () => ({ description: 'x'.repeat(4801) }), 'description'],
    ['a start in the past', () => ({ scheduledStart: new Date(NOON - 5 * MINUTE).toISOString() }), 'scheduledStart'],
    ['fifteen hours', () => ({ durationMinutes: 900 }), 'durationMinutes'],
    ['a start off the grid', () => ({ scheduledStart: new Date(NOON + 61 * MINUTE).toISOString() }), 'scheduledStart'],
    ['a start in 181 days', () => ({ scheduledStart: new Date(NOON + 181 * DAY).toISOString() }), 'scheduledStart'],
    ['a line that is not there', () => ({ lineId: 'elsewhere' }), 'lineId'],
  ])('refuses %s', async (_name, change, reason) => {
    const reply = await create(change()).expect(422);
    expect(reply.body.error.reason).toBe(reason);
  });

  test('the same idempotency key gives the same broadcast', async () => {
    const first = await create({}, 'once').expect(201);
    const second = await create({ title: 'Another title' }, 'once').expect(201);
    expect(second.body).toEqual(first.body);
  });

  test('starts not too early and not without a picture; ends for good', async () => {
    const { broadcastId } = (await create().expect(201)).body;
    const call = (what: string) => as(http().post(`/reelmoor/api/broadcasts/${broadcastId}/${what}`), reelmoor);
    expect((await call('start').expect(409)).body.error.reason).toBe('too-early');
    setNow(NOON + 15 * MINUTE);
    reelmoor = (await tokens('reelmoor')).access_token; // the first has run out meanwhile
    expect((await call('start').expect(409)).body.error.reason).toBe('no-picture');
    expect((await call('end').expect(200)).body.status).toBe('ended');
    await call('end').expect(200);
    await as(http().patch(`/reelmoor/api/broadcasts/${broadcastId}`), reelmoor)
      .send({ title: 'Later' })
      .expect(409);
  });

  test('its page shows what it was given, and no script of a title’s', async () => {
    const made = (await create({ title: '<script>alert(1)</script>' }).expect(201)).body;
    const page = await http().get(new URL(made.watchUrl).pathname).expect(200);
    expect(page.text).not.toContain('<script>alert(1)');
    await http()
      .get(`${new URL(made.watchUrl).pathname}/live.m3u8`)
      .expect(404);
    await as(http().delete(`/reelmoor/api/broadcasts/${made.broadcastId}`), reelmoor).expect(204);
    expect((await http().get(`${new URL(made.watchUrl).pathname}/state`)).body.state).toBe('withdrawn');
  });
});

describe('Townfold', () => {
  const gathering = (change: object = {}) => ({
    headline: 'Dusk Report',
    words: 'The sky.',
    begins_at: (NOON + 60 * MINUTE) / 1000,
    lasts_minutes: 40,
    shown_to: 'everyone',
    ...change,
  });
  const announce = (change: object = {}, place = 'tf-alderfell') =>
    as(http().post(`/townfold/open/places/${place}/gatherings`), townfold).send(gathering(change));
  const picture = (format: 'jpeg' | 'png', width: number, height: number) =>
    sharp({ create: { width, height, channels: 3, background: '#123' } })
      .toFormat(format)
      .toBuffer();

  test.each<[string, object, string, string]>([
    ['121 characters of headline', { headline: 'x'.repeat(121) }, 'tf-alderfell', 'headline'],
    ['2001 characters', { words: 'x'.repeat(2001) }, 'tf-alderfell', 'words'],
    ['a start in 14 minutes', { begins_at: (NOON + 14 * MINUTE) / 1000 }, 'tf-alderfell', 'begins_at'],
    ['a start in 11 days', { begins_at: (NOON + 11 * DAY) / 1000 }, 'tf-alderfell', 'begins_at'],
    ['half a minute', { begins_at: (NOON + 60 * MINUTE) / 1000 + 30 }, 'tf-alderfell', 'begins_at'],
    ['seven hours', { lasts_minutes: 420 }, 'tf-alderfell', 'lasts_minutes'],
    ['a page with members', { shown_to: 'members' }, 'tf-alderfell', 'shown_to'],
    ['a profile that announces', {}, 'tf-maren', 'begins_at'],
  ])('refuses %s', async (_name, change, place, reason) => {
    const reply = await announce(change, place).expect(422);
    expect(reply.body.refused).toBe(reason);
  });

  test('a profile may begin now; somebody else’s page may not be used', async () => {
    expect((await announce({ begins_at: null }, 'tf-maren').expect(201)).body.begins_at).toBe(NOON / 1000);
    await announce({}, 'tf-stranger').expect(403);
  });

  test('each gathering has a line of its own, until it is done', async () => {
    const refs = [(await announce().expect(201)).body.gathering_ref, (await announce().expect(201)).body.gathering_ref];
    const lines = await Promise.all(refs.map((ref) => as(http().get(`/townfold/open/gatherings/${ref}/line`), townfold).expect(200)));
    expect(new Set(lines.map(({ body }) => body.pass_phrase)).size).toBe(2);
    expect((await as(http().post(`/townfold/open/gatherings/${refs[0]}/start`), townfold).expect(409)).body.refused).toBe('too-early');
    await as(http().post(`/townfold/open/gatherings/${refs[0]}/finish`), townfold).expect(200);
    await as(http().get(`/townfold/open/gatherings/${refs[0]}/line`), townfold).expect(409);
  });

  test('pictures are JPEG, large enough, and really pictures', async () => {
    const { gathering_ref } = (await announce().expect(201)).body;
    const send = (body: Buffer) =>
      as(http().post(`/townfold/open/gatherings/${gathering_ref}/picture`), townfold)
        .set('content-type', 'image/jpeg')
        .send(body);
    expect((await send(await picture('png', 1280, 720)).expect(422)).body.refused).toBe('picture-type');
    expect((await send(Buffer.from('no picture')).expect(422)).body.refused).toBe('picture-type');
    expect((await send(await picture('jpeg', 1000, 563)).expect(422)).body.refused).toBe('picture-too-small');
    await send(await picture('jpeg', 1200, 675)).expect(204);
    await http().get(`/townfold/gathering/${gathering_ref}/picture`).expect(200).expect('content-type', 'image/jpeg');
    await http().get(`/reelmoor/watch/${gathering_ref}`).expect(404);
  });
});

describe('Guildhand', () => {
  const talk = (change: object = {}) => ({
    data: {
      type: 'talk',
      attributes: {
        title: 'Dusk Report',
        summary: 'The sky.',
        begins: new Date(NOON + 60 * MINUTE).toISOString(),
        lasts: 'PT40M',
        audience: 'everyone',
        ...change,
      },
    },
  });
  const announce = (change: object = {}, account = 'gh-alderfell') => as(http().post(`/guildhand/v2/accounts/${account}/talks`), guildhand).send(talk(change));
  const problem = (body: { type: string }) => body.type.split('/').at(-1);

  test.each<[string, object, string]>([
    ['81 characters of title', { title: 'x'.repeat(81) }, 'title'],
    ['1301 characters of summary', { summary: 'x'.repeat(1301) }, 'summary'],
    ['five hours', { lasts: 'PT5H' }, 'lasts'],
    ['ten past', { begins: new Date(NOON + 70 * MINUTE).toISOString() }, 'begins'],
    ['a quarter of an hour ahead', { begins: new Date(NOON + 15 * MINUTE).toISOString() }, 'begins'],
    ['91 days ahead', { begins: new Date(NOON + 91 * DAY).toISOString() }, 'begins'],
  ])('refuses %s', async (_name, change, reason) => {
    const reply = await announce(change)
      .expect(422)
      .expect('content-type', /problem\+json/);
    expect(problem(reply.body)).toBe(reason);
  });

  test('beginning and audience are locked, words are not', async () => {
    const { id } = (await announce().expect(201)).body.data;
    const change = (attributes: object) => as(http().patch(`/guildhand/v2/talks/${id}`), guildhand).send({ data: { type: 'talk', attributes } });
    expect(problem((await change({ begins: new Date(NOON + 75 * MINUTE).toISOString() }).expect(409)).body)).toBe('begins-locked');
    expect(problem((await change({ audience: 'invited' }).expect(409)).body)).toBe('audience-locked');
    expect((await change({ title: 'Later', begins: new Date(NOON + 60 * MINUTE).toISOString() }).expect(200)).body.data.attributes.title).toBe('Later');
  });

  test('a picture needs words, and is large', async () => {
    const { id } = (await announce().expect(201)).body.data;
    const send = async (width: number, words: string) => {
      const bytes = (
        await sharp({ create: { width, height: (width * 9) / 16, channels: 3, background: '#123' } })
          .jpeg()
          .toBuffer()
      ).toString('base64');
      return as(http().put(`/guildhand/v2/talks/${id}/picture`), guildhand).send({ data: { type: 'picture', attributes: { bytes, words } } });
    };
    expect((await send(1600, ' ')).body.type).toContain('picture-words');
    expect((await send(1280, 'The dome.')).body.type).toContain('picture-too-small');
    expect((await send(1600, 'The dome.')).status).toBe(204);
    expect((await http().get(`/guildhand/talk/${id}`)).text).toContain('aria-label="The dome."');
  });

  test('speakers are named on the page only once they have accepted there, and again have to where they go by another name', async () => {
    const { id } = (await announce().expect(201)).body.data;
    const set = (...speakers: [reference: string, name: string, about?: string][]) =>
      as(http().put(`/guildhand/v2/talks/${id}/speakers`), guildhand).send({
        data: speakers.map(([reference, name, about = '']) => ({ type: 'speaker', id: reference, attributes: { name, about } })),
      });
    const page = async () => (await http().get(`/guildhand/talk/${id}`)).text;
    const { data } = (await set(['g-1', 'Dr Oriel Vance', 'observatory'], ['g-2', 'Tomasz <i>Wren</i>']).expect(200)).body;
    expect(data.map(({ id: reference, attributes }: { id: string; attributes: { answer: string } }) => [reference, attributes.answer])).toEqual([
      ['g-1', 'invited'],
      ['g-2', 'invited'],
    ]);
    expect(await page()).not.toMatch(/Oriel|Wren/);
    const paths = data.map(({ links }: { links: { invitation: string } }) => new URL(links.invitation).pathname) as [string, string];
    expect((await http().get(paths[0])).text).toContain('Dr Oriel Vance');
    for (const path of paths) await http().post(path).type('form').send({ answer: 'accepted' }).expect(200);
    expect(await page()).toMatch(/Oriel Vance<\/b>, observatory[^]*Tomasz &#60;i&#62;Wren/);
    await http().post(paths[1]).type('form').send({ answer: 'maybe' }).expect(400);
    // The same list again changes nothing; another name has to be agreed to.
    await set(['g-1', 'Dr Oriel Vance', 'observatory, southern sky'], ['g-2', 'T. Wren']).expect(200);
    expect(await page()).toMatch(/Oriel Vance<\/b>, observatory, southern sky/);
    expect(await page()).not.toContain('Wren');
    await set(['g-2', 'T. Wren']).expect(200);
    expect(await page()).not.toContain('Oriel');
    await http().get(paths[0]).expect(404);
    expect(problem((await set(['g-1', ' ']).expect(422)).body)).toBe('speaker-name');
    expect(problem((await set(...Array.from({ length: 13 }, (_, at) => [`g-${at}`, 'A'] as [string, string])).expect(422)).body)).toBe('speakers');
  });

  test('lapses when nobody opens it, and stays, marked, when it is cancelled', async () => {
    const { id } = (await announce({ title: 'To lapse' }).expect(201)).body.data;
    const { id: cancelled } = (await announce({ title: 'To be cancelled' }).expect(201)).body.data;
    await as(http().post(`/guildhand/v2/talks/${cancelled}/cancellation`), guildhand).expect(200);
    expect((await http().get('/guildhand/bench/gh-alderfell')).text).toMatch(/To be cancelled[^]*Cancelled/);
    expect(problem((await as(http().post(`/guildhand/v2/talks/${id}/opening`), guildhand).expect(409)).body)).toBe('too-early');
    setNow(NOON + 60 * MINUTE + 91 * MINUTE);
    guildhand = (await tokens('guildhand')).access_token;
    await waitFor(async () => (await as(http().get(`/guildhand/v2/talks/${id}`), guildhand)).body.data.attributes.state === 'closed');
  });
});

describe('Pipwire', () => {
  const cast = (say: string, handle = 'pw-alderfellsky', nonce = randomBytes(6).toString('hex')) =>
    as(http().post(`/pipwire/1/handles/${handle}/casts`), pipwire).send({ say, nonce });

  test('a web address counts 24 characters', async () => {
    const link = `https://alderfell.example/${'x'.repeat(200)}`;
    expect((await cast(`${'x'.repeat(247)}${link}`).expect(422)).body.no).toBe('too-long');
    const made = (await cast(`${'x'.repeat(245)} ${link}`).expect(201)).body;
    await as(http().delete(`/pipwire/1/casts/${made.cast}`), pipwire).expect(204);
  });

  test('one cast at a time, the same nonce gives the same, and its line lasts until it is renewed', async () => {
    const first = (await cast('The sky tonight.', 'pw-alderfellsky', 'the-very-same').expect(201)).body;
    expect((await cast('Something else.', 'pw-alderfellsky', 'the-very-same').expect(201)).body.cast).toBe(first.cast);
    expect((await cast('Another.').expect(409)).body.no).toBe('one-at-a-time');
    const line = async () => (await as(http().get('/pipwire/1/handles/pw-alderfellsky/line'), pipwire).expect(200)).body.key;
    const key = await line();
    expect(await line()).toBe(key);
    await as(http().post('/pipwire/1/handles/pw-alderfellsky/line/new-key'), pipwire).expect(200);
    expect(await line()).not.toBe(key);
    expect((await as(http().post(`/pipwire/1/casts/${first.cast}/stop`), pipwire).expect(200)).body.is).toBe('gone');
  });
});

test.each<[string, string, () => request.Test, () => string, object]>([
  [
    'a library channel',
    'rm-junior',
    () => http().post('/reelmoor/api/channels/rm-junior/broadcasts'),
    () => reelmoor,
    { phoneVerified: 'yes', askedDaysAgo: '2' },
  ],
  ['a group', 'tf-walks', () => http().post('/townfold/open/places/tf-walks/gatherings'), () => townfold, { groupAllows: 'yes' }],
  ['a member', 'gh-maren', () => http().post('/guildhand/v2/accounts/gh-maren/talks'), () => guildhand, { connections: '50' }],
  ['a handle', 'pw-juniordome', () => http().post('/pipwire/1/handles/pw-juniordome/casts'), () => pipwire, { followers: '100' }],
])('%s that does not meet the conditions may not broadcast until it does', async (_kind, account, create, token, remedy) => {
  const bodies: Record<string, () => Promise<object>> = {
    'rm-junior': async () => ({
      title: 'Junior Dome Hour',
      description: '',
      scheduledStart: new Date(NOON + 60 * MINUTE).toISOString(),
      durationMinutes: 60,
      lineId: (await as(http().post('/reelmoor/api/channels/rm-junior/lines'), reelmoor).send({ label: 'Dome' }).expect(201)).body.lineId,
      visibility: 'everyone',
      beginsBy: 'told',
    }),
    'tf-walks': async () => ({ headline: 'Dusk', words: '', begins_at: (NOON + 60 * MINUTE) / 1000, lasts_minutes: 40, shown_to: 'members' }),
    'gh-maren': async () => ({
      data: {
        type: 'talk',
        attributes: { title: 'Dusk', summary: '', begins: new Date(NOON + 60 * MINUTE).toISOString(), lasts: 'PT40M', audience: 'everyone' },
      },
    }),
    'pw-juniordome': async () => ({ say: 'The dome is open.', nonce: randomBytes(6).toString('hex') }),
  };
  const body = await bodies[account]!();
  const refused = await as(create(), token()).send(body).expect(403);
  expect(JSON.stringify(refused.body)).toContain('not-eligible');
  await http()
    .post('/operator/accounts')
    .send({ account, ...remedy })
    .expect(303);
  await as(create(), token()).send(body).expect(201);
});

test('what is not for everybody is on no list, and opens only with its key', async () => {
  const { lineId } = (await as(http().post('/reelmoor/api/channels/rm-alderfell/lines'), reelmoor).send({ label: 'Hidden' }).expect(201)).body;
  const make = async (visibility: string) =>
    (
      await as(http().post('/reelmoor/api/channels/rm-alderfell/broadcasts'), reelmoor)
        .send({
          title: `For ${visibility}`,
          description: '',
          scheduledStart: new Date(NOON + 60 * MINUTE).toISOString(),
          durationMinutes: 40,
          lineId,
          visibility,
          beginsBy: 'told',
          listedDaysBefore: 1,
        })
        .expect(201)
    ).body as { watchUrl: string; admissionUrl: string | null };
  const pathOf = (url: string) => new URL(url).pathname + new URL(url).search;
  const shelf = async () => (await http().get('/reelmoor/shelf/rm-alderfell').expect(200)).text;

  const holders = await make('link-holders');
  expect(holders.admissionUrl).toBeNull();
  await http().get(pathOf(holders.watchUrl)).expect(200);
  for (const visibility of ['invited', 'supporters']) {
    const made = await make(visibility);
    for (const below of ['', '/state', '/live.m3u8', '/picture']) {
      const closed = await http()
        .get(pathOf(made.watchUrl) + below)
        .expect(403);
      expect(closed.text).not.toContain(`For ${visibility}`);
    }
    expect((await http().get(pathOf(made.admissionUrl!)).expect(200)).text).toContain(`For ${visibility}`);
    await http()
      .get(`${pathOf(made.watchUrl)}?as=${'x'.repeat(32)}`)
      .expect(403);
  }
  const everyone = await make('everyone');
  expect(everyone.admissionUrl).toBeNull();
  expect(await shelf()).toContain('For everyone');
  expect(await shelf()).not.toMatch(/For (link-holders|invited|supporters)/);
});

test('a coming broadcast is listed from as many days before as was asked for, at its start unless it was', async () => {
  const { lineId } = (await as(http().post('/reelmoor/api/channels/rm-alderfell/lines'), reelmoor).send({ label: 'Listing' }).expect(201)).body;
  for (const days of [undefined, 3])
    await as(http().post('/reelmoor/api/channels/rm-alderfell/broadcasts'), reelmoor)
      .send({
        ...{ title: `Listed ${days ?? 'late'}`, description: '', scheduledStart: new Date(NOON + 5 * DAY).toISOString(), durationMinutes: 40 },
        ...{ lineId, visibility: 'everyone', beginsBy: 'told', listedDaysBefore: days },
      })
      .expect(201);
  const shelf = async (at: number) => {
    setNow(at);
    return (await http().get('/reelmoor/shelf/rm-alderfell').expect(200)).text;
  };
  expect(await shelf(NOON + DAY)).not.toMatch(/Listed (3|late)/);
  expect(await shelf(NOON + 2 * DAY)).toContain('Listed 3');
  expect(await shelf(NOON + 2 * DAY)).not.toContain('Listed late');
  expect(await shelf(NOON + 5 * DAY)).toContain('Listed late');
});

test('a gathering that is not shown everywhere asks where its viewers are, and is not shown to some', async () => {
  const made = await as(http().post('/townfold/open/places/tf-alderfell/gatherings'), townfold)
    .send({
      ...{ headline: 'Not in France', words: '', begins_at: (NOON + 60 * MINUTE) / 1000, lasts_minutes: 40, shown_to: 'everyone', not_in: ['FR'] },
    })
    .expect(201);
  const page = new URL((made.body as { page_address: string }).page_address).pathname;
  expect((await http().get(page).expect(200)).text).toContain('Your country');
  expect((await http().get(`${page}?in=FR`).expect(451)).text).not.toContain('Not in France');
  expect((await http().get(`${page}?in=IE`).expect(200)).text).toContain('Not in France');
  const both = {
    headline: 'Both',
    words: '',
    begins_at: (NOON + 60 * MINUTE) / 1000,
    lasts_minutes: 40,
    shown_to: 'everyone',
    not_in: ['FR'],
    only_in: ['IE'],
  };
  await as(http().post('/townfold/open/places/tf-alderfell/gatherings'), townfold).send(both).expect(422);
});

test.each([
  ['pipwire', 'pw-alderfellsky', 3_000],
  ['townfold', 'tf-alderfell', 2 * MINUTE],
  ['guildhand', 'gh-alderfell', 10 * MINUTE],
  ['reelmoor', 'rm-alderfell', null],
] as const)('on %s a public event whose picture has stopped is ended when its network waits no longer', async (network, accountId, waitsMs) => {
  const events = app.get(Events);
  const line = await events.makeLine(network, accountId, 'Stopped', false);
  const event = await events.make({
    ...{ network, accountId, title: 'Stopped', text: '', startsAt: NOON, lengthMs: 60 * MINUTE, visibility: 'everyone', lineId: line.id },
    ...{ beginsBy: 'picture', delaySeconds: 4, state: 'public', publicAt: NOON },
  });
  const stateAfter = async (ms: number) => {
    setNow(NOON + ms);
    await new Promise((done) => setTimeout(done, 700));
    return (await events.byId(event.id))!.state;
  };
  expect(await stateAfter(0)).toBe('public');
  expect(await stateAfter((waitsMs ?? 60 * MINUTE) - 2_000)).toBe('public');
  expect(await stateAfter((waitsMs ?? 60 * MINUTE) + 2_000)).toBe(waitsMs === null ? 'public' : 'over');
  await events.forget(event);
});

test('what was written at a talk is gone with its end, and stays where a network keeps it', async () => {
  const events = app.get(Events);
  const written = async (network: 'guildhand' | 'pipwire', accountId: string, path: string) => {
    const line = await events.makeLine(network, accountId, 'Written', false);
    const event = await events.make({
      ...{ network, accountId, title: 'Written', text: 'Written', startsAt: NOON, lengthMs: 60 * MINUTE, visibility: 'everyone', lineId: line.id },
      ...{ beginsBy: 'told', delaySeconds: 4 },
    });
    await http().post(`${path}/${event.id}/said`).send({ name: 'Ash', words: 'Good evening', standing: 'member' }).expect(200);
    const said = async () => ((await http().get(`${path}/${event.id}/said`).expect(200)).body as unknown[]).length;
    const before = await said();
    await events.finish(event);
    return [before, await said()];
  };
  expect(await written('guildhand', 'gh-alderfell', '/guildhand/talk')).toEqual([1, 0]);
  expect(await written('pipwire', 'pw-alderfellsky', '/pipwire/cast')).toEqual([1, 1]);
});

test('a limit that is announced is told to all; one changed behind their back is only enforced', async () => {
  const change = (announced: string, limit: string, value: string, inDays: string) =>
    http().post('/operator/limits').send({ network: 'townfold', limit, value, inDays, announced }).expect(303);
  await change('yes', 'title', '50', '7');
  await change('no', 'text', '40', '0');
  const { notices } = (await http().get('/townfold/open/notices').expect(200)).body;
  expect(notices).toMatchObject([{ about: 'headline', becomes: 50, since: (NOON + 7 * DAY) / 1000 }]);
  const announce = (headline: string, words: string) =>
    as(http().post('/townfold/open/places/tf-alderfell/gatherings'), townfold).send({
      headline,
      words,
      begins_at: (NOON + 60 * MINUTE) / 1000,
      lasts_minutes: 40,
      shown_to: 'everyone',
    });
  expect((await announce('x'.repeat(51), 'x'.repeat(41)).expect(422)).body.refused).toBe('words');
  await announce('x'.repeat(51), 'x'.repeat(40)).expect(201);
  await http().post('/operator/limits/as-at-first').send({ network: 'townfold' }).expect(303);
  await announce('x'.repeat(51), 'x'.repeat(41)).expect(201);
});

test.each([
  ['stale', 401, 200],
  ['expired', 401, 400],
  ['withdrawn', 401, 400],
])('access that has become %s', async (becomes, used, refreshed) => {
  const given = await tokens('pipwire');
  await as(http().get('/pipwire/1/handles'), given.access_token).expect(200);
  await http().post('/operator/access').send({ network: 'pipwire', becomes }).expect(303);
  await as(http().get('/pipwire/1/handles'), given.access_token).expect(used);
  await exchange('pipwire', { grant_type: 'refresh_token', refresh_token: given.refresh_token }).expect(refreshed);
  pipwire = (await tokens('pipwire')).access_token;
});

test('access that was given back is good no longer', async () => {
  const given = await tokens('guildhand');
  await http().post('/guildhand/oauth/revoke').type('form').send({ token: given.refresh_token }).expect(200);
  await as(http().get('/guildhand/v2/accounts'), given.access_token).expect(401);
});

test('each interface is described, and every part that the description names is in it', async () => {
  const { body } = await http().get('/openapi.json').expect(200);
  for (const path of [
    '/reelmoor/api/channels/{channel}/broadcasts',
    '/townfold/open/places/{place}/gatherings',
    '/guildhand/v2/accounts/{account}/talks',
    '/pipwire/1/handles/{handle}/casts',
  ]) {
    expect(body.paths[path].post.requestBody).toBeDefined();
  }
  const named = [...JSON.stringify(body).matchAll(/"\$ref":"#\/components\/schemas\/(\w+)"/g)].map(([, name]) => name!);
  expect(named).toContain('GuildhandTalkFacts');
  expect(named.filter((name) => !(name in body.components.schemas))).toEqual([]);
  expect(JSON.stringify(body)).not.toContain('#/definitions/');
});

test('faults are set by name, and a network that is down answers nobody', async () => {
  await http().post('/operator/faults').send({ network: 'townfold', fault: 'gremlins' }).expect(400);
  await http().post('/operator/faults').send({ network: 'townfold', fault: 'down' }).expect(303);
  await as(http().get('/townfold/open/places'), townfold).expect(503);
  await as(http().get('/reelmoor/api/channels'), reelmoor).expect(200);
  await http().post('/operator/faults').send({ network: 'townfold', fault: 'none' }).expect(303);
  await as(http().get('/townfold/open/places'), townfold).expect(200);
});

describe('posts without an event', () => {
  const note = (words: string, key: string, place = 'tf-alderfell') =>
    as(http().post(`/townfold/open/places/${place}/notes`), townfold)
      .set('idempotency-key', key)
      .send({ words });
  const say = (words: string, nonce: string) => as(http().post('/pipwire/1/handles/pw-alderfellsky/posts'), pipwire).send({ say: words, nonce });

  test('stand on the account’s page once, with their links, and nothing in them runs', async () => {
    const made = (await note('Come to http://localhost/x <script>alert(1)</script>', 'note-once').expect(201)).body;
    expect((await note('Come to http://localhost/x <script>alert(1)</script>', 'note-once').expect(201)).body.note_ref).toBe(made.note_ref);
    const page = (await http().get('/townfold/place/tf-alderfell').expect(200)).text;
    expect(page.match(/Come to/g)).toHaveLength(1);
    expect(page).toContain('<a href="http://localhost/x"');
    expect(page).not.toContain('<script>alert(1)');
  });

  test('keep to the network’s own limits and accounts', async () => {
    expect((await note('', 'note-empty').expect(422)).body.refused).toBe('words');
    expect((await note('x'.repeat(2_001), 'note-long').expect(422)).body.refused).toBe('words');
    expect((await say('x'.repeat(271), 'nonce-long').expect(422)).body.no).toBe('too-long');
    // An address counts 24, however long it is.
    await say(`${'x'.repeat(245)} https://alderfell.example/${'y'.repeat(100)}`, 'nonce-link').expect(201);
    await note('Not mine', 'note-other', 'tf-somebody').expect(403);
  });
});
