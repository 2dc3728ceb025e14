import { DAY_MS, HOUR_MS, instant } from '../time/instant';
import { announcementsAt, type Announcement, type AnnouncementTime } from './announcements';

const START = instant(Date.UTC(2026, 11, 3, 20, 30));
const said: string[] = [];
const say = (time: AnnouncementTime, done = false): Announcement => {
  const id = `${time}${done ? ' said' : ''}`;
  if (done) said.push(id);
  return { id, place: 'Members’ mail', text: '{start}', time, channelId: null };
};
const at = (now: number, placedAt: number | null, ...announcements: Announcement[]) =>
  announcementsAt(announcements, said, { startsAt: START, placedAt: placedAt === null ? null : instant(placedAt) }, instant(now)).map(
    ({ announcement, state }) => `${announcement.time} ${state}`,
  );

test('what is said on placing waits for the placing, the rest for its time before the start', () => {
  expect(at(START - 5 * DAY_MS, null, say('placed'), say(3 * DAY_MS))).toEqual(['placed later', `${3 * DAY_MS} later`]);
  expect(at(START - 5 * DAY_MS, START - 5 * DAY_MS, say('placed'))).toEqual(['placed due']);
  expect(at(START - 3 * DAY_MS - HOUR_MS, null, say(3 * DAY_MS))).toEqual([`${3 * DAY_MS} due`]);
  expect(at(START - 2 * DAY_MS, null, say(3 * DAY_MS))).toEqual([`${3 * DAY_MS} late`]);
});

test('what was ticked off is done, and all stand in the order of their time', () => {
  expect(at(START + DAY_MS, START - 4 * DAY_MS, say('start', true), say(HOUR_MS), say('placed', true))).toEqual([
    'placed done',
    `${HOUR_MS} late`,
    'start done',
  ]);
});
