import fc from 'fast-check';
import { humShare, SoundWatch, type SoundVerdict } from './sound-watch';

const RATE = 48_000;
const BLOCK = 4_096;
const EVERY_MS = 160;
// Looked up once: there are millions of samples.
const { sin, floor, round, PI } = Math;

type Sound = (seconds: number) => number;
const silence: Sound = () => 0;
const tone =
  (hz: number, amplitude: number): Sound =>
  (seconds) =>
    amplitude * sin(2 * PI * hz * seconds);
const sum =
  (...all: Sound[]): Sound =>
  (seconds) =>
    all.reduce((value, sound) => value + sound(seconds), 0);
/** The same hiss each time. */
const hiss =
  (amplitude: number): Sound =>
  (seconds) => {
    const throwOf = sin(round(seconds * RATE) * 12.9898) * 43_758.5453;
    return amplitude * 2 * (throwOf - floor(throwOf) - 0.5);
  };
/** Words with pauses between them: a voice of so many Hz with its overtones. */
const speech =
  (hz: number, amplitude: number): Sound =>
  (seconds) =>
    seconds % 0.7 < 0.45 ? [1, 2, 3, 4, 5, 6, 8].reduce((value, multiple) => value + (amplitude / multiple) * sin(2 * PI * hz * multiple * seconds), 0) : 0;
const hum = (mains: number, amplitude: number) => sum(...[1, 2, 3].map((multiple) => tone(mains * multiple, amplitude / multiple)));

/** What was said of a sound over some seconds, each once in its order. */
function heard(watch: SoundWatch, left: Sound, right: Sound, seconds: number, from = 0): SoundVerdict[] {
  const said: SoundVerdict[] = [];
  for (let ms = from * 1_000; ms < (from + seconds) * 1_000; ms += EVERY_MS) {
    const block = (sound: Sound) => Float32Array.from({ length: BLOCK }, (_, at) => sound(ms / 1_000 + at / RATE));
    const verdict = watch.hear(block(left), block(right), RATE, ms);
    if (said.at(-1) !== verdict) said.push(verdict);
  }
  return said;
}
const both = (sound: Sound, seconds = 8) => heard(new SoundWatch(), sound, sound, seconds);

test.each<[string, Sound, SoundVerdict]>([
  ['nothing', silence, 'silent'],
  ['a hiss that nobody hears', hiss(0.0005), 'silent'],
  ['a tone', tone(1_000, 0.1), 'good'],
  ['what distorts', tone(1_000, 1), 'too loud'],
  ['a hiss', hiss(0.02), 'good'],
])('of %s it says what it is, and nothing else', (_what, sound, verdict) => {
  expect(both(sound)).toEqual([verdict]);
});

test.each([50, 60])('hum of mains of %d Hz is told beneath a voice and alone, once it has lasted', (mains) => {
  for (const sound of [hum(mains, 0.02), sum(hum(mains, 0.02), speech(190, 0.2)), sum(hum(mains, 0.02), hiss(0.004))]) {
    const said = both(sound, 9);
    expect([said[0], said.at(-1)]).toEqual(['good', 'humming']);
  }
  expect(both(hum(mains, 0.02), 3)).toEqual(['good']);
});

test('voices, high and low, and their pauses are no hum, whatever their pitch', () => {
  fc.assert(
    fc.property(fc.integer({ min: 85, max: 260 }), fc.double({ min: 0.05, max: 0.4, noNaN: true }), (hz, amplitude) => {
      expect(both(sum(speech(hz, amplitude), hiss(0.002)), 7)).not.toContain('humming');
    }),
    { numRuns: 6 },
  );
});

test('a side that stays silent is told, whichever it is; a voice that moves about is not, and what is put right is taken back', () => {
  const voice = sum(speech(150, 0.2), hiss(0.002));
  for (const [left, right] of [
    [voice, silence],
    [silence, voice],
    [voice, hiss(0.0001)],
  ] as const)
    expect(heard(new SoundWatch(), left, right, 8).at(-1)).toBe('one-sided');
  expect(heard(new SoundWatch(), voice, (seconds) => voice(seconds) * 0.3, 8)).not.toContain('one-sided');
  const watch = new SoundWatch();
  expect(heard(watch, voice, silence, 7).at(-1)).toBe('one-sided');
  // A pause says nothing of either side.
  expect(heard(watch, silence, silence, 5, 7).at(-1)).toBe('one-sided');
  expect(heard(watch, voice, voice, 5, 12).at(-1)).not.toBe('one-sided');
});

test('the share of hum is that of its tones: all of a pure one, little of a chord beside it', () => {
  const block = (sound: Sound) => Float32Array.from({ length: BLOCK }, (_, at) => sound(at / RATE));
  expect(humShare(block(hum(50, 0.1)), RATE)).toBeGreaterThan(0.9);
  expect(humShare(block(sum(tone(440, 0.1), tone(554, 0.1))), RATE)).toBeLessThan(0.02);
  expect(humShare(block(silence), RATE)).toBe(0);
});
