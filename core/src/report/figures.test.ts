import { instant } from '../time/instant';
import { figuresOf, peakTogether, type AirSample } from './figures';

const at = (seconds: number, lamp: AirSample['lamp'], watching: number | null): AirSample => ({ at: instant(seconds * 1000), lamp, watching });

test('time lit and in trouble is counted from sample to sample', () => {
  const samples = [at(0, 'warm', 0), at(5, 'lit', 3), at(10, 'lit', 9), at(12, 'fault', 4), at(17, 'lit', 6), at(20, 'out', null)];
  expect(figuresOf(samples)).toEqual({ litMs: 10_000, faultMs: 5_000, peakWatching: 9, firstLitAt: 5_000 });
});

test('time in which nobody looked is not counted as lit', () => {
  expect(figuresOf([at(0, 'lit', 1), at(5, 'lit', 1), at(500, 'lit', 1), at(505, 'out', null)]).litMs).toBe(10_000);
});

test('the peak of all channels is of one moment, not the sum of peaks', () => {
  const reelmoor = [at(0, 'lit', 10), at(10, 'lit', 2)];
  const townfold = [at(4, 'lit', 1), at(12, 'lit', 7), at(20, 'out', null)];
  expect(peakTogether([reelmoor, townfold])).toBe(11);
  expect(peakTogether([[at(0, 'warm', null)]])).toBeNull();
  expect(figuresOf([])).toEqual({ litMs: 0, faultMs: 0, peakWatching: null, firstLitAt: null });
});
