import fc from 'fast-check';
import { chaptersOf, chaptersOfCut, chaptersVtt } from './chapters';
import { partsOfCut } from './cut';
import { inRecording, type RecordedPart } from './parts';

/** Stretches of a recording that was broken off now and then: each begins where the one before ended, later in the programme. */
const someParts: fc.Arbitrary<RecordedPart[]> = fc
  .array(fc.record({ gap: fc.integer({ min: 0, max: 90_000 }), lengthMs: fc.integer({ min: 1, max: 600_000 }) }), { minLength: 1, maxLength: 5 })
  .map((all) => {
    let [fromMs, atMs] = [0, 0];
    return all.map(({ gap, lengthMs }) => {
      const part = { fromMs: fromMs + gap, atMs, lengthMs };
      [fromMs, atMs] = [part.fromMs + lengthMs, atMs + lengthMs];
      return part;
    });
  });

/** The moment of the programme that stands there in the recording. */
function inProgramme(parts: readonly RecordedPart[], recordingMs: number): number {
  const part = parts.find(({ atMs, lengthMs }) => recordingMs >= atMs && recordingMs < atMs + lengthMs)!;
  return part.fromMs + recordingMs - part.atMs;
}

test('there and back comes to the same, and what was not recorded stands where it goes on', () => {
  fc.assert(
    fc.property(someParts, fc.double({ min: 0, max: 1, maxExcluded: true, noNaN: true }), (parts, part) => {
      const length = parts.reduce((sum, { lengthMs }) => sum + lengthMs, 0);
      const recordingMs = Math.floor(length * part);
      expect(inRecording(parts, inProgramme(parts, recordingMs))).toBe(recordingMs);
      const last = parts.at(-1)!;
      expect(inRecording(parts, last.fromMs + last.lengthMs)).toBeNull();
      expect(inRecording(parts, parts[0]!.fromMs - 1)).toBe(0);
    }),
  );
});

test('chapters begin with the recording, come in order and not on top of each other', () => {
  fc.assert(
    fc.property(
      someParts,
      fc.array(fc.record({ programmeMs: fc.integer({ min: 0, max: 3_000_000 }), name: fc.string() }), { maxLength: 20 }),
      (parts, marks) => {
        const chapters = chaptersOf(marks, parts);
        chapters.forEach(({ atMs, name }, at) => {
          expect(name.trim()).not.toBe('');
          if (at) expect(atMs - chapters[at - 1]!.atMs).toBeGreaterThanOrEqual(at === 1 ? 0 : 5_000);
        });
        if (chapters.length) expect(chapters[0]!.atMs).toBe(0);
      },
    ),
  );
});

const PARTS = [{ fromMs: 2_000, atMs: 0, lengthMs: 600_000 }];

test('what comes before the first cue has a name; a cue that was passed over at once has none', () => {
  const marks = [
    { programmeMs: 62_000, name: 'Opening' },
    { programmeMs: 200_000, name: 'Skipped' },
    { programmeMs: 201_000, name: 'The comet' },
  ];
  expect(chaptersOf(marks, PARTS)).toEqual([
    { atMs: 0, name: 'Before it begins' },
    { atMs: 60_000, name: 'Opening' },
    { atMs: 199_000, name: 'The comet' },
  ]);
  expect(chaptersOf([{ programmeMs: 4_000, name: 'Opening' }], PARTS)).toEqual([{ atMs: 0, name: 'Opening' }]);
  expect(chaptersOf([{ programmeMs: 900_000, name: 'After the end' }], PARTS)).toEqual([]);
  expect(chaptersOf(marks, [])).toEqual([]);
});

test('as WebVTT nothing in a name is taken for anything else', () => {
  const chapters = [
    { atMs: 0, name: 'Ada & Wilf --> <b>here</b>' },
    { atMs: 3_723_004, name: 'The comet' },
  ];
  expect(chaptersVtt(chapters, 4_000_000)).toBe(
    'WEBVTT\n\n00:00:00.000 --> 01:02:03.004\nAda &amp; Wilf --&gt; &lt;b&gt;here&lt;/b&gt;\n\n01:02:03.004 --> 01:06:40.000\nThe comet\n',
  );
});

test('the first chapter of a cut begins with the card that stands before it', () => {
  const chapters = [
    { atMs: 0, name: 'Opening' },
    { atMs: 20_000, name: 'The comet' },
  ];
  const kept = [{ fromMs: 5_000, toMs: 30_000 }];
  expect(chaptersOfCut(chapters, partsOfCut(kept, 3_000), 60_000)).toEqual([
    { atMs: 0, name: 'Opening' },
    { atMs: 18_000, name: 'The comet' },
  ]);
});
