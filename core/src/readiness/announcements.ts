// Telling people of a show: texts with their times and places. When each is due follows the show's start.
import { DAY_MS, HOUR_MS, instant, type Instant } from '../time/instant';

/** `placed`: as soon as the show is placed; `start`: when it goes on air; a number: so many ms before the start. */
export type AnnouncementTime = 'placed' | 'start' | number;

export interface Announcement {
  id: string;
  /** Where it is said: a mailing list, a board, a channel. */
  place: string;
  /** With placeholders. */
  text: string;
  time: AnnouncementTime;
  /** The channel on whose page it is posted by itself; null: it is said by hand. */
  channelId: string | null;
}

export const ANNOUNCEMENT_TIMES: readonly { time: AnnouncementTime; words: string }[] = [
  { time: 'placed', words: 'once the show is placed' },
  { time: 7 * DAY_MS, words: 'a week before' },
  { time: 3 * DAY_MS, words: 'three days before' },
  { time: DAY_MS, words: 'the day before' },
  { time: HOUR_MS, words: 'an hour before' },
  { time: 'start', words: 'when it starts' },
];

/** How an announcement stands at `now`: its time, null while it has none, and whether that is near or past. */
export interface AnnouncementStanding {
  announcement: Announcement;
  at: Instant | null;
  state: 'done' | 'later' | 'due' | 'late';
}

/** What is said late is still of use for a while, and then only reproaches. */
const DUE_FOR_MS = 12 * HOUR_MS;
const NEAR_MS = 12 * HOUR_MS;

/** All announcements of a show, the earliest first. `said`: those that were made, by identifier; `placedAt`: when it was placed, null while it is a draft. */
export function announcementsAt(
  announcements: readonly Announcement[],
  said: readonly string[],
  show: { startsAt: Instant; placedAt: Instant | null },
  now: Instant,
): AnnouncementStanding[] {
  return announcements
    .map((announcement): AnnouncementStanding => {
      const { id, time } = announcement;
      const at = time === 'placed' ? show.placedAt : time === 'start' ? show.startsAt : instant(show.startsAt - time);
      if (said.includes(id)) return { announcement, at, state: 'done' };
      if (at === null || now < at - NEAR_MS) return { announcement, at, state: 'later' };
      return { announcement, at, state: now > at + DUE_FOR_MS ? 'late' : 'due' };
    })
    .sort((a, b) => (a.at ?? -Infinity) - (b.at ?? -Infinity));
}
