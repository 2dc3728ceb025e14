import fc from 'fast-check';
import { instant, SECOND_MS } from '../time/instant';
import { sayRunning } from '../words/running-order';
import { cueOnAt, ranLately, ranTogether, runningNow, type CueRan } from './running';
import { runningOrderTimes, type Cue } from './times';

const START = instant(Date.UTC(2026, 10, 26, 20, 30));
const cue = (id: string, lengthS: number, hardAt: string | null = null): Cue => ({ id, name: id, lengthS, hardAt, who: '', notes: '' });
const evening = (cues: Cue[], minutes = 40) => runningOrderTimes(cues, { startsAt: START, endsAt: instant(START + minutes * 60_000), zone: 'Europe/Dublin' });
const at = (seconds: number) => instant(START + seconds * SECOND_MS);
const PLAN = evening([cue('Opening', 120), cue('Planets', 600), cue('Junction', 300, '20:45'), cue('Closing', 120)], 22);

test('before anything has been begun nothing runs', () => {
  expect(runningNow(PLAN, [], at(30))).toBeNull();
});

test('a cue has its length from when it was begun, and what follows comes as late as it does', () => {
  const ran = [{ cue: 'Opening', at: at(10) }];
  const early = runningNow(PLAN, ran, at(70))!;
  expect([early.on!.cue.name, early.leftMs, early.next!.cue.name, early.lateMs]).toEqual(['Opening', 60_000, 'Planets', 10_000]);
  expect(sayRunning(early, 'Europe/Dublin')).toBe('Opening, 1:00 left; then Planets. 0:10 late.');
  const over = runningNow(PLAN, ran, at(170))!;
  expect([over.leftMs, over.lateMs]).toEqual([-40_000, 50_000]);
  expect(sayRunning(over, 'Europe/Dublin')).toBe('Opening, 0:40 over; then Planets. 0:50 late.');
});

test('a fixed time is waited for, and makes good what was late before it', () => {
  const planets = runningNow(PLAN, [{ cue: 'Planets', at: at(150) }], at(160))!;
  // Until 20:42:30, and the junction is at 20:45.
  expect([planets.next!.cue.name, planets.lateMs, planets.endsAt]).toEqual(['Junction', 0, at(22 * 60)]);
  expect(sayRunning(planets, 'Europe/Dublin')).toBe('Planets, 9:50 left; then Junction at 20:45. On time.');
  const late = runningNow(PLAN, [{ cue: 'Planets', at: at(400) }], at(410))!;
  expect([late.lateMs, late.endsAt]).toEqual([100_000, at(22 * 60 + 100)]);
});

test('after the last cue the end is measured against the plan', () => {
  const last = runningNow(PLAN, [{ cue: 'Closing', at: at(1_230) }], at(1_400))!;
  expect([last.next, last.leftMs, last.lateMs]).toEqual([null, -50_000, 80_000]);
  expect(sayRunning(last, 'Europe/Dublin')).toBe('Closing, 0:50 over. The end is 1:20 late.');
});

test('a cue that was taken out while it ran is passed over', () => {
  const without = evening([cue('Opening', 120), cue('Closing', 120)]);
  const ran = [
    { cue: 'Opening', at: at(0) },
    { cue: 'Planets', at: at(120) },
  ];
  const now = runningNow(without, ran, at(200))!;
  expect([now.on, now.next!.cue.name]).toEqual([null, 'Closing']);
  expect(sayRunning(now, 'Europe/Dublin')).toBe('What runs is in the running order no more; then Closing. 1:20 late.');
});

test('what would come at this pace agrees with going through the evening second by second', () => {
  const anyCues = fc.array(fc.record({ lengthS: fc.integer({ min: 0, max: 400 }), hard: fc.option(fc.integer({ min: 1, max: 39 }), { freq: 3 }) }), {
    minLength: 1,
    maxLength: 7,
  });
  fc.assert(
    fc.property(anyCues, fc.integer({ min: 0, max: 900 }), fc.integer({ min: 0, max: 900 }), (drafts, begunS, sinceS) => {
      const cues = drafts.map(({ lengthS, hard }, index) =>
        cue(String(index), lengthS, hard !== null && index > 0 ? `20:${String(30 + (hard % 30)).padStart(2, '0')}` : null),
      );
      const plan = evening(cues);
      const now = begunS + sinceS;
      const running = runningNow(plan, [{ cue: '0', at: at(begunS) }], at(now))!;
      // Somebody who takes each cue as soon as it may begin.
      let second = Math.max(now, begunS + cues[0]!.lengthS);
      cues.slice(1).forEach(({ lengthS, hardAt }) => {
        const fixed = hardAt === null ? null : (Number(hardAt.slice(3)) - 30) * 60;
        while (fixed !== null && second < fixed) second += 1;
        second += lengthS;
      });
      expect(running.endsAt).toBe(at(second));
    }),
    { seed: 7 },
  );
});

test('nothing is lost while one of two that speak is away, nothing is written twice, and nothing grows without a bound', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 1, max: 20 }), { minLength: 1, maxLength: 60 }),
      fc.array(fc.boolean(), { minLength: 60, maxLength: 60 }),
      (gaps, heard) => {
        const all: CueRan[] = [];
        let known: CueRan[] = [];
        let missed = 0;
        gaps.forEach((gap, index) => {
          all.push({ cue: String(index), at: (all.at(-1)?.at ?? 0) + gap });
          missed = heard[index] || missed > 15 || index === gaps.length - 1 ? 0 : missed + 1;
          if (!missed) known = ranTogether(known, ranLately(all));
        });
        expect(known).toEqual(all);
      },
    ),
    { seed: 3 },
  );
  const many = Array.from({ length: 900 }, (_, index) => ({ cue: 'again', at: index }));
  expect(ranTogether([], many)).toHaveLength(600);
});

test('which cue was on at a moment, by its name', () => {
  const cues = [
    { id: 'a', name: 'Opening ' },
    { id: 'b', name: 'The moon' },
  ];
  const ran = [
    { cue: 'a', at: 1_000 },
    { cue: 'b', at: 60_000 },
    { cue: 'gone', at: 90_000 },
  ];
  expect([999, 1_000, 59_999, 60_000, 95_000].map((at) => cueOnAt(cues, ran, at))).toEqual([null, 'Opening', 'Opening', 'The moon', null]);
});
