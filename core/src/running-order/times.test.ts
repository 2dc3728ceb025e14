import fc from 'fast-check';
import { instant, SECOND_MS } from '../time/instant';
import { sayDue, sayRunningOrder, sayStretch } from '../words/running-order';
import { dueAt, moved, nextAt, runningOrderTimes, toShorten, type Cue, type Evening } from './times';

const START = Date.UTC(2026, 11, 17, 20, 30);
const evening = (minutes: number): Evening => ({ startsAt: instant(START), endsAt: instant(START + minutes * 60_000), zone: 'UTC' });
const cue = (name: string, lengthS: number, hardAt: string | null = null): Cue => ({ id: name, name, lengthS, hardAt, who: '', notes: '' });
const clock = (at: number) => new Date(at).toISOString().slice(11, 19);

test('times run forwards from the start, and backwards from the end', () => {
  const { cues, stretches } = runningOrderTimes([cue('Opening', 180), cue('Sky tour', 1_500), cue('Closing', 120)], evening(40));
  expect(cues.map(({ startsAt, endsAt, endBy }) => [clock(startsAt), clock(endsAt), clock(endBy)])).toEqual([
    ['20:30:00', '20:33:00', '20:43:00'],
    ['20:33:00', '20:58:00', '21:08:00'],
    ['20:58:00', '21:00:00', '21:10:00'],
  ]);
  expect(stretches).toEqual([expect.objectContaining({ from: 0, to: 3, overMs: -600_000 })]);
});

test('a fixed time divides the evening: what is before it is over or under by itself, what is after it begins there', () => {
  const order = [cue('Opening', 600), cue('Talk', 3_000), cue('The pass', 60, '21:22:09'), cue('Closing', 120)];
  const { cues, stretches } = runningOrderTimes(order, evening(55));
  expect(clock(cues[2]!.startsAt)).toBe('21:22:09');
  expect(clock(cues[1]!.endBy)).toBe('21:22:09');
  expect(clock(cues[0]!.endBy)).toBe('20:32:09');
  expect(stretches.map(({ overMs }) => overMs)).toEqual([7 * 60_000 + 51_000, -111_000 + 120_000]);
  expect(stretches.map((stretch) => sayStretch(stretch, order, 'UTC'))).toEqual([
    '7:51 over before “The pass”, which begins at 21:22:09. Shorten “Talk” by 7:51.',
    '0:09 over at the end, 21:25. Shorten “Closing” by 0:09.',
  ]);
});

test('an evening without cues is all free; one that begins at a fixed time has its wait before it', () => {
  expect(runningOrderTimes([], evening(10))).toMatchObject({ cues: [], stretches: [{ overMs: -600_000 }] });
  const late = runningOrderTimes([cue('Pass', 60, '20:35')], evening(6));
  expect(late.stretches.map(({ begins, until, overMs }) => [clock(begins), clock(until), overMs])).toEqual([
    ['20:30:00', '20:35:00', -300_000],
    ['20:35:00', '20:36:00', 0],
  ]);
  expect([sayRunningOrder(late), sayRunningOrder(runningOrderTimes([], evening(10)))]).toEqual(['1 cue, 5:00 free.', 'Nothing is planned.']);
});

test('a fixed time is the next such on the clocks of the show, also past midnight and where they are put back', () => {
  expect(clock(nextAt('20:29', instant(START), 'UTC')! - START)).toBe('23:59:00');
  expect(nextAt('00:10', instant(START), 'UTC')).toBe(START + (3 * 60 + 40) * 60_000);
  // 25 October 2026: Dublin's clocks show 01:30 twice; whoever begins between the two means the second.
  const between = instant(Date.UTC(2026, 9, 25, 0, 45));
  expect(nextAt('01:30', between, 'Europe/Dublin')).toBe(Date.UTC(2026, 9, 25, 1, 30));
  // 28 March 2027: they never show 01:30.
  expect(nextAt('01:30', instant(Date.UTC(2027, 2, 27, 23)), 'Europe/Dublin')).toBe(null);
  expect(
    runningOrderTimes([cue('A', 60), cue('B', 60, '01:30')], { ...evening(5), startsAt: instant(Date.UTC(2027, 2, 27, 23)), zone: 'Europe/Dublin' }).stretches,
  ).toHaveLength(1);
});

test('what is over is taken from the longest, none to less than half; the rest is said', () => {
  const cues = [cue('Short', 60), cue('Long', 600), cue('Middle', 300)];
  expect(toShorten(cues, 100_400).by.map(({ cue: { name }, seconds }) => [name, seconds])).toEqual([['Long', 101]]);
  expect(toShorten(cues, 400_000).by.map(({ cue: { name }, seconds }) => [name, seconds])).toEqual([
    ['Long', 300],
    ['Middle', 100],
  ]);
  expect(toShorten(cues, 900_000).restMs).toBe(420_000);
  const all = [cue('Long', 600), cue('Middle', 300)];
  const [stretch] = runningOrderTimes(all, evening(5)).stretches;
  expect(sayStretch(stretch!, all, 'UTC')).toBe('10:00 over at the end, 20:35. Shorten “Long” by 5:00 and “Middle” by 2:30, and leave out 2:30 more.');
});

test('what is due by the plan: before, in, between and after the cues, and where one is over', () => {
  const times = runningOrderTimes([cue('Opening', 180), cue('Sky tour', 600), cue('Pass', 60, '20:40'), cue('', 60, '20:50')], evening(40));
  const at = (clockTime: string) => instant(Date.parse(`2026-12-17T${clockTime}Z`));
  expect(sayDue(times, at('20:20:00'), 'UTC')).toBe('Opening at 20:30.');
  expect(sayDue(times, at('20:30:00'), 'UTC')).toBe('Opening, 3:00 left; then Sky tour at 20:33.');
  // The tour would run until 20:43; the pass begins at its time.
  expect(sayDue(times, at('20:40:00'), 'UTC')).toBe('Pass, 1:00 left; then a cue without a name at 20:50.');
  expect(sayDue(times, at('20:45:00'), 'UTC')).toBe('A cue without a name at 20:50.');
  expect(sayDue(times, at('20:51:00'), 'UTC')).toBe('All cues are past.');
  expect(dueAt(times, at('20:50:30')).now?.cue.hardAt).toBe('20:50');
  // Planned so far over that a cue would begin only after the fixed time which follows it.
  const over = runningOrderTimes([cue('Talk', 3_600), cue('Questions', 300), cue('Pass', 600, '20:40'), cue('Closing', 60)], evening(40));
  expect(sayDue(over, at('20:41:00'), 'UTC')).toBe('Pass, 9:00 left; then Closing at 20:50.');
});

const cuesOf = fc.array(
  fc.record({ lengthS: fc.integer({ min: 0, max: 3_600 }), hard: fc.option(fc.integer({ min: 0, max: 20 * 3_600 }), { nil: null, freq: 4 }) }),
  { maxLength: 30 },
);

test('against an oracle that looks at each cue alone', () => {
  fc.assert(
    fc.property(cuesOf, fc.integer({ min: 1, max: 600 }), (drawn, minutes) => {
      // Fixed times in the order of the cues, as seconds after the start.
      const hards = drawn.flatMap(({ hard }) => (hard === null ? [] : [hard])).sort((a, b) => a - b);
      const order = drawn.map(({ lengthS, hard }, at) => {
        const fixed = hard === null ? null : hards.shift()!;
        return { ...cue(`c${at}`, lengthS, fixed === null ? null : clock(START + fixed * SECOND_MS)), fixed };
      });
      const { startsAt, endsAt } = evening(minutes);
      const { cues } = runningOrderTimes(order, evening(minutes));
      expect(cues).toHaveLength(order.length);
      order.forEach((own, at) => {
        // Forwards: from the nearest fixed time at or before it.
        let from = at;
        while (from > 0 && order[from]!.fixed === null) from -= 1;
        const begins = typeof order[from]?.fixed === 'number' ? startsAt + order[from]!.fixed! * SECOND_MS : startsAt;
        const sum = (some: typeof order) => some.reduce((all, { lengthS }) => all + lengthS * SECOND_MS, 0);
        expect(cues[at]!.startsAt).toBe(begins + sum(order.slice(from, at)));
        expect(cues[at]!.endsAt - cues[at]!.startsAt).toBe(own.lengthS * SECOND_MS);
        // Backwards: from the nearest fixed time after it, or the end.
        let to = at + 1;
        while (to < order.length && order[to]!.fixed === null) to += 1;
        const until = to < order.length ? startsAt + order[to]!.fixed! * SECOND_MS : endsAt;
        expect(cues[at]!.endBy).toBe(until - sum(order.slice(at + 1, to)));
      });
    }),
  );
});

test('moving keeps all of them, and puts the one where it was meant', () => {
  fc.assert(
    fc.property(fc.uniqueArray(fc.integer(), { minLength: 1 }), fc.nat(), fc.nat(), (items, one, other) => {
      const [from, to] = [one % items.length, other % items.length];
      const after = moved(items, from, to);
      expect([...after].sort()).toEqual([...items].sort());
      expect(after[to]).toBe(items[from]);
      expect(moved(after, to, from)).toEqual(items);
    }),
  );
});
