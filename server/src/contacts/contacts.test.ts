import type { ContactView, OutboxView, ShowView } from '@lantern/contract';
import { Show } from '../shows/show.entities';
import { OutboxService } from '../mail/outbox.service';
import { Mail } from '../mail/mail.entities';
import { TestStation } from '../test/station';

let station: TestStation;
beforeAll(async () => (station = await TestStation.open()));
afterAll(() => station.close());

const list = async (): Promise<ContactView[]> => (await station.as(station.http().get('/api/contacts')).expect(200)).body;
const add = (contact: object) =>
  station.as(
    station
      .http()
      .post('/api/contacts')
      .send({ groups: [], ...contact }),
  );
const bringIn = (text: string) => station.as(station.http().post('/api/contacts/table').send({ text }));

test('a contact is kept once by its address, changed, and taken out', async () => {
  await add({ name: ' Ada Fenn ', email: 'Ada@People.example', groups: ['Members', 'Dome team'] }).expect(201);
  const [ada] = await list();
  expect(ada).toMatchObject({ name: 'Ada Fenn', email: 'ada@people.example', groups: ['Members', 'Dome team'] });
  expect((await add({ name: 'Somebody', email: 'ADA@people.example' }).expect(409)).body.words).toContain('ada@people.example');
  await station
    .as(
      station
        .http()
        .put(`/api/contacts/${ada!.id}`)
        .send({ name: 'Ada F.', email: 'ada@people.example', groups: ['Members'] }),
    )
    .expect(200);
  expect(await list()).toMatchObject([{ name: 'Ada F.', groups: ['Members'] }]);
  await station.as(station.http().delete(`/api/contacts/${ada!.id}`)).expect(204);
  expect(await list()).toEqual([]);
});

test.each([
  ['a header within a name', { name: 'Ada\r\nBcc: all@people.example', email: 'ada@people.example' }],
  ['an address that is none', { name: 'Ada', email: 'ada' }],
  ['a header within a group', { name: 'Ada', email: 'ada@people.example', groups: ['a\nb'] }],
])('%s is refused', async (_name, contact) => {
  await add(contact).expect(400);
  expect(await list()).toEqual([]);
});

describe('a table', () => {
  test('is taken in whatever parts its cells, without doubling, and what cannot be taken is told by its line', async () => {
    const { body } = await bringIn(
      '\ufeffE-mail;Full name;Groups\r\nada@people.example;"Fenn; Ada";Members | Dome team\r\nnot an address;Bram;\r\n\r\nBRAM@people.example;Bram Holt;\r\n',
    ).expect(200);
    expect(body).toMatchObject({ added: 2, changed: 0, refused: [{ line: 3 }] });
    expect(await list()).toMatchObject([
      { name: 'Bram Holt', email: 'bram@people.example', groups: [] },
      { name: 'Fenn; Ada', groups: ['Members', 'Dome team'] },
    ]);
    const again = await bringIn('Name,Address,Groups\nBram Holt,bram@people.example,members\nAda Fenn,ada@people.example,members\n').expect(200);
    expect(again.body).toEqual({ added: 0, changed: 2, refused: [] });
    expect((await list()).map(({ name, groups }) => [name, groups])).toEqual([
      ['Ada Fenn', ['Members', 'Dome team']],
      ['Bram Holt', ['members']],
    ]);
  });

  test('that is given out can be brought in again, and runs nothing in a spreadsheet', async () => {
    await add({ name: '=HYPERLINK("x")', email: 'cleo@people.example' }).expect(201);
    const { text } = await station.as(station.http().get('/api/contacts.csv')).expect(200);
    expect(text).toContain(`"'=HYPERLINK(""x"")"`);
    const before = await list();
    expect((await bringIn(text).expect(200)).body).toMatchObject({ added: 0, refused: [] });
    expect((await list()).map(({ email, groups }) => [email, groups]).sort()).toEqual(before.map(({ email, groups }) => [email, groups]).sort());
  });

  test.each([
    ['without headings', 'Ada,ada@people.example\n', 'first line'],
    ['with a quotation mark that never ends', 'Name,Address\n"Ada,ada@people.example\n', 'cannot be read'],
    ['that is empty', '', 'first line'],
  ])('%s is refused in words', async (_name, text, words) => {
    const before = await list();
    expect((await bringIn(text).expect(400)).body.words).toContain(words);
    expect(await list()).toEqual(before);
  });

  test('of 5,001 people leaves everything as it was', async () => {
    const before = await list();
    const text = ['Address', ...Array.from({ length: 5_001 }, (_, at) => `p${at}@many.example`)].join('\n');
    expect((await bringIn(text).expect(409)).body.words).toContain('5,000');
    expect(await list()).toEqual(before);
  });
});

describe('mail', () => {
  let show: ShowView;
  beforeAll(async () => {
    show = (
      await station
        .as(
          station
            .http()
            .post('/api/shows')
            .send(station.draft([], { title: 'Evening no. {episode}', episode: 7, houseVisibility: 'invited people' })),
        )
        .expect(201)
    ).body;
  });
  const invite = (contactIds: string[]) => station.as(station.http().post(`/api/shows/${show.id}/invitations/contacts`).send({ contactIds }));
  const outbox = async (): Promise<OutboxView> => (await station.as(station.http().get('/api/mails')).expect(200)).body;

  test('goes to all contacts who were not invited before, once the show is placed', async () => {
    const ids = (await list()).map(({ id }) => id);
    expect((await invite(ids).expect(409)).body.words).toContain('Place the show first');
    await station.database.getRepository(Show).update({ id: show.id }, { state: 'placed' });
    expect((await invite(ids.slice(1)).expect(200)).body).toEqual({ invited: ids.length - 1, before: 0 });
    expect((await invite(ids).expect(200)).body).toEqual({ invited: 1, before: ids.length - 1 });
    const { mails, server } = await outbox();
    expect(server).toBe(false);
    expect(mails).toHaveLength(ids.length);
    expect(mails[0]!.subject).toContain('Evening no. 7');
    expect(JSON.stringify(mails)).not.toContain('pass=');
  });

  test('that could not be sent says why, and can be tried again at once', async () => {
    const mails = station.database.getRepository(Mail);
    // What is on its way first: it would be noted as sent over what is put there now.
    await station.app.get(OutboxService).sendDue();
    const [{ id }] = (await mails.find()) as [Mail];
    await mails.update({ id }, { sentAt: null, tries: 11, trouble: 'mailbox full', sealed: '' });
    expect((await outbox()).mails.find((mail) => mail.id === id)).toMatchObject({ state: 'given up', trouble: 'mailbox full' });
    await station.as(station.http().post(`/api/mails/${id}/again`)).expect(200);
    // Its text is gone, so it fails anew: told, not hidden.
    expect((await outbox()).mails.find((mail) => mail.id === id)).toMatchObject({ state: 'failing', trouble: expect.stringContaining('key file') });
    await station.app.get(OutboxService).sendDue();
    const sent = (await outbox()).mails.find((mail) => mail.state === 'sent')!;
    await station.as(station.http().post(`/api/mails/${sent.id}/again`)).expect(409);
  });

  test('and contacts are seen by owners and producers of this station alone', async () => {
    const [moderator, stranger] = [await station.person('moderator'), await station.person('owner', 'another-station')];
    for (const path of ['/api/contacts', '/api/contacts.csv', '/api/mails']) {
      await station.as(station.http().get(path), moderator).expect(403);
      await station.http().get(path).expect(401);
    }
    expect((await station.as(station.http().get('/api/contacts'), stranger).expect(200)).body).toEqual([]);
    expect((await station.as(station.http().get('/api/mails'), stranger).expect(200)).body.mails).toEqual([]);
    const [own] = await list();
    await station.as(station.http().put(`/api/contacts/${own!.id}`).send({ name: 'X', email: 'x@people.example', groups: [] }), stranger).expect(404);
  });
});
