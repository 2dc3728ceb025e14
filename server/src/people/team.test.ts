// The people of a station: who gets in by a mail, who is given another role, who is taken out, and how one gets back in.
import type { Me, TeamView } from '@lantern/contract';
import type { Role } from '@lantern/core';
import type request from 'supertest';
import { OutboxService } from '../mail/outbox.service';
import { Person, TeamPass } from './people.entities';
import { TestStation } from '../test/station';

let station: TestStation;
beforeEach(async () => (station = await TestStation.open()));
afterEach(() => station.close());

const PASSWORD = 'a lantern over the fell';
const as = (method: 'get' | 'post' | 'put' | 'delete', path: string, who?: string) => station.as(station.http()[method](path), who);
const nobody = (method: 'post' | 'get', path: string) => station.http()[method](path);
const team = async (who?: string) => (await as('get', '/api/team', who).expect(200)).body as TeamView;
const invite = (email: string, role: Role = 'producer', who?: string) => as('post', '/api/team/invitations', who).send({ email, role });
const cookieOf = ({ headers }: request.Response) => (headers['set-cookie'] as unknown as string[])[0]!;
const owner = () => station.database.getRepository(Person).findOneByOrFail({ role: 'owner' });

/** What a mail to somebody brought, once it is written. */
async function passIn(email: string, page: 'join' | 'new-password' = 'join'): Promise<string> {
  await station.app.get(OutboxService).sendDue();
  const mails = station.mailsTo(email);
  return new RegExp(`/${page}#(\\S+)`).exec(mails.at(-1)!)![1]!;
}
const join = (pass: string, name = 'Idris Quayle') => nobody('post', '/api/join').send({ pass, name, password: PASSWORD });

test('somebody who is invited gets a mail, sees who asks, joins once, and is in the team as what they were asked for', async () => {
  const { body } = await invite('Idris@People.example').expect(201);
  expect((body as TeamView).invited).toMatchObject([{ email: 'idris@people.example', role: 'producer' }]);
  const pass = await passIn('idris@people.example');
  const seen = (await nobody('post', '/api/join/pass').send({ pass }).expect(200)).body;
  expect(seen).toMatchObject({ email: 'idris@people.example', role: 'producer', invitedBy: (await owner()).name });
  // Two presses at once: one person.
  const both = await Promise.all([join(pass), join(pass)]);
  expect(both.map(({ status }) => status).sort()).toEqual([201, 410]);
  const idris = cookieOf(both.find(({ status }) => status === 201)!);
  expect(((await as('get', '/api/me', idris).expect(200)).body as Me).role).toBe('producer');
  expect((await join(pass)).body.words).toContain('not good any more');
  const { people, invited } = await team();
  expect([people.map(({ name }) => name).includes('Idris Quayle'), invited]).toEqual([true, []]);
  await station.http().post('/api/session').send({ email: 'idris@people.example', password: PASSWORD }).expect(200);
  // Nobody else sees addresses, and only a digest of a pass is ever kept.
  expect((await team(idris)).people.filter(({ own, email }) => !own && email !== null)).toEqual([]);
  expect(JSON.stringify(await station.database.getRepository(TeamPass).find())).not.toContain(pass);
});

test('a pass is good for a week, not after it was taken back or asked for anew, and not for anything else', async () => {
  await invite('bea@people.example', 'moderator').expect(201);
  const first = await passIn('bea@people.example');
  expect((await invite('bea@people.example')).body.fields.email).toContain('only just now');
  station.travelTo(Date.now() + 5 * 60_000);
  await invite('bea@people.example', 'producer').expect(201);
  const second = await passIn('bea@people.example');
  expect((await join(first)).status).toBe(410);
  expect((await nobody('post', '/api/password/anew').send({ pass: second, password: PASSWORD })).status).toBe(410);
  const { id } = (await team()).invited[0]!;
  await as('delete', `/api/team/invitations/${id}`).expect(200);
  expect((await join(second)).status).toBe(410);
  station.travelTo(Date.now() + 20 * 60_000);
  await invite('bea@people.example').expect(201);
  const third = await passIn('bea@people.example');
  station.travelTo(Date.now() + 8 * 86_400_000);
  expect((await join(third)).status).toBe(410);
  expect((await team()).invited).toEqual([]);
});

test.each<[string, object, string]>([
  ['an address that is none', { email: 'nobody', role: 'producer' }, 'does not look like an email address'],
  ['a role that is none', { email: 'a@people.example', role: 'admin' }, 'Choose one of the roles'],
  ['somebody who is in the team', { email: 'PRODUCER-own@people.example', role: 'owner' }, 'is in the team already'],
  ['somebody of another station', { email: 'owner-elsewhere@people.example', role: 'owner' }, 'cannot be invited here'],
])('%s is not invited, and no mail goes out', async (_what, body, words) => {
  await station.person('producer');
  await station.person('owner', 'elsewhere');
  const { status, text } = await as('post', '/api/team/invitations').send(body);
  expect([status >= 400 && status < 500, text]).toEqual([true, expect.stringContaining(words)]);
  expect((await team()).invited).toEqual([]);
});

test('another role holds at once and ends what was open; the last owner stays one, also where two let go at the same moment', async () => {
  const producer = await station.person('producer');
  const { id } = (await team()).people.find(({ role }) => role === 'producer')!;
  await as('put', `/api/team/${id}/role`).send({ role: 'moderator' }).expect(404);
  const idris = await (async () => {
    await invite('idris@people.example').expect(201);
    return cookieOf(await join(await passIn('idris@people.example')).expect(201));
  })();
  const member = (await team()).people.find(({ name }) => name === 'Idris Quayle')!;
  await as('put', `/api/team/${member.id}/role`, producer).send({ role: 'owner' }).expect(403);
  await as('put', `/api/team/${member.id}/role`).send({ role: 'owner' }).expect(204);
  await as('get', '/api/me', idris).expect(401);
  const again = cookieOf(await station.http().post('/api/session').send({ email: 'idris@people.example', password: PASSWORD }).expect(200));
  const me = await owner();
  const letGo = await Promise.all([
    as('put', `/api/team/${member.id}/role`, again).send({ role: 'producer' }),
    as('put', `/api/team/${me.id}/role`).send({ role: 'producer' }),
  ]);
  expect(letGo.map(({ status }) => status).sort()).toEqual([204, 409]);
  expect(letGo.find(({ status }) => status === 409)!.body.words).toContain('is the only owner');
  expect(await station.database.getRepository(Person).countBy({ role: 'owner' })).toBe(1);
});

test('whoever is taken out is out of everything at once; what they did keeps standing; the only owner cannot be', async () => {
  await invite('idris@people.example').expect(201);
  const idris = cookieOf(await join(await passIn('idris@people.example')).expect(201));
  const member = (await team()).people.find(({ name }) => name === 'Idris Quayle')!;
  const last = await as('delete', `/api/team/${(await owner()).id}`).expect(409);
  expect(last.body.words).toContain('is the only owner');
  await as('delete', `/api/team/${member.id}`, idris).expect(403);
  await as('delete', `/api/team/${member.id}`).expect(204);
  await as('get', '/api/me', idris).expect(401);
  await station.http().post('/api/session').send({ email: 'idris@people.example', password: PASSWORD }).expect(401);
  await as('delete', `/api/team/${member.id}`).expect(404);
  const record = JSON.stringify((await as('get', '/api/audit').expect(200)).body);
  for (const words of ['Somebody who has left', 'invited idris@people.example as a producer', 'took Idris Quayle out of the team'])
    expect(record).toContain(words);
});

test('a forgotten password: nobody learns who is here, the pass is good once and for an hour, and every browser is signed out', async () => {
  await invite('idris@people.example').expect(201);
  const idris = cookieOf(await join(await passIn('idris@people.example')).expect(201));
  for (const email of ['nobody@people.example', 'idris@people.example']) await nobody('post', '/api/password/forgotten').send({ email }).expect(204);
  await station.app.get(OutboxService).sendDue();
  expect(station.mailsTo('nobody@people.example')).toEqual([]);
  const pass = await passIn('idris@people.example', 'new-password');
  // A second press sends no second mail.
  await nobody('post', '/api/password/forgotten').send({ email: 'idris@people.example' }).expect(204);
  expect(await passIn('idris@people.example', 'new-password')).toBe(pass);
  const common = await nobody('post', '/api/password/anew').send({ pass, password: 'password1234' });
  expect(common.body.fields.password).toContain('among the first');
  await nobody('post', '/api/password/anew').send({ pass, password: 'another lantern at dusk' }).expect(204);
  await as('get', '/api/me', idris).expect(401);
  expect((await nobody('post', '/api/password/anew').send({ pass, password: 'a third lantern at dusk' })).status).toBe(410);
  await station.http().post('/api/session').send({ email: 'idris@people.example', password: 'another lantern at dusk' }).expect(200);
  station.travelTo(Date.now() + 10 * 60_000);
  await nobody('post', '/api/password/forgotten').send({ email: 'idris@people.example' }).expect(204);
  const late = await passIn('idris@people.example', 'new-password');
  station.travelTo(Date.now() + 2 * 3_600_000);
  expect((await nobody('post', '/api/password/anew').send({ pass: late, password: 'a third lantern at dusk' })).status).toBe(410);
});

test('guessing passes is slow, and one’s own name can be put right', async () => {
  const tries: number[] = [];
  for (let at = 0; at < 14; at++) tries.push((await nobody('post', '/api/join/pass').send({ pass: `${'x'.repeat(40)}${at}` })).status);
  expect([tries[0], tries.at(-1)]).toEqual([410, 429]);
  const { body } = await as('put', '/api/me/name').send({ name: ' Maren Tolliver-Quayle ' }).expect(200);
  expect((body as Me).name).toBe('Maren Tolliver-Quayle');
  await as('put', '/api/me/name').send({ name: '' }).expect(400);
});
