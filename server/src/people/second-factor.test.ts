// A second factor: codes against the examples of the standards, and a sign-in that wants them.
import type { Me, SecondFactorStart, SpareCodes } from '@lantern/contract';
import { OWNER, TestStation } from '../test/station';
import { digestOf } from '../foundation/digest';
import { sessionToken } from '../foundation/session-cookie';
import { StagesOnAir } from './stages-on-air';
import { base32, codeOf, stepAt, stepOf } from './one-time-codes';
import { Person } from './people.entities';

/** RFC 6238, appendix B: the secret of its examples for SHA-1, times in seconds, the last six of their eight figures. */
const SECRET = Buffer.from('12345678901234567890');
test.each([
  [59, '287082'],
  [1_111_111_109, '081804'],
  [1_111_111_111, '050471'],
  [1_234_567_890, '005924'],
  [2_000_000_000, '279037'],
  [20_000_000_000, '353130'],
])('at %d seconds the code is %s', (seconds, code) => {
  expect(codeOf(SECRET, stepAt(seconds * 1_000))).toBe(code);
});

/** RFC 4648, section 10. */
test.each([
  ['f', 'MY'],
  ['fo', 'MZXQ'],
  ['foo', 'MZXW6'],
  ['foobar', 'MZXW6YTBOI'],
])('“%s” is written %s', (text, written) => {
  expect(base32(Buffer.from(text))).toBe(written);
});

test('a code is good a little early and late, and never after one that was used', () => {
  const now = 1_234_567_890_000;
  const step = stepAt(now);
  for (const off of [-1, 0, 1]) expect(stepOf(SECRET, codeOf(SECRET, step + off), now, 0)).toBe(step + off);
  for (const off of [-2, 2]) expect(stepOf(SECRET, codeOf(SECRET, step + off), now, 0)).toBeNull();
  expect(stepOf(SECRET, codeOf(SECRET, step), now, step)).toBeNull();
  expect(stepOf(SECRET, ` ${codeOf(SECRET, step).slice(0, 3)} ${codeOf(SECRET, step).slice(3)}`, now, 0)).toBe(step);
});

describe('at a station', () => {
  let station: TestStation;
  let now = 0;
  beforeAll(async () => {
    station = await TestStation.open();
    travel(0);
  });
  afterAll(() => station.close());
  beforeEach(() => station.forgetTries());

  /** Goes on by so many seconds. */
  function travel(seconds: number): void {
    now = Math.max(now, Date.now()) + seconds * 1_000;
    station.travelTo(now);
  }
  const as = (method: 'get' | 'post' | 'put', path: string, body?: object) => station.as(station.http()[method](path)).send(body);
  const signIn = (code?: string) =>
    station
      .http()
      .post('/api/session')
      .send({ email: OWNER.email, password: OWNER.password, ...(code && { code }) });
  let secret: Buffer = Buffer.alloc(0);
  const code = (off = 0) => codeOf(secret, stepAt(now) + off);

  /** As an app reads what is typed into it. */
  function read(text: string): Buffer {
    const bits = [...text].map((letter) => 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'.indexOf(letter).toString(2).padStart(5, '0')).join('');
    return Buffer.from(bits.match(/.{8}/g)!.map((byte) => parseInt(byte, 2)));
  }

  test('it is begun with the password, counts once a code has proved it, and is asked for from then on', async () => {
    await as('post', '/api/me/second-factor', { password: 'not this one' }).expect(403);
    const { body } = await as('post', '/api/me/second-factor', { password: OWNER.password }).expect(201);
    const begun = body as SecondFactorStart;
    expect(new URL(begun.uri).searchParams.get('secret')).toBe(begun.secret);
    secret = read(begun.secret);
    // Not proved yet: nothing is asked for.
    await signIn().expect(200);
    await as('put', '/api/me/second-factor', { code: '000000' }).expect(403);
    const { spares } = (await as('put', '/api/me/second-factor', { code: code() }).expect(200)).body as SpareCodes;
    expect(new Set(spares).size).toBe(10);
    const kept = JSON.stringify(await station.database.getRepository(Person).find());
    for (const hidden of [...spares, begun.secret, secret.toString('base64')]) expect(kept).not.toContain(hidden);
    const asked = await signIn().expect(401);
    expect(asked.body).toMatchObject({ needs: 'code', words: expect.stringContaining('second factor') });
    // The code that proved it is spent.
    expect((await signIn(code())).status).toBe(403);
    travel(31);
    // Shown twice at the same moment it is good once.
    const both = await Promise.all([signIn(code()), signIn(code())]);
    expect(both.map(({ status }) => status).sort()).toEqual([200, 403]);
    expect((both.find(({ status }) => status === 200)!.body as Me).email).toBe(OWNER.email);
    // A spare one is good once, however it is typed.
    const spare = spares[0]!.toUpperCase().replace('-', ' ');
    expect([(await signIn(spare)).status, (await signIn(spare)).status]).toEqual([200, 403]);
    expect((await as('get', '/api/me/second-factor').expect(200)).body).toEqual({ on: true, sparesLeft: 9 });
  });

  test('while a screen is shared from a browser, no secret and no spare code is shown in it', async () => {
    const token = sessionToken({ headers: { cookie: station.cookie } } as never)!;
    const stages = station.app.get(StagesOnAir);
    const share = (sharing: boolean) =>
      stages.opened('a show', sharing ? { sessions: [digestOf(token)], sharing: [digestOf(token)] } : { sessions: [], sharing: [] }, () => false);
    share(true);
    const { body } = await as('post', '/api/me/second-factor', { password: OWNER.password }).expect(409);
    expect((body as { words: string }).words).toContain('Stop sharing first');
    await as('post', '/api/me/second-factor/spares', { password: OWNER.password }).expect(409);
    await as('put', '/api/me/second-factor', { code: code() }).expect(409);
    share(false);
  });

  test('wrong codes are waited for like wrong passwords, new spare codes end the old, and it is taken away with the password alone', async () => {
    const statuses: number[] = [];
    for (let tries = 0; tries < 8; tries++) statuses.push((await signIn('123123')).status);
    expect([statuses[0], statuses.at(-1)]).toEqual([403, 429]);
    station.forgetTries();
    const { spares } = (await as('post', '/api/me/second-factor/spares', { password: OWNER.password }).expect(201)).body as SpareCodes;
    expect((await signIn(spares[3])).status).toBe(200);
    await as('post', '/api/me/second-factor/away', { password: 'not this one' }).expect(403);
    await as('post', '/api/me/second-factor/away', { password: OWNER.password }).expect(204);
    await signIn().expect(200);
    await as('post', '/api/me/second-factor/spares', { password: OWNER.password }).expect(409);
  });
});
