import fc from 'fast-check';
import { Limiter } from './limiter';
import { LoudnessMeter, MOST_TRUE_PEAK_DB } from './loudness';

const RATE = 48_000;

/** What comes out of it, in pieces as a browser gives them. */
function limited(input: Float32Array[], limiter = new Limiter(RATE)): Float32Array[] {
  const out = input.map(({ length }) => new Float32Array(length));
  for (let from = 0; from < input[0]!.length; from += 128)
    limiter.process(
      input.map((each) => each.subarray(from, from + 128)),
      out.map((each) => each.subarray(from, from + 128)),
    );
  return out;
}
const truePeakDb = (sound: Float32Array[]) => {
  const meter = new LoudnessMeter(RATE);
  meter.push(sound);
  return meter.read().truePeakDb;
};
const tone = (seconds: number, hertz: number, level: (second: number) => number) =>
  Float32Array.from({ length: seconds * RATE }, (_, at) => level(at / RATE) * Math.sin((2 * Math.PI * hertz * at) / RATE));

test('what stays below the ceiling comes out as it went in, a little later', () => {
  const sound = tone(0.5, 440, () => 0.8);
  const limiter = new Limiter(RATE);
  const [out] = limited([sound], limiter);
  for (let at = limiter.delay; at < sound.length; at++) expect(Math.abs(out![at]! - sound[at - limiter.delay]!)).toBeLessThan(1e-6);
  // Less than a hundredth of a second: nobody sees lips move too early.
  expect(limiter.delay / RATE).toBeLessThan(0.01);
});

test('no peak passes, between samples neither: tones, bursts that begin at once, and noise', () => {
  const burst = tone(0.6, 997, (second) => (second > 0.2 && second < 0.25 ? 3.5 : 0.3));
  // Between its samples this one is 3 dB higher than at them.
  const between = Float32Array.from({ length: RATE / 2 }, (_, at) => 1.2 * Math.sin((Math.PI / 2) * at + Math.PI / 4));
  for (const sound of [burst, between, tone(0.5, 60, () => 2)]) expect(truePeakDb(limited([sound]))).toBeLessThan(MOST_TRUE_PEAK_DB + 0.15);
  fc.assert(
    fc.property(fc.array(fc.double({ min: -4, max: 4, noNaN: true }), { minLength: 50, maxLength: 150 }), fc.integer({ min: 1, max: 60 }), (levels, hold) => {
      const sound = Float32Array.from({ length: levels.length * hold }, (_, at) => levels[Math.floor(at / hold)]! * Math.sin(at * 0.7));
      const samples = limited([sound, sound.map((each) => each / 2)]);
      const ceiling = 10 ** (MOST_TRUE_PEAK_DB / 20) + 1e-6;
      for (const channel of samples) for (const each of channel) if (Math.abs(each) > ceiling) throw new Error(`${each} passed`);
    }),
    { numRuns: 30, seed: 17 },
  );
});

test('after a burst the sound is as loud again as it was within a second', () => {
  const sound = tone(2, 440, (second) => (second < 0.3 ? 3 : 0.5));
  const [out] = limited([sound]);
  const highest = (from: number, to: number) => out!.subarray(from * RATE, to * RATE).reduce((most, each) => Math.max(most, Math.abs(each)), 0);
  expect(highest(1.4, 2)).toBeGreaterThan(0.499);
  // Without it the burst would be three times full scale.
  expect(highest(0.1, 0.3)).toBeLessThan(0.9);
});

test('a burst out of long quiet is caught as any other, and what was quiet before it is unchanged', () => {
  const sound = tone(3, 440, (second) => (second > 2 && second < 2.1 ? 3 : 0.2));
  const limiter = new Limiter(RATE);
  const [out] = limited([sound], limiter);
  expect(truePeakDb([out!])).toBeLessThan(MOST_TRUE_PEAK_DB + 0.15);
  for (let at = limiter.delay; at < 1.9 * RATE; at += 61) expect(Math.abs(out![at]! - sound[at - limiter.delay]!)).toBeLessThan(1e-6);
});

test('both channels are turned down alike, so that nobody moves across the picture', () => {
  const loud = tone(0.5, 440, () => 2);
  const [left, right] = limited([loud, loud.map((each) => each / 4)]);
  for (let at = 2_000; at < left!.length; at += 997) expect(right![at]! * 4).toBeCloseTo(left![at]!, 4);
});
