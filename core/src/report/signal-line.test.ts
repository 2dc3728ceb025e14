import fc from 'fast-check';
import { instant } from '../time/instant';
import { coarse, SIGNAL_EVERY_MS, signalOf, unbroken, type SignalSample } from './signal-line';

const sample = (at: number, pictures: number | null, kbps: number | null): SignalSample => ({ at: instant(at), pictures, kbps });

test('of some seconds the worst is told, and nothing where nothing was measured', () => {
  expect(signalOf([sample(0, 30, 2_500), sample(1, 12, null), sample(2, null, 800)], instant(9))).toEqual(sample(9, 12, 800));
  expect(signalOf([sample(0, null, null)], instant(9))).toBeNull();
  expect(signalOf([], instant(9))).toBeNull();
});

test('a long show is told in few samples, in order, and none of its worst moments is lost', () => {
  const some = fc
    .uniqueArray(fc.integer({ min: 0, max: 4_000 }), { minLength: 1, maxLength: 400 })
    .chain((places) =>
      fc.tuple(
        ...places.sort((a, b) => a - b).map((place) => fc.integer({ min: 0, max: 30 }).map((pictures) => sample(place * SIGNAL_EVERY_MS, pictures, null))),
      ),
    );
  fc.assert(
    fc.property(some, fc.integer({ min: 1, max: 50 }), (samples, most) => {
      const told = coarse(samples, most);
      expect(told.length).toBeLessThanOrEqual(Math.max(1, most));
      expect(told.map(({ at }) => at)).toEqual(told.map(({ at }) => at).sort((a, b) => a - b));
      expect(Math.min(...told.map(({ pictures }) => pictures!))).toBe(Math.min(...samples.map(({ pictures }) => pictures!)));
      expect(told.at(-1)!.at).toBe(samples.at(-1)!.at);
    }),
  );
});

test('where nothing was measured for a while there is no line', () => {
  const samples = [0, 10_000, 20_000, 95_000, 105_000].map((at) => sample(at, 30, 2_500));
  expect(unbroken(samples).map((each) => each.map(({ at }) => Number(at)))).toEqual([
    [0, 10_000, 20_000],
    [95_000, 105_000],
  ]);
});
