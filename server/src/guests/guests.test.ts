// Guests: asked with a pass for one date, let in by it and by nothing else, told when the show is moved.
import type { DoorView, GuestPassLink, GuestView, ShowView } from '@lantern/contract';
import { HOUR_MS, MINUTE_MS } from '@lantern/core';
import { Clock } from '../foundation/clock';
import { OutboxService } from '../mail/outbox.service';
import { ContactsService } from '../contacts/contacts.service';
import { TestStation } from '../test/station';
import { GuestsService } from './guests.service';

let station: TestStation;
const GUEST = { name: 'Dr Oriel Vance', caption: 'observatory, southern sky', zone: 'America/Santiago', email: 'Oriel@Guests.example' };

beforeAll(async () => {
  station = await TestStation.open();
});
afterAll(() => station.close());

const drafted = async (title: string) => (await station.as(station.http().post('/api/shows')).send(station.draft([], { title }))).body as ShowView;
const ask = async (show: ShowView, body: object = GUEST, who?: string) => station.as(station.http().post(`/api/shows/${show.id}/guests`), who).send(body);
const passOf = async (show: ShowView, guest: GuestView): Promise<string> => {
  const { body } = await station.as(station.http().post(`/api/shows/${show.id}/guests/${guest.id}/pass`)).send({});
  return (body as GuestPassLink).url.split('#')[1]!;
};
const door = (path: string, body: object) => station.http().post(`/api/door${path}`).send(body);
async function asked(title: string, body: object = GUEST): Promise<{ show: ShowView; guest: GuestView; pass: string }> {
  const show = await drafted(title);
  const reply = await ask(show, body);
  expect(reply.status).toBe(201);
  const [guest] = reply.body as GuestView[];
  return { show, guest: guest!, pass: await passOf(show, guest!) };
}

test('a guest is asked by mail, in their own time, with a calendar file and a pass that no log sees', async () => {
  const { show, guest, pass } = await asked('Meteors over the fell');
  expect(guest).toMatchObject({ name: 'Dr Oriel Vance', email: 'oriel@guests.example', answer: 'asked', standing: 'asked', tried: null });
  await station.app.get(OutboxService).sendDue();
  const mail = station.mailsTo('oriel@guests.example')[0]!;
  expect(mail).toContain(`/door#${pass}`);
  expect(mail).toMatch(/Please come to the guest door half an hour before/);
  expect(mail).toContain('Content-Type: text/calendar');
  expect(mail).toMatch(/GMT-[34]|CLS?T/);
  const reply = await door('', { pass });
  expect(reply.body as DoorView).toMatchObject({
    name: 'Dr Oriel Vance',
    title: 'Meteors over the fell',
    zone: 'Europe/Dublin',
    comeAt: show.startsAt - 30 * MINUTE_MS,
  });
  // Whoever comes again is known by then.
  const contacts = await station.app.get(ContactsService).list((await station.database.query<{ id: string }[]>('SELECT id FROM stations'))[0]!.id);
  expect(contacts).toContainEqual(expect.objectContaining({ email: 'oriel@guests.example', caption: GUEST.caption, zone: GUEST.zone, groups: ['Guests'] }));
});

test('yes, no, another name on the strap and what was found when it was tried: the host sees each', async () => {
  const { show, guest, pass } = await asked('An answer', { name: 'Tomasz Wren' });
  const seen = async () => ((await station.as(station.http().get(`/api/shows/${show.id}/guests`))).body as GuestView[])[0];
  await door('/answer', { pass, answer: 'declined', word: 'I fly that day' });
  expect(await seen()).toMatchObject({ standing: 'declined', word: 'I fly that day' });
  await door('/strap', { pass, name: 'Tomasz Wren <b>', caption: 'meteor watcher' });
  await door('/tried', { pass, found: { camera: true, microphone: true, picture: '1280×720', uplinkKbps: null, echo: true } });
  // Whoever has said no is not taken for coming because they looked around.
  expect(await seen()).toMatchObject({ id: guest.id, standing: 'declined', name: 'Tomasz Wren <b>', caption: 'meteor watcher', tried: { echo: true } });
  await door('/answer', { pass, answer: 'accepted', word: '' });
  expect(await seen()).toMatchObject({ standing: 'tried out' });
});

test('a pass is good for its own date alone, and for nothing once it is withdrawn', async () => {
  const one = await asked('One evening', { name: 'Juno Hartsel' });
  const other = await asked('Another evening', { name: 'Juno Hartsel' });
  const guests = station.app.get(GuestsService);
  expect(await guests.whoIs(one.pass, one.show.id)).toMatchObject({ name: 'Juno Hartsel' });
  expect(await guests.whoIs(one.pass, other.show.id)).toBeNull();
  const removed = await station.as(station.http().delete(`/api/shows/${one.show.id}/guests/${one.guest.id}`));
  expect(removed.body).toEqual([]);
  expect(await guests.whoIs(one.pass, one.show.id)).toBeNull();
  expect((await door('', { pass: one.pass })).status).toBe(404);
  expect((await door('', { pass: other.pass })).status).toBe(200);
});

test.each([
  ['no name', { name: '' }],
  ['a name of 200 characters', { name: 'x'.repeat(200) }],
  ['no zone that there is', { name: 'A', zone: 'Mars/Olympus' }],
  ['no address', { name: 'A', email: 'nobody' }],
])('%s is refused, and nobody is asked', async (_, body) => {
  const show = await drafted('Nobody');
  expect((await ask(show, body)).status).toBe(400);
  expect((await station.as(station.http().get(`/api/shows/${show.id}/guests`))).body).toEqual([]);
});

test('asked twice is asked once; guesses at passes are stopped', async () => {
  const { show } = await asked('Twice', { name: 'Juno Hartsel', email: 'juno@guests.example' });
  const again = await ask(show, { name: 'Juno', email: 'juno@guests.example' });
  expect([again.status, (again.body as { words: string }).words]).toEqual([409, expect.stringContaining('asked already')]);
  const statuses = await Promise.all(
    Array.from({ length: 200 }, (_, at) => door('', { pass: `guess-${String(at).padStart(30, '0')}` }).then(({ status }) => status)),
  );
  expect(new Set(statuses)).toEqual(new Set([404, 429]));
  station.forgetTries();
});

test('a moved show tells its guests once the sheet has settled, and once only; one that is off as well', async () => {
  const { show } = await asked('To be moved', { name: 'Juno Hartsel', email: 'juno@moved.example', zone: 'Pacific/Auckland' });
  const guests = station.app.get(GuestsService);
  const outbox = station.app.get(OutboxService);
  const mails = async () => {
    await guests.tick();
    await outbox.sendDue();
    return station.mailsTo('juno@moved.example').length;
  };
  expect(await mails()).toBe(1);
  await station.database.query(`UPDATE shows SET startsAt = ?, changedAt = ? WHERE id = ?`, [
    show.startsAt + 2 * HOUR_MS,
    station.app.get(Clock).now(),
    show.id,
  ]);
  expect(await mails()).toBe(1);
  await station.database.query(`UPDATE shows SET changedAt = ? WHERE id = ?`, [station.app.get(Clock).now() - 6 * MINUTE_MS, show.id]);
  expect(await mails()).toBe(2);
  expect(await mails()).toBe(2);
  await station.database.query(`UPDATE shows SET state = 'withdrawn' WHERE id = ?`, [show.id]);
  expect(await mails()).toBe(3);
  expect(await mails()).toBe(3);
});

test('the public is told of a guest once they have said yes', async () => {
  const people = [
    { name: 'Maren Tolliver', role: 'host', zone: null },
    { name: 'Juno Hartsel', role: 'guest', zone: null },
    { name: 'Never Asked', role: 'guest', zone: null },
  ];
  const show = (await station.as(station.http().post('/api/shows')).send(station.draft([], { title: 'With speakers', people }))).body as ShowView;
  const [guest] = (await ask(show, { name: 'Juno Hartsel' })).body as GuestView[];
  const told = async () => (await station.app.get(GuestsService).publicPeople({ id: show.id, people: show.people })).map(({ name }) => name);
  expect(await told()).toEqual(['Maren Tolliver', 'Never Asked']);
  await door('/answer', { pass: await passOf(show, guest!), answer: 'accepted', word: '' });
  expect(await told()).toEqual(['Maren Tolliver', 'Juno Hartsel', 'Never Asked']);
});

test('on a full disk nobody is asked, and it is said why', async () => {
  const show = await drafted('A full disk');
  const full = Object.assign(new Error('ENOSPC: no space left on device'), { code: 'ENOSPC' });
  const post = jest.spyOn(station.app.get(OutboxService), 'postAll').mockRejectedValueOnce(full);
  const { status, body } = await ask(show);
  post.mockRestore();
  expect([status, (body as { words: string }).words]).toEqual([507, expect.stringMatching(/disk/i)]);
  expect((await station.as(station.http().get(`/api/shows/${show.id}/guests`))).body).toEqual([]);
  expect((await ask(show)).status).toBe(201);
});

test('moderators see who comes, and neither addresses nor passes', async () => {
  const { show, guest } = await asked('For moderators', { name: 'Juno Hartsel', email: 'juno@hidden.example' });
  const moderator = await station.person('moderator');
  const list = await station.as(station.http().get(`/api/shows/${show.id}/guests`), moderator);
  expect(list.body).toEqual([expect.objectContaining({ name: 'Juno Hartsel', email: null })]);
  expect((await station.as(station.http().post(`/api/shows/${show.id}/guests/${guest.id}/pass`), moderator).send({})).status).toBe(403);
});
