import fc from 'fast-check';
import { checkCaptions } from './captions';
import { captionsOfNotes, type LiveNote } from './live-notes';

const AIR = 1_000_000;
const whole = [{ fromMs: 0, atMs: 0, lengthMs: 600_000 }];
const note = (seconds: number, words: string): LiveNote => ({ begunAt: AIR + seconds * 1_000, at: AIR + seconds * 1_000 + 3_000, words });

test('a note stands from when it was begun until it is read, or the next begins', () => {
  expect(captionsOfNotes([note(10, 'Good evening from the dome.'), note(30, 'Look to the west'), note(31.6, 'low down')], AIR, whole, 600_000)).toEqual([
    { fromMs: 10_000, toMs: 11_800, text: 'Good evening from the dome.' },
    { fromMs: 30_000, toMs: 31_500, text: 'Look to the west' },
    { fromMs: 31_600, toMs: 33_100, text: 'low down' },
  ]);
});

test('a long one is divided where it can be read', () => {
  const long =
    'The cloud has gone north and the fell is dark so give your eyes ten minutes before you judge the sky and look for the comet low down in the west';
  const captions = captionsOfNotes([note(10, long)], AIR, whole, 600_000);
  expect(captions).toHaveLength(2);
  expect(
    captions
      .map(({ text }) => text)
      .join(' ')
      .replaceAll('\n', ' '),
  ).toBe(long);
  expect(checkCaptions(captions, 600_000)).toEqual([]);
});

test('what was written before the show, or is not in the recording, is none', () => {
  const parts = [{ fromMs: 0, atMs: 0, lengthMs: 20_000 }];
  expect(captionsOfNotes([note(-5, 'Soon'), note(5, 'Now'), note(30, 'Gone')], AIR, parts, 20_000).map(({ text }) => text)).toEqual(['Now']);
});

test('whatever was written, captions are in order, within the recording, and none begins before the one before has gone', () => {
  const some = fc.record({ seconds: fc.double({ min: -10, max: 700, noNaN: true }), words: fc.string({ maxLength: 300 }) });
  fc.assert(
    fc.property(fc.array(some, { maxLength: 40 }), (notes) => {
      const captions = captionsOfNotes(
        notes.map(({ seconds, words }) => note(seconds, words)),
        AIR,
        whole,
        600_000,
      );
      captions.forEach(({ fromMs, toMs }, at) => {
        expect(fromMs).toBeLessThan(toMs);
        expect(toMs).toBeLessThanOrEqual(600_000);
        if (at) expect(fromMs).toBeGreaterThanOrEqual(captions[at - 1]!.toMs);
      });
    }),
  );
});
