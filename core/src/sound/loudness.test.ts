// Against the levels that the standards themselves give: ITU-R BS.1770-5 and EBU Tech 3341 (the cases by their numbers there).
import { gainTo, kWeighting, LoudnessMeter, loudnessVerdict, SILENCE_LUFS, type Loudness } from './loudness';

const RATE = 48_000;
/** What counts does not depend on the rate; a lower one is sooner measured. */
const LOW = { rate: 16_000 };
const amplitude = (db: number) => 10 ** (db / 20);

/** A meter after a stereo tone of so many dB relative to full scale for so many seconds, one part after the other. */
function after(parts: readonly [db: number, seconds: number][], { rate = RATE, hz = 1_000, right = true } = {}): Loudness {
  const meter = new LoudnessMeter(rate);
  let at = 0;
  for (const [db, seconds] of parts) {
    const left = Float32Array.from({ length: Math.round(rate * seconds) }, () => amplitude(db) * Math.sin((2 * Math.PI * hz * at++) / rate));
    meter.push([left, right ? left : new Float32Array(left.length)]);
  }
  return meter.read();
}

test('the weighting for 48 kHz is the one that is printed', () => {
  const [shelf, high] = kWeighting(RATE);
  expect([shelf.b0, shelf.b1, shelf.b2, shelf.a1, shelf.a2].map((value) => value.toFixed(10))).toEqual(
    [1.53512485958697, -2.69169618940638, 1.19839281085285, -1.69065929318241, 0.73248077421585].map((value) => value.toFixed(10)),
  );
  expect([high.a1, high.a2].map((value) => value.toFixed(10))).toEqual([-1.99004745483398, 0.99007225036621].map((value) => value.toFixed(10)));
});

test('a full tone of 997 Hz on the left alone is −3.01, whatever the rate', () => {
  for (const rate of [44_100, 48_000, 96_000]) expect(after([[0, 5]], { rate, hz: 997, right: false }).integrated).toBeCloseTo(-3.01, 1);
});

test.each([
  ['1', [[-23, 20]], -23],
  ['2', [[-33, 20]], -33],
  [
    '3',
    [
      [-36, 10],
      [-23, 60],
      [-36, 10],
    ],
    -23,
  ],
  [
    '4',
    [
      [-72, 10],
      [-36, 10],
      [-23, 60],
      [-36, 10],
      [-72, 10],
    ],
    -23,
  ],
  [
    '5',
    [
      [-26, 20],
      [-20, 20.1],
      [-26, 20],
    ],
    -23,
  ],
] as [string, [number, number][], number][])('case %s: the whole', (_case, parts, expected) => {
  expect(Math.abs(after(parts, LOW).integrated - expected)).toBeLessThanOrEqual(0.1);
});

test('cases 1 and 2: of the moment and of three seconds; three seconds after it has ended nothing is left of it', () => {
  const tone = after([[-23, 20]], LOW);
  expect([tone.momentary, tone.shortTerm].every((value) => Math.abs(value + 23) <= 0.1)).toBe(true);
  const ended = after(
    [
      [-23, 20],
      [-200, 0.5],
    ],
    LOW,
  );
  expect(ended.momentary).toBeLessThan(-60);
  expect(Math.abs(ended.shortTerm + 23)).toBeLessThan(1);
  expect(Math.abs(ended.integrated + 23)).toBeLessThanOrEqual(0.1);
  expect(
    after(
      [
        [-23, 20],
        [-200, 4],
      ],
      LOW,
    ).shortTerm,
  ).toBeLessThan(-60);
});

test('cases 15 to 18: a peak that lies between samples is found', () => {
  // A quarter of the rate, beginning at other phases; at 45 degrees no sample is higher than 0.707 of the peak.
  for (const [degrees, hz] of [
    [0, RATE / 4],
    [45, RATE / 4],
    [60, RATE / 6],
    [67.5, RATE / 8],
  ] as const) {
    const meter = new LoudnessMeter(RATE);
    const phase = (degrees / 180) * Math.PI;
    const tone = Float32Array.from({ length: RATE / 2 }, (_, at) => 0.5 * Math.sin((2 * Math.PI * hz * at) / RATE + phase) * Math.min(1, at / 4_800));
    meter.push([tone]);
    const { truePeakDb } = meter.read();
    expect(truePeakDb).toBeGreaterThan(-6 - 0.4);
    expect(truePeakDb).toBeLessThan(-6 + 0.2);
    // Read, it begins anew.
    expect(meter.read().truePeakDb).toBe(SILENCE_LUFS);
  }
});

test('pieces of any length come to the same, and what is restarted forgets the whole but not the moment', () => {
  const tone = Float32Array.from({ length: RATE * 3 }, (_, at) => 0.1 * Math.sin((2 * Math.PI * 440 * at) / RATE));
  const [whole, pieces] = [new LoudnessMeter(RATE), new LoudnessMeter(RATE)];
  whole.push([tone, tone]);
  for (let at = 0, size = 1; at < tone.length; at += size, size = (size * 7 + 3) % 500 || 1)
    pieces.push([tone.subarray(at, at + size), tone.subarray(at, at + size)]);
  const expected = whole.read();
  const found = pieces.read();
  for (const key of ['momentary', 'shortTerm', 'integrated', 'truePeakDb'] as const) expect(found[key]).toBeCloseTo(expected[key], 6);
  pieces.restart();
  expect(pieces.read()).toMatchObject({ integrated: SILENCE_LUFS, momentary: expect.closeTo(expected.momentary, 6) });
  expect(new LoudnessMeter(RATE).read()).toEqual({ momentary: SILENCE_LUFS, shortTerm: SILENCE_LUFS, integrated: SILENCE_LUFS, truePeakDb: SILENCE_LUFS });
});

test('what it means for who listens', () => {
  const of = (shortTerm: number, truePeakDb = -8, momentary = shortTerm) => loudnessVerdict({ shortTerm, momentary, truePeakDb, integrated: shortTerm });
  expect([of(-16), of(-22), of(-13)]).toEqual(['good', 'good', 'good']);
  expect([of(-26), of(-10), of(-16, -0.3), of(-90)]).toEqual(['too quiet', 'too loud', 'clips', 'silent']);
  // A pause within a sentence is no silence.
  expect(of(-20, -30, -90)).toBe('good');
});

test.each([
  [{ integrated: -9, truePeakDb: 0.3 }, -7],
  [{ integrated: -23, truePeakDb: -12 }, 7],
  // Its peaks leave no more room.
  [{ integrated: -30, truePeakDb: -3 }, 2],
])('a sound of %p is made %d dB louder', (came, gain) => {
  expect(gainTo(came)).toBe(gain);
});
