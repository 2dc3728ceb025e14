// Both stand-ins through their public interfaces: what they grant, and what they refuse whatever was
// checked before.
import 'reflect-metadata';
import { ValidationPipe } from '@nestjs/common';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { Test } from '@nestjs/testing';
import { createHash, randomBytes } from 'node:crypto';
import { raw } from 'express';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import request from 'supertest';
import { AppModule } from './app.module';
import { RefusalFilter } from './kit/refusal';

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

beforeAll(async () => {
  Object.assign(process.env, { LANTERN_NETWORKS_DATA: folder, LANTERN_NETWORKS_RTMP_PORT: '0', LANTERN_CLOCK_FILE: clock });
  setNow(NOON);
  const module = await Test.createTestingModule({ imports: [AppModule] }).compile();
  app = module.createNestApplication<NestExpressApplication>({ logger: false });
  app.use(raw({ type: 'image/*', limit: '20mb' }));
  app.useGlobalPipes(new ValidationPipe({ whitelist: true }));
  app.useGlobalFilters(new RefusalFilter());
  await app.init();
  reelmoor = (await tokens('reelmoor')).access_token;
  townfold = (await tokens('townfold')).access_token;
});
afterAll(async () => {
  await app.close();
  rmSync(folder, { recursive: true, force: true });
});
beforeEach(() => setNow(NOON));

function setNow(epochMs: number): void {
  writeFileSync(clock, String(epochMs - Date.now()));
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

test('faults are set by name, and a network that is down answers nobody', async () => {
  await http().post('/operator/faults').send({ network: 'townfold', fault: 'gremlins' }).expect(400);
  await http().post('/operator/faults').send({ network: 'townfold', fault: 'down' }).expect(303);
  await as(http().get('/townfold/open/places'), townfold).expect(503);
  await as(http().get('/reelmoor/api/channels'), reelmoor).expect(200);
  await http().post('/operator/faults').send({ network: 'townfold', fault: 'none' }).expect(303);
  await as(http().get('/townfold/open/places'), townfold).expect(200);
});
