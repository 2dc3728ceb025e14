// Parting a series at one of its dates: what was stays as it was, and another rule holds from then on.
import { datesOf, type Repeat } from './repeat';
import { dateOfDay, dayNumber } from '../time/days';

/** How many dates the pattern of a rule has before `date`: dropped ones count, added ones do not (as COUNT of RFC 5545 does). */
export function patternDatesBefore(repeat: Repeat, date: string): number {
  if (!repeat.pattern) return 0;
  return datesOf({ ...repeat, also: [], dropped: [] }, repeat.from, dayBefore(date)).length;
}

const dayBefore = (date: string): string => dateOfDay(dayNumber(date)! - 1);

/**
 * Parts `before` at `date`, which lies after its first day. `next` is the rule from there on as the host wrote it; where it counts,
 * the count is that of the whole series, so that a rule that was not changed keeps all its dates. Refused, in words, where nothing would be left.
 */
export function splitRepeat(before: Repeat, date: string, next: Repeat): { earlier: Repeat; later: Repeat } | { refused: string } {
  const last = dayBefore(date);
  const until = before.ends.kind === 'until' && before.ends.date < last ? before.ends.date : last;
  const earlier: Repeat = {
    ...before,
    ends: { kind: 'until', date: until },
    also: before.also.filter((each) => each < date),
    dropped: before.dropped.filter((each) => each < date),
  };
  const later: Repeat = {
    ...next,
    from: date,
    also: next.also.filter((each) => each >= date),
    dropped: next.dropped.filter((each) => each >= date),
  };
  if (next.ends.kind !== 'count' || !next.pattern) return { earlier, later };
  const gone = patternDatesBefore(before, date);
  const count = next.ends.count - gone;
  if (count < 1) return { refused: `${gone} dates of this series lie before this one. Say more than ${gone} times in all, or choose a last date.` };
  return { earlier, later: { ...later, ends: { kind: 'count', count } } };
}
