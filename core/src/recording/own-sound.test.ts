/** Own sounds found again in a recording, on levels that are made here. */
import fc from 'fast-check';
import { inRecording } from './parts';
import { heardThere, lagAt, layBeside, LevelsOfSound, LEVEL_MS, type HeardThere } from './own-sound';

/** Somebody who speaks in words and pauses; the same seed says the same. */
function speech(seconds: number, seed: number): Float32Array {
  const levels = new Float32Array((seconds * 1_000) / LEVEL_MS);
  let state = seed * 2_654_435_761 + 1;
  const random = () => ((state = (state * 1_664_525 + 1_013_904_223) % 4_294_967_296), state / 4_294_967_296);
  for (let at = 0; at < levels.length;) {
    const [word, pause] = [5 + Math.floor(random() * 40), 3 + Math.floor(random() ** 3 * 90)];
    const loud = 0.02 + random() * 0.15;
    for (let end = Math.min(levels.length, at + word); at < end; at++) levels[at] = loud * (0.6 + random() * 0.4);
    at += pause;
  }
  return levels;
}

/** A recording of so many seconds in which each take is heard from its moment (ms) on. */
function mixed(seconds: number, ...takes: { take: Float32Array; atMs: number; faster?: number }[]): Float32Array {
  const mix = new Float32Array((seconds * 1_000) / LEVEL_MS).fill(0.001);
  for (const { take, atMs, faster = 1 } of takes)
    for (let at = 0; at < take.length; at++) {
      const place = Math.round(atMs / LEVEL_MS + at / faster);
      if (place >= 0 && place < mix.length) mix[place] = Math.hypot(mix[place]!, take[at]!);
    }
  return mix;
}

const found = (own: Float32Array, recording: Float32Array, atMs: number): HeardThere[] =>
  [...heardThere(own, recording, (ms) => ms + atMs)].filter((each) => each !== null);

test('a voice is found to a hundredth of a second, wherever it stands between two others who speak as well', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1_000 }), fc.integer({ min: -190, max: 590 }), fc.integer({ min: 0, max: 300 }), (seed, lag, at) => {
      const own = speech(60, seed);
      const recording = mixed(
        180,
        { take: own, atMs: 40_000 + at * 100 + lag * LEVEL_MS },
        { take: speech(60, seed + 1), atMs: 10_000 },
        { take: speech(40, seed + 2), atMs: 100_000 },
      );
      const heard = found(own, recording, 40_000 + at * 100);
      expect(lagAt(heard, 0, 9_999)).toBe(lag * LEVEL_MS);
    }),
    { numRuns: 40 },
  );
});

test('whoever is not in the recording, says nothing, or says the same over and over, is not said to be heard', () => {
  const own = speech(60, 7);
  expect(found(own, mixed(120, { take: speech(60, 8), atMs: 20_000 }), 20_000)).toEqual([]);
  expect(found(new Float32Array(6_000).fill(0.0005), mixed(120), 20_000)).toEqual([]);
  const ticking = Float32Array.from({ length: 6_000 }, (_, at) => (at % 100 < 50 ? 0.1 : 0));
  expect(found(ticking, mixed(120, { take: ticking, atMs: 20_000 }), 20_000)).toEqual([]);
  expect(found(own.subarray(0, 500), mixed(120, { take: own, atMs: 20_000 }), 20_000)).toEqual([]);
  expect([...heardThere(own, mixed(120), () => null)].every((each) => each === null)).toBe(true);
  expect(lagAt([], 0, 340)).toBe(340);
});

test('one that is found wrongly is outvoted by those around it', () => {
  const heard = [100, 100, 4_000, 110, 110, 120].map((lagMs, at) => ({ atMs: at * 20_000, lagMs }));
  expect(lagAt(heard, 40_000, 0)).toBe(110);
});

test('clocks that go alike leave it in one piece; one that runs off is set right where nobody speaks, and nothing is left out twice', () => {
  const own = speech(600, 3);
  const plain = layBeside(
    own,
    (ms) => ms + 5_000,
    () => 250,
  );
  expect(plain).toEqual([{ fromMs: 0, toMs: 600_000, atMs: 5_250 }]);
  // A tenth of a second in ten minutes.
  const faster = 1 + 0.1 / 600;
  const recording = mixed(700, { take: own, atMs: 5_300, faster });
  const heard = found(own, recording, 5_000);
  const laid = layBeside(
    own,
    (ms) => ms + 5_000,
    (ms) => lagAt(heard, ms, 0),
  );
  expect(laid.length).toBeGreaterThan(2);
  for (const [at, { fromMs, toMs, atMs }] of laid.entries()) {
    expect(fromMs).toBe(laid[at - 1]?.toMs ?? 0);
    for (const ms of [fromMs, toMs]) expect(Math.abs(atMs + ms - fromMs - (5_300 + ms / faster))).toBeLessThan(45);
    if (at > 0) expect(own[fromMs / LEVEL_MS]).toBe(0);
  }
  expect(laid.at(-1)!.toMs).toBe(600_000);
});

test('where the recording lacks a time in which a server was gone, the take goes on behind that where the recording does', () => {
  const own = speech(60, 11);
  const parts = [
    { fromMs: 0, atMs: 0, lengthMs: 40_000 },
    { fromMs: 47_000, atMs: 40_000, lengthMs: 60_000 },
  ];
  const byTheClocks = (ms: number) => inRecording(parts, 20_000 + ms);
  // Heard 0.2 s later.
  const recording = mixed(100, { take: own.subarray(0, 1_980), atMs: 20_200 }, { take: own.subarray(2_680), atMs: 40_000 });
  const heard = [...heardThere(own, recording, byTheClocks)].filter((each) => each !== null);
  expect(new Set(heard.map(({ lagMs }) => lagMs))).toEqual(new Set([200]));
  expect(layBeside(own, byTheClocks, (ms) => lagAt(heard, ms, 0))).toEqual([
    { fromMs: 0, toMs: 20_000, atMs: 20_200 },
    { fromMs: 27_000, toMs: 60_000, atMs: 40_200 },
  ]);
});

test('what stands nowhere in the recording is left out', () => {
  expect(
    layBeside(
      speech(90, 3),
      (ms) => (ms < 60_000 ? ms : null),
      () => 0,
    ).at(-1)!.toMs,
  ).toBe(60_000 - 20);
  expect(
    layBeside(
      speech(90, 3),
      () => null,
      () => 0,
    ),
  ).toEqual([]);
});

test('levels are told of samples that come in odd pieces', () => {
  const samples = Buffer.alloc(2 * 8_000);
  for (let at = 0; at < 8_000; at++) samples.writeInt16LE(at < 4_000 ? (at % 2 ? 16_384 : -16_384) : 0, at * 2);
  const meter = new LevelsOfSound(8_000);
  for (let at = 0; at < samples.length; at += 37) meter.push(samples.subarray(at, at + 37));
  expect(meter.levels).toHaveLength(100);
  expect(meter.levels[0]).toBeCloseTo(0.5);
  expect(meter.levels[99]).toBe(0);
});
