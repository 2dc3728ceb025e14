// Shows that get in each other's way beyond lines and channels: one person in two, one camera room in two.
import type { Instant } from '../time/instant';

export interface PlannedShow {
  showId: string;
  startsAt: Instant;
  lengthMs: number;
  /** Names of those who are on it. */
  people: readonly string[];
  /** Where the cameras stand; empty: not said. */
  room: string;
}

/** Two shows at the same time, the earlier first, that want the same person or room. */
export interface Meeting {
  what: 'person' | 'room';
  name: string;
  first: PlannedShow;
  second: PlannedShow;
}

const key = (name: string) => name.trim().toLocaleLowerCase('en');

/** Every meeting, in time n log n and the number of meetings. Shows that only touch do not meet. */
export function findMeetings(shows: readonly PlannedShow[]): Meeting[] {
  const wanted = new Map<string, { what: Meeting['what']; name: string; shows: PlannedShow[] }>();
  const want = (what: Meeting['what'], name: string, show: PlannedShow) => {
    if (!key(name)) return;
    const of = `${what} ${key(name)}`;
    const known = wanted.get(of);
    if (!known) wanted.set(of, { what, name: name.trim(), shows: [show] });
    else if (!known.shows.includes(show)) known.shows.push(show);
  };
  for (const show of shows) {
    for (const person of show.people) want('person', person, show);
    want('room', show.room, show);
  }
  const meetings: Meeting[] = [];
  for (const { what, name, shows: rivals } of wanted.values()) {
    rivals.sort((a, b) => a.startsAt - b.startsAt);
    let open: PlannedShow[] = [];
    for (const second of rivals) {
      open = open.filter(({ startsAt, lengthMs }) => startsAt + lengthMs > second.startsAt);
      for (const first of open) meetings.push({ what, name, first, second });
      open.push(second);
    }
  }
  return meetings;
}

/** Whom and what one show meets, each with the rival. Looks at no show that is not on at the same time. */
export function meetingsOf(show: PlannedShow, others: readonly PlannedShow[]): { meeting: Meeting; rival: PlannedShow }[] {
  const near = others.filter(
    ({ showId, startsAt, lengthMs }) => showId !== show.showId && startsAt < show.startsAt + show.lengthMs && show.startsAt < startsAt + lengthMs,
  );
  return findMeetings([...near, show]).flatMap((meeting) => {
    if (meeting.first !== show && meeting.second !== show) return [];
    return [{ meeting, rival: meeting.first === show ? meeting.second : meeting.first }];
  });
}

/** "Dr Oriel Vance is also in Members’ Evening at that time." */
export function sayMeeting({ what, name }: Pick<Meeting, 'what' | 'name'>, otherTitle: string): string {
  return what === 'person' ? `${name} is also in ${otherTitle} at that time.` : `${name} is also taken by ${otherTitle} at that time.`;
}
