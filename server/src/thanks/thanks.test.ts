// Thanks: each person once, in the words for them, with the address of the replay and a way to hear no more.
import type { ShowView, ThanksView } from '@lantern/contract';
import { HOUR_MS } from '@lantern/core';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { SETTINGS, type Settings } from '../foundation/settings';
import { Invitation } from '../invitations/invitation.entities';
import { recordingFolder } from '../media/stretch';
import { RecordingRows } from '../recording/recording-rows';
import { Registration } from '../reminders/reminder.entities';
import { Show } from '../shows/show.entities';
import { TestStation } from '../test/station';

let station: TestStation;
let show: ShowView;
const read = async () => (await station.as(station.http().get(`/api/shows/${show.id}/thanks`)).expect(200)).body as ThanksView;
const send = (draft: object) => station.as(station.http().post(`/api/shows/${show.id}/thanks`)).send({ subject: 'Thank you', text: 'It was good.', ...draft });
const person = (id: string) => ({ id, showId: show.id, tokenHash: id, toldStart: 0, told: '' });

beforeAll(async () => {
  station = await TestStation.open();
  show = (await station.as(station.http().post('/api/shows')).send(station.draft([])).expect(201)).body as ShowView;
  const ended = Date.now();
  await station.database.getRepository(Show).update({ id: show.id }, { state: 'over', onAirSince: ended - HOUR_MS, endedAt: ended, houseReplay: true });
  await station.database.getRepository(Invitation).insert([
    { ...person('i1'), name: 'Ada Fenn', email: 'ada@people.example', answer: 'accepted', invitedAt: 1, cameAt: ended - 5 },
    { ...person('i2'), name: 'Bram Holt', email: 'bram@people.example', answer: 'accepted', invitedAt: 2, cameAt: null },
    { ...person('i3'), name: 'Cleo Marsh', email: 'cleo@people.example', answer: 'declined', invitedAt: 3, cameAt: null },
  ]);
  await station.database.getRepository(Registration).insert([
    { ...person('r1'), email: 'orla@people.example', zone: 'UTC', askedAt: 1, confirmedAt: 2 },
    { ...person('r2'), email: 'tam@people.example', zone: 'UTC', askedAt: 1, confirmedAt: null },
    { ...person('r3'), email: 'ada@people.example', zone: 'UTC', askedAt: 1, confirmedAt: 2 },
  ]);
});
afterAll(() => station.close());

test('nobody is thanked with a replay that is not there', async () => {
  expect(await read()).toMatchObject({ replayUrl: null });
  await send({ whom: 'came' }).expect(409);
  const folder = recordingFolder(station.app.get<Settings>(SETTINGS), show.id);
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, 'recording.mp4'), 'a film');
  await station.app.get(RecordingRows).become(show.id, { state: 'ready', lengthMs: 60_000 });
  expect((await read()).groups.map(({ whom, count, thanked }) => [whom, count, thanked])).toEqual([
    ['came', 1, 0],
    ['missed', 1, 0],
    ['registered', 1, 0],
    ['guests', 0, 0],
  ]);
});

test('each hears once, in their words, and can leave by one click', async () => {
  const { body } = await send({ whom: 'came', text: 'It was good to have you.' }).expect(200);
  expect((body as ThanksView).groups[0]).toMatchObject({ count: 1, thanked: 1 });
  // A second press writes nobody again.
  await Promise.all([send({ whom: 'missed' }), send({ whom: 'missed' }), send({ whom: 'registered' })]);
  const mails = await station.database.query(`SELECT recipient FROM mails WHERE subject = 'Thank you' ORDER BY recipient`);
  expect(mails).toEqual([{ recipient: 'ada@people.example' }, { recipient: 'bram@people.example' }, { recipient: 'orla@people.example' }]);
  await send({ whom: 'guests' }).expect(409);
  for (let tries = 0; tries < 100 && !station.mailsTo('orla@people.example').length; tries++) await new Promise((next) => setTimeout(next, 100));
  const [mail] = station.mailsTo('orla@people.example');
  expect(mail).toContain(show.houseUrl);
  expect(mail).toMatch(/List-Unsubscribe:\s+<http/);
});

test('whoever was invited leaves by one click as well, and is thanked no more; their link stays', async () => {
  for (let tries = 0; tries < 100 && !station.mailsTo('bram@people.example').length; tries++) await new Promise((next) => setTimeout(next, 100));
  const [mail] = station.mailsTo('bram@people.example');
  const leave = new URL(/List-Unsubscribe:\s+<(http[^>]+)>/.exec(mail!)![1]!).pathname;
  const count = async () => (await read()).groups.find(({ whom }) => whom === 'missed')!.count;
  expect(await count()).toBe(1);
  // Only a press leaves: programs that look into mails follow every link.
  // Nothing is said to be forgotten that is not: their invitation stays.
  expect((await station.http().get(leave).expect(200)).text).not.toContain('forgotten');
  expect(await count()).toBe(1);
  for (let press = 0; press < 2; press++) expect((await station.http().post(leave).expect(200)).text).not.toContain('forgotten');
  expect(await count()).toBe(0);
  expect(await station.database.getRepository(Invitation).countBy({ showId: show.id })).toBe(3);
});

test.each([
  ['nobody known', { whom: 'everybody' }],
  ['no words', { whom: 'came', text: '' }],
  ['a subject of two lines', { whom: 'came', subject: 'A\nBcc: x@y.example' }],
])('thanks to %s are refused', async (_, draft) => {
  await send(draft).expect(400);
});
