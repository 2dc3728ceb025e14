import fc from 'fast-check';
import { instant } from '../time/instant';
import { findMeetings, meetingsOf, sayMeeting, type PlannedShow } from './meetings';

const someShow = fc.record({
  startsAt: fc.integer({ min: 0, max: 40 }).map((n) => instant(n)),
  lengthMs: fc.integer({ min: 1, max: 12 }),
  people: fc.array(fc.constantFrom('Maren Tolliver', 'maren tolliver ', 'Juno Hartsel', ''), { maxLength: 3 }),
  room: fc.constantFrom('Dome', 'dome', 'Shed', ''),
});
const meets = (a: PlannedShow, b: PlannedShow) => a.startsAt < b.startsAt + b.lengthMs && b.startsAt < a.startsAt + a.lengthMs;
const norm = (names: readonly string[]) => new Set(names.map((name) => name.trim().toLowerCase()).filter(Boolean));

test('finds what comparing every pair finds', () => {
  fc.assert(
    fc.property(fc.array(someShow, { maxLength: 14 }), (planned) => {
      const shows = planned.map((show, index) => ({ ...show, showId: String(index) }));
      const expected: string[] = [];
      shows.forEach((a, at) =>
        shows.slice(at + 1).forEach((b) => {
          if (!meets(a, b)) return;
          for (const name of norm(a.people)) if (norm(b.people).has(name)) expected.push(`person ${name} ${[a.showId, b.showId].sort().join()}`);
          for (const name of norm([a.room])) if (norm([b.room]).has(name)) expected.push(`room ${name} ${[a.showId, b.showId].sort().join()}`);
        }),
      );
      const found = findMeetings(shows).map(({ what, name, first, second }) => `${what} ${name.toLowerCase()} ${[first.showId, second.showId].sort().join()}`);
      expect(found.sort()).toEqual(expected.sort());
    }),
  );
});

test('is said with the name and the other show', () => {
  expect(sayMeeting({ what: 'person', name: 'Juno Hartsel' }, 'Junior Dome Hour')).toBe('Juno Hartsel is also in Junior Dome Hour at that time.');
});

test('one show meets whom a look at all shows says, told as its own', () => {
  fc.assert(
    fc.property(fc.array(someShow, { minLength: 1, maxLength: 10 }), (planned) => {
      const [own, ...others] = planned.map((show, index) => ({ ...show, showId: String(index) }));
      const expected = findMeetings([own!, ...others]).filter(({ first, second }) => first === own || second === own);
      const found = meetingsOf(own!, [...others, own!]);
      const key = ({ what, name, first, second }: (typeof expected)[number]) => `${what} ${name.toLowerCase()} ${[first.showId, second.showId].sort().join()}`;
      expect(found.map(({ meeting }) => key(meeting)).sort()).toEqual(expected.map(key).sort());
      for (const { rival } of found) expect(rival).not.toBe(own);
    }),
  );
});
