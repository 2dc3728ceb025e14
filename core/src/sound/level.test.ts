import { levelOf, meterShare } from './level';

const tone = (amplitude: number) => Float32Array.from({ length: 4800 }, (_, at) => amplitude * Math.sin((at * 2 * Math.PI) / 48));

test('a full sine has a peak of 0 dB and a mean of -3 dB', () => {
  const { peakDb, rmsDb } = levelOf(tone(1));
  expect(peakDb).toBeCloseTo(0, 2);
  expect(rmsDb).toBeCloseTo(-3.01, 2);
});

test('no sound at all is the floor, and the meter stays on its scale', () => {
  expect(levelOf(new Float32Array(0)).rmsDb).toBe(-90);
  expect([-90, -30, 6].map(meterShare)).toEqual([0, 0.5, 1]);
});
