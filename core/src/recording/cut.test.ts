import fc from 'fast-check';
import { inRecording, type Passage } from './parts';
import { between, keptAt, keptOver, lengthOfParts, partsOfCut, piecesOf, recordedAt, tidyPassages, without } from './cut';

const LENGTH = 600_000;
const passages = fc
  .array(fc.tuple(fc.integer({ min: 0, max: LENGTH }), fc.integer({ min: 0, max: 60_000 })), { maxLength: 12 })
  .map((all) => all.map(([fromMs, length]): Passage => ({ fromMs, toMs: fromMs + length })));

test('what is typed in any order is kept in order, once, and within the recording', () => {
  expect(
    tidyPassages(
      [
        { fromMs: 50_000, toMs: 70_000 },
        { fromMs: -10, toMs: 10_000 },
        { fromMs: 9_000, toMs: 20_000 },
        { fromMs: 65_000, toMs: 90_000 },
        { fromMs: 30_000, toMs: 30_100 },
        { fromMs: 40_000, toMs: 35_000 },
      ],
      80_000,
    ),
  ).toEqual([
    { fromMs: 0, toMs: 20_000 },
    { fromMs: 50_000, toMs: 80_000 },
  ]);
});

test('a middle is left out, and what is left of a recording is the rest', () => {
  const kept = without([{ fromMs: 0, toMs: 60_000 }], { fromMs: 20_000, toMs: 30_000 }, 60_000);
  expect(kept).toEqual([
    { fromMs: 0, toMs: 20_000 },
    { fromMs: 30_000, toMs: 60_000 },
  ]);
  expect(between(kept, 70_000)).toEqual([
    { fromMs: 20_000, toMs: 30_000 },
    { fromMs: 60_000, toMs: 70_000 },
  ]);
});

test('every moment of a cut is one of the recording, and comes back to itself', () => {
  fc.assert(
    fc.property(passages, fc.integer({ min: 0, max: 10_000 }), fc.double({ min: 0, max: 1, noNaN: true }), (all, leadMs, share) => {
      const parts = partsOfCut(tidyPassages(all, LENGTH), leadMs);
      const length = lengthOfParts(parts);
      fc.pre(length > 0);
      const cutMs = leadMs + Math.floor(share * (length - 1));
      const recordingMs = recordedAt(parts, cutMs)!;
      expect(keptAt(parts, recordingMs)).toBe(cutMs);
      expect(inRecording(parts, recordingMs)).toBe(cutMs);
      expect(recordedAt(parts, leadMs + length)).toBeNull();
    }),
  );
});

test('captions keep their words and their order through any cut, and stand over no other than before', () => {
  fc.assert(
    fc.property(passages, passages, (kept, lines) => {
      const parts = partsOfCut(tidyPassages(kept, LENGTH));
      const captions = tidyPassages(lines, LENGTH).map((each, at) => ({ ...each, text: `Line ${at}` }));
      const after = keptOver(parts, captions);
      const length = lengthOfParts(parts);
      after.forEach(({ fromMs, toMs }, at) => {
        expect(fromMs).toBeGreaterThanOrEqual(after[at - 1]?.toMs ?? 0);
        expect(toMs).toBeGreaterThan(fromMs);
        expect(toMs).toBeLessThanOrEqual(length);
      });
      const heard = captions.filter(({ fromMs, toMs }) => parts.some((part) => fromMs < part.fromMs + part.lengthMs && toMs > part.fromMs));
      expect(after.map(({ text }) => text)).toEqual(heard.map(({ text }) => text));
    }),
  );
});

describe('what is copied', () => {
  /** Thirty a second for a minute, with a key frame every two seconds. */
  const atMs = Array.from({ length: 1_800 }, (_, at) => Math.round((at * 1_000) / 30));
  const keysAtMs = atMs.filter((_, at) => at % 60 === 0);
  const times = { atMs, keysAtMs, reordered: false };

  test('from the first key frame on to the very last picture', () => {
    expect(piecesOf({ fromMs: 3_000, toMs: 21_010 }, times)).toEqual([
      { how: 'encode', fromMs: 3_000, toMs: 4_000 },
      { how: 'copy', fromMs: 4_000, toMs: 21_010 },
    ]);
    expect(piecesOf({ fromMs: 4_000, toMs: 9_000 }, times)).toEqual([{ how: 'copy', fromMs: 4_000, toMs: 9_000 }]);
  });

  test('nothing of a short piece between two key frames', () => {
    expect(piecesOf({ fromMs: 4_200, toMs: 5_900 }, times)).toEqual([{ how: 'encode', fromMs: 4_200, toMs: 5_900 }]);
    expect(piecesOf({ fromMs: 59_990, toMs: 70_000 }, times)).toEqual([]);
  });

  test('where pictures are decoded in another order, only whole groups', () => {
    expect(piecesOf({ fromMs: 3_000, toMs: 21_000 }, { ...times, reordered: true })).toEqual([
      { how: 'encode', fromMs: 3_000, toMs: 4_000 },
      { how: 'copy', fromMs: 4_000, toMs: 20_000 },
      { how: 'encode', fromMs: 20_000, toMs: 21_000 },
    ]);
    expect(piecesOf({ fromMs: 4_000, toMs: 5_000 }, { ...times, reordered: true })).toEqual([{ how: 'encode', fromMs: 4_000, toMs: 5_000 }]);
    expect(piecesOf({ fromMs: 56_000, toMs: 90_000 }, { ...times, reordered: true })).toEqual([{ how: 'copy', fromMs: 56_000, toMs: 90_000 }]);
  });

  test('each picture of what is kept is there once, and no other', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 60_000 }), fc.integer({ min: 1, max: 60_000 }), fc.boolean(), (fromMs, length, reordered) => {
        const toMs = fromMs + length;
        const there = piecesOf({ fromMs, toMs }, { ...times, reordered }).flatMap((piece) => atMs.filter((ms) => ms >= piece.fromMs && ms < piece.toMs));
        expect(there).toEqual(atMs.filter((ms) => ms >= fromMs && ms < toMs));
      }),
    );
  });
});
