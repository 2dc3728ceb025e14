import fc from 'fast-check';
import type { FlvTag } from '../flv/tags';
import { SILENT_MS, SourceSignal, STEADY_MS, switched, type SourceId, type SwitchState } from './switcher';

const picture = (timestampMs: number, key = false): FlvTag => ({ kind: 'video', timestampMs, data: Uint8Array.of(key ? 0x17 : 0x27, 1, 0, 0, 0, 1) });

function state(
  change: Partial<SwitchState> = {},
  stage: { lastAt: number | null; steadySince: number | null } = { lastAt: null, steadySince: null },
): SwitchState {
  return { on: null, chosen: 'stage', since: 0, been: new Set<SourceId>(['stage']), sources: new Map([['stage', stage]]), ...change };
}

test('the first picture is waited for, and then the card is shown until it comes', () => {
  expect(switched(state({ been: new Set() }), 300)).toEqual({ source: null, reason: 'nothing yet', lookAgainAt: SILENT_MS });
  expect(switched(state({ been: new Set() }), SILENT_MS)).toMatchObject({ source: 'break card', reason: 'nothing yet' });
  // A first picture need not prove itself, be the card on by then or not.
  const came = { lastAt: 5_000, steadySince: 5_000 };
  expect(switched(state({ on: 'break card', been: new Set() }, came), 5_010)).toMatchObject({ source: 'stage' });
});

test('a stage that falls silent gives the card, and comes back after two steady seconds', () => {
  expect(switched(state({ on: 'stage' }, { lastAt: 10_000, steadySince: 2_000 }), 11_499)).toMatchObject({ source: 'stage', lookAgainAt: 11_500 });
  expect(switched(state({ on: 'stage' }, { lastAt: 10_000, steadySince: 2_000 }), 11_500)).toMatchObject({ source: 'break card', reason: 'silent' });
  const back = { lastAt: 21_000, steadySince: 20_000 };
  expect(switched(state({ on: 'break card' }, back), 21_000)).toEqual({ source: 'break card', reason: 'not steady yet', lookAgainAt: 20_000 + STEADY_MS });
  expect(switched(state({ on: 'break card' }, { lastAt: 21_900, steadySince: 20_000 }), 21_900)).toMatchObject({ source: 'stage' });
});

test('a person’s choice wins over all: a break lasts however steady the stage is, and ends at once', () => {
  const steady = { lastAt: 9_990, steadySince: 0 };
  expect(switched(state({ on: 'stage', chosen: 'break card' }, steady), 10_000)).toEqual({ source: 'break card', reason: 'chosen', lookAgainAt: null });
  expect(switched(state({ on: 'break card' }, steady), 10_000)).toMatchObject({ source: 'stage' });
});

test('an outside line is chosen like the stage, and gives the card where nothing comes on it', () => {
  const sources = new Map<SourceId, { lastAt: number | null; steadySince: number | null }>([
    ['stage', { lastAt: 9_990, steadySince: 0 }],
    ['line:hall', { lastAt: 9_980, steadySince: 3_000 }],
  ]);
  expect(switched(state({ on: 'stage', chosen: 'line:hall', sources }), 10_000)).toMatchObject({ source: 'line:hall' });
  expect(switched(state({ on: 'stage', chosen: 'line:foyer', sources }), 10_000)).toMatchObject({ source: 'break card', reason: 'nothing yet' });
});

test('what is known to be gone is not waited for', () => {
  const signal = new SourceSignal();
  signal.note(picture(0, true), 100_000);
  signal.gone();
  expect(switched(state({ on: 'stage', sources: new Map([['stage', signal]]) }), 100_050)).toMatchObject({ source: 'break card', reason: 'silent' });
});

test('a source that catches up is not steady before it has', () => {
  const signal = new SourceSignal();
  signal.note(picture(0, true), 0);
  for (let at = 1; at <= 60; at++) signal.note(picture(at * 33, at % 30 === 0), at * 33);
  expect(signal.steadySince).toBe(0);
  // Ten seconds of silence, then all that was held back at once.
  for (let at = 61; at <= 360; at++) signal.note(picture(at * 33, at % 30 === 0), 12_000 + at);
  for (let at = 361; at <= 480; at++) signal.note(picture(at * 33, at % 30 === 0), 12_360 + (at - 360) * 33);
  expect(signal.steadySince).toBeGreaterThan(12_200);
});

test('whatever happens, what is shown is what was chosen or the card, and the card only where there is a reason', () => {
  const moment = fc.record({ stepMs: fc.integer({ min: 1, max: 900 }), comes: fc.boolean(), breaks: fc.constantFrom(true, false, null) });
  fc.assert(
    fc.property(fc.array(moment, { minLength: 20, maxLength: 200 }), (moments) => {
      const signal = new SourceSignal();
      const been = new Set<SourceId>();
      let on: SourceId | null = null;
      let chosen: SourceId = 'stage';
      let now = 0;
      let onSince = 0;
      for (const { stepMs, comes, breaks } of moments) {
        now += stepMs;
        if (comes) signal.note(picture(now, true), now);
        if (breaks !== null) chosen = breaks ? 'break card' : 'stage';
        const { source, lookAgainAt }: ReturnType<typeof switched> = switched({ on, chosen, since: 0, been, sources: new Map([['stage', signal]]) }, now);
        expect([chosen, 'break card', null]).toContain(source);
        if (source === 'stage') expect(now - signal.lastAt!).toBeLessThan(SILENT_MS);
        if (lookAgainAt !== null) expect(lookAgainAt).toBeGreaterThan(now);
        // What was lost does not flicker: it is back for good, or was pressed for, or stays away for two seconds.
        if (source === 'stage' && on === 'break card' && been.has('stage')) expect(now - signal.steadySince!).toBeGreaterThanOrEqual(STEADY_MS);
        if (source !== on) onSince = now;
        on = source;
        if (on) been.add(on);
      }
      expect(onSince).toBeLessThanOrEqual(now);
    }),
    { numRuns: 300, seed: 8 },
  );
});
