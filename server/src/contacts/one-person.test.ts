// What is kept of one person: told to those who write to people, removed whole, and nothing of anybody else.
import type { PersonKept, ShowView } from '@lantern/contract';
import { mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { SETTINGS, type Settings } from '../foundation/settings';
import { Guest } from '../guests/guest.entities';
import { Invitation } from '../invitations/invitation.entities';
import { Mail } from '../mail/mail.entities';
import { laidName, takeName } from '../media/own-sound-files';
import { recordingFolder } from '../media/stretch';
import { Registration, Subscription } from '../reminders/reminder.entities';
import { Show } from '../shows/show.entities';
import { TestStation } from '../test/station';

const guestId = (at: number) => `${at}0000000-0000-4000-8000-00000000000a`;
const ADA = 'ada@people.example';
let station: TestStation;
let show: ShowView;
const ask = (email: string) => station.as(station.http().post('/api/person')).send({ email });
const kept = async (email: string) => (await ask(email).expect(200)).body as PersonKept;
const remove = async (email: string) => (await station.as(station.http().post('/api/person/removal')).send({ email }).expect(200)).body as PersonKept;
const counts = ({ parts }: PersonKept) => Object.fromEntries(parts.map(({ what, rows }) => [what, rows.length]));

beforeAll(async () => {
  station = await TestStation.open();
  show = (await station.as(station.http().post('/api/shows')).send(station.draft([])).expect(201)).body as ShowView;
  const stationId = (await station.database.getRepository(Show).findOneByOrFail({ id: show.id })).stationId;
  const rows = <T extends object>(make: (email: string, at: number) => T) => [ADA, 'bram@people.example'].map(make);
  const told = { toldStart: 0, told: '' };
  for (const [name, email] of [
    ['Ada Fenn', 'Ada@people.example'],
    ['Bram Kestrel', 'bram@people.example'],
  ])
    await station
      .as(station.http().post('/api/contacts'))
      .send({ name, email, groups: ['Members'] })
      .expect(201);
  await station.database.getRepository(Invitation).insert(
    rows((email, at) => ({
      id: `i${at}`,
      showId: show.id,
      name: 'Somebody',
      email,
      tokenHash: `secret-${at}`,
      answer: 'accepted' as const,
      invitedAt: 1,
      cameAt: 5,
      ...told,
    })),
  );
  await station.database
    .getRepository(Registration)
    .insert(rows((email, at) => ({ id: `r${at}`, showId: show.id, email, zone: 'UTC', tokenHash: `secret-r${at}`, askedAt: 1, confirmedAt: 2, ...told })));
  await station.database
    .getRepository(Subscription)
    .insert(rows((email, at) => ({ id: `s${at}`, stationId, email, zone: 'UTC', tokenHash: `secret-s${at}`, askedAt: 1, confirmedAt: 2, toldUntil: 0 })));
  const guest = {
    showId: show.id,
    stationId,
    name: 'Somebody',
    caption: '',
    zone: null,
    answer: 'accepted' as const,
    word: 'Gladly',
    invitedAt: 1,
    toldStart: 0,
    ownSound: 'agreed' as const,
  };
  await station.database
    .getRepository(Guest)
    .insert(rows((email, at) => ({ id: guestId(at), email, tokenHash: `secret-g${at}`, tried: null, triedAt: null, leftAt: null, ...guest })));
  await station.database.getRepository(Mail).insert(
    rows((recipient, at) => ({
      ...{ id: `${at}0000000-0000-4000-8000-000000000000`, stationId, recipient, subject: 'Tonight', sealed: 'sealed-text', about: `a${at}` },
      ...{ dueAt: 9_999_999_999_999, sentAt: null, tries: 0, trouble: '' },
    })),
  );
});
afterAll(() => station.close());

test('all of it is told, and nothing that would let somebody in', async () => {
  const all = await kept('ADA@people.example');
  expect(counts(all)).toEqual({ contact: 1, invitations: 1, reminders: 1, news: 1, guest: 1, mails: 1 });
  expect(JSON.stringify(all)).not.toMatch(/secret-|sealed-text|bram/);
  expect(JSON.stringify(all)).toContain('Dusk Report');
  // As somebody can read it who is given it.
  expect(all.parts[0]!.rows[0]).toMatchObject({ groups: ['Members'] });
  expect(all.parts.find(({ what }) => what === 'invitations')!.rows[0]).toMatchObject({ cameAt: '1970-01-01T00:00:00.005Z' });
  expect((await kept('nobody@people.example')).parts).toEqual([]);
  await ask('nonsense').expect(400);
});

test('it is for those who write to people', async () => {
  await station.http().post('/api/person').send({ email: ADA }).expect(401);
});

test('removed, it is gone but for what a show to come stands on; a second press does no harm; others stay', async () => {
  const folder = join(station.folder, 'outbox');
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, '2026-11-20-00000000-0000-4000-8000-000000000000.eml'), 'To: ada');
  writeFileSync(join(folder, '2026-11-20-10000000-0000-4000-8000-000000000000.eml'), 'To: bram');
  const [one, two] = await Promise.all([remove(ADA), remove(ADA)]);
  expect([counts(one), counts(two)]).toEqual([{ guest: 1 }, { guest: 1 }]);
  expect(one.parts[0]!.stays).toContain('still to come');
  expect(readdirSync(folder)).toEqual(['2026-11-20-10000000-0000-4000-8000-000000000000.eml']);
  await station.database.getRepository(Show).update({ id: show.id }, { state: 'over', onAirSince: 1, endedAt: 2 });
  const sounds = recordingFolder(station.app.get<Settings>(SETTINGS), show.id);
  mkdirSync(sounds, { recursive: true });
  for (const at of [0, 1]) writeFileSync(join(sounds, takeName({ guestId: guestId(at), beganAt: 5, type: 'webm' })), 'sound');
  writeFileSync(join(sounds, laidName(guestId(0))), 'sound');
  expect((await remove(ADA)).parts).toEqual([]);
  expect(readdirSync(sounds)).toEqual([takeName({ guestId: guestId(1), beganAt: 5, type: 'webm' })]);
  expect(counts(await kept('bram@people.example'))).toEqual({ contact: 1, invitations: 1, reminders: 1, news: 1, guest: 1, mails: 1 });
});
