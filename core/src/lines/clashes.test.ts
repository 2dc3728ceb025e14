import fc from 'fast-check';
import { DAY_MS, HOUR_MS, instant, MINUTE_MS } from '../time/instant';
import { readWallTime } from '../time/zones';
import { clashesOf, findClashes, HOLDING_MS, OVERRUN_MS, sayClash, waysOut, type Clash, type LinePlan, type LineUse } from './clashes';

const NOW = instant(Date.UTC(2026, 10, 24, 18));
let made = 0;
const use = (change: Partial<LineUse> = {}): LineUse => {
  made++;
  return {
    airingId: `a${made}`,
    showId: `s${made}`,
    channelId: 'library',
    lineId: 'hall',
    startsAt: instant(NOW + DAY_MS),
    lengthMs: HOUR_MS,
    onAir: false,
    stands: true,
    ...change,
  };
};
const plan = (...uses: LineUse[]): LinePlan => ({
  uses,
  lines: [
    { id: 'hall', channelId: 'library', singleUse: false },
    { id: 'dome', channelId: 'library', singleUse: false },
    { id: 'once', channelId: 'library', singleUse: true },
    { id: 'post', channelId: 'handle', singleUse: false },
  ],
  channels: [
    { id: 'library', severalAtOnce: true, startGridMs: 5 * MINUTE_MS },
    { id: 'handle', severalAtOnce: false, startGridMs: MINUTE_MS },
  ],
});
const told = (...uses: LineUse[]) => findClashes(plan(...uses), NOW).map(({ code, severity }) => `${code} ${severity}`);
const wall = (date: string, time: string) => {
  const reading = readWallTime({ date, time }, 'Europe/Dublin');
  if (reading.kind !== 'once') throw new Error('not a time');
  return reading.instant;
};
const after = (first: LineUse, gapMs: number) => instant(first.startsAt + first.lengthMs + gapMs);

test('two shows at one time need two lines, unless the channel takes one show only', () => {
  expect(told(use(), use())).toEqual(['line-shared objection']);
  expect(told(use(), use({ lineId: 'dome' }))).toEqual([]);
  expect(told(use(), use({ lineId: null }))).toEqual([]);
  expect(told(use({ channelId: 'handle', lineId: 'post' }), use({ channelId: 'handle', lineId: 'post' }))).toEqual(['channel-busy objection']);
});

test('shows that follow each other leave time for the holding card', () => {
  const first = use();
  expect(told(first, use({ startsAt: after(first, 0) }))).toEqual(['line-shared caution']);
  expect(told(first, use({ startsAt: after(first, HOLDING_MS - 1) }))).toEqual(['line-shared caution']);
  expect(told(first, use({ startsAt: after(first, HOLDING_MS) }))).toEqual([]);
});

test('a line for one show is promised once, however far apart the shows are', () => {
  const [first, second, third] = [use({ lineId: 'once' }), use({ lineId: 'once', startsAt: instant(NOW + 9 * DAY_MS) }), use({ lineId: 'once' })];
  const clashes = findClashes(plan(second, first, third), NOW);
  expect(clashes.map(({ code, first, second }) => [code, first.airingId, second.airingId])).toEqual([
    ['single-use-twice', first.airingId, third.airingId],
    ['single-use-twice', first.airingId, second.airingId],
  ]);
});

test('a line of another channel is found, alone or shared', () => {
  expect(told(use({ channelId: 'handle' }))).toEqual(['foreign-line objection']);
  expect(told(use(), use({ channelId: 'handle' })).sort()).toEqual(['foreign-line objection', 'line-shared objection']);
});

test('midnight and both clock changes: what meets is decided by instants, not by the clock on the wall', () => {
  const late = use({ startsAt: wall('2026-12-03', '23:30'), lengthMs: HOUR_MS });
  expect(told(late, use({ startsAt: wall('2026-12-04', '00:15') }))).toEqual(['line-shared objection']);
  expect(told(late, use({ startsAt: wall('2026-12-04', '00:40') }))).toEqual([]);
  // In March 00:30 to 02:30 on the wall lasts one hour only.
  const spring = use({ startsAt: wall('2027-03-28', '00:30'), lengthMs: HOUR_MS });
  expect(told(spring, use({ startsAt: wall('2027-03-28', '02:40') }))).toEqual([]);
  expect(told(use({ ...spring, lengthMs: 90 * MINUTE_MS }), use({ startsAt: wall('2027-03-28', '02:40') }))).toEqual(['line-shared objection']);
  // In October the hour from one to two comes twice: two hours of show end at 01:30, the second time.
  const autumn = use({ startsAt: wall('2027-10-31', '00:30'), lengthMs: 2 * HOUR_MS });
  expect(told(autumn, use({ startsAt: wall('2027-10-31', '02:00') }))).toEqual([]);
  expect(told(use({ ...autumn, lengthMs: 3 * HOUR_MS }), use({ startsAt: wall('2027-10-31', '02:00') }))).toEqual(['line-shared objection']);
});

test('a show that overruns holds its line until it is wrapped up', () => {
  const running = use({ startsAt: instant(NOW - 2 * HOUR_MS), onAir: true });
  expect(told(running, use({ startsAt: instant(NOW + 5 * MINUTE_MS) }))).toEqual(['line-shared objection']);
  expect(told(running, use({ startsAt: instant(NOW + OVERRUN_MS + 5 * MINUTE_MS) }))).toEqual(['line-shared caution']);
  expect(told({ ...running, onAir: false }, use({ startsAt: instant(NOW + 5 * MINUTE_MS) }))).toEqual([]);
  // On air before its time, it holds the line already.
  expect(told(use({ startsAt: instant(NOW + HOUR_MS), onAir: true }), use({ startsAt: instant(NOW - HOUR_MS), lengthMs: 61 * MINUTE_MS }))).toEqual([
    'line-shared objection',
  ]);
});

test('the ways out: another line, or the next start that is free on every channel of the show', () => {
  const [first, second] = [use(), use()];
  const busy = use({ lineId: 'dome', startsAt: instant(first.startsAt + 30 * MINUTE_MS) });
  const clash = findClashes(plan(first, second, busy), NOW).find(({ code }) => code === 'line-shared')!;
  expect(waysOut(clash, plan(first, second), NOW)).toEqual({ lineIds: ['dome', 'once'], startsAt: after(first, HOLDING_MS) });
  expect(waysOut(clash, plan(first, second, busy), NOW).lineIds).toEqual(['once']);
  const elsewhere = use({ showId: second.showId, channelId: 'handle', lineId: 'post' });
  const rival = use({ channelId: 'handle', lineId: 'post', startsAt: after(first, 0) });
  expect(waysOut(clash, plan(first, second, elsewhere, rival), NOW).startsAt).toBe(after(rival, HOLDING_MS));
});

test('a show sees itself as the one to be moved, and a mere draft as no more than a caution', () => {
  const [early, late] = [use(), use({ stands: false, startsAt: instant(use().startsAt + 10 * MINUTE_MS) })];
  const clashes = findClashes(plan(early, late), NOW);
  expect(clashesOf(early.showId, clashes)).toMatchObject([{ severity: 'caution', meet: 'shows', first: late, second: early }]);
  expect(clashesOf(late.showId, clashes)).toMatchObject([{ severity: 'objection', first: early, second: late }]);
  expect(clashesOf('another show', clashes)).toEqual([]);
});

test('the words name both shows, the line and the channel', () => {
  const [clash] = findClashes(plan(use(), use()), NOW);
  const names = { first: 'Dusk Report', second: 'Committee Stream', channel: 'Alderfell Sky Club', line: 'Hall encoder' };
  const words = sayClash(clash!, names);
  for (const name of Object.values(names)) expect(words).toContain(name);
});

// The oracle knows nothing of sorting: it holds every pair against the definition, minute by minute words aside.
const anyPlan = fc.record({
  uses: fc.array(
    fc.record({
      showId: fc.integer({ min: 0, max: 6 }).map((n) => `s${n}`),
      channelId: fc.constantFrom('library', 'handle', 'page'),
      lineId: fc.option(fc.constantFrom('hall', 'dome', 'once', 'post', 'gone'), { nil: null }),
      startsAt: fc.integer({ min: -30, max: 60 }).map((tenMinutes) => instant(NOW + tenMinutes * 10 * MINUTE_MS)),
      lengthMs: fc.integer({ min: 1, max: 300 }).map((minutes) => minutes * MINUTE_MS),
      onAir: fc.boolean(),
      stands: fc.boolean(),
    }),
    { maxLength: 24 },
  ),
});
function planned(uses: Omit<LineUse, 'airingId'>[]): LinePlan {
  const whole = plan(...uses.map((each, index) => ({ ...each, airingId: `a${String(index).padStart(2, '0')}` })));
  return { ...whole, channels: [...whole.channels, { id: 'page', severalAtOnce: false, startGridMs: 15 * MINUTE_MS }] };
}
function oracle({ uses, lines, channels }: LinePlan): string[] {
  const found: string[] = [];
  const line = (id: string | null) => lines.find((each) => each.id === id);
  const span = ({ startsAt, lengthMs, onAir }: LineUse) => {
    const end = startsAt + lengthMs;
    return {
      start: onAir ? Math.min(startsAt, NOW) : startsAt,
      early: Math.min(startsAt - HOLDING_MS, onAir ? NOW : Infinity),
      end: onAir && NOW >= end ? NOW + OVERRUN_MS : end,
    };
  };
  const order = [...uses].sort((a, b) => a.startsAt - b.startsAt || a.airingId.localeCompare(b.airingId));
  for (const [i, a] of order.entries()) {
    const own = line(a.lineId);
    if (own && own.channelId !== a.channelId) found.push(`foreign-line objection ${a.airingId} ${a.airingId}`);
    const firstOnLine = order.find((each) => each.lineId === a.lineId)!;
    if (own?.singleUse && firstOnLine !== a) found.push(`single-use-twice objection ${firstOnLine.airingId} ${a.airingId}`);
    for (const b of order.slice(i + 1)) {
      const [x, y] = [span(a), span(b)];
      const planned = x.start < y.end && y.start < x.end;
      if (!planned && !(x.early < y.end && y.early < x.end)) continue;
      const severity = planned ? 'objection' : 'caution';
      const one = a.channelId === b.channelId && !channels.find(({ id }) => id === a.channelId)!.severalAtOnce;
      if (one) found.push(`channel-busy ${severity} ${a.airingId} ${b.airingId}`);
      else if (a.lineId !== null && a.lineId === b.lineId && !own?.singleUse) found.push(`line-shared ${severity} ${a.airingId} ${b.airingId}`);
    }
  }
  return found.sort();
}
const written = ({ code, severity, first, second }: Clash) => `${code} ${severity} ${first.airingId} ${second.airingId}`;

test('finds exactly what a comparison of every pair finds', () => {
  fc.assert(
    fc.property(anyPlan, ({ uses }) => {
      const whole = planned(uses);
      expect(findClashes(whole, NOW).map(written).sort()).toEqual(oracle(whole));
    }),
    { numRuns: 600 },
  );
});

test('every way out that is offered removes the clash and makes no new one', () => {
  fc.assert(
    fc.property(anyPlan, ({ uses }) => {
      const whole = planned(uses);
      const before = findClashes(whole, NOW);
      for (const clash of before.slice(0, 4)) {
        const ways = waysOut(clash, whole, NOW);
        const concerns = (clashes: Clash[], is: (each: LineUse) => boolean) => clashes.filter(({ first, second }) => is(first) || is(second)).map(written);
        for (const lineId of ways.lineIds) {
          const changed = { ...whole, uses: whole.uses.map((each) => (each.airingId === clash.second.airingId ? { ...each, lineId } : each)) };
          const own = concerns(findClashes(changed, NOW), ({ airingId }) => airingId === clash.second.airingId);
          expect(own.filter((each) => !each.startsWith('channel-busy'))).toEqual([]);
        }
        if (ways.startsAt !== null && !whole.uses.some(({ showId, onAir }) => showId === clash.second.showId && onAir)) {
          const startsAt = ways.startsAt;
          const { showId } = clash.second;
          const changed = { ...whole, uses: whole.uses.map((each) => (each.showId === showId ? { ...each, startsAt } : each)) };
          const others = findClashes(changed, NOW).filter(({ first, second }) => (first.showId === showId) !== (second.showId === showId));
          expect(others.filter(({ code }) => code === 'channel-busy' || code === 'line-shared').map(written)).toEqual([]);
        }
      }
    }),
    { numRuns: 300 },
  );
});
