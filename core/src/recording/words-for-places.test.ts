import fc from 'fast-check';
import { wordsForPlace } from './words-for-places';

const replay = { title: 'Dusk Report', url: 'https://alderfell.example/on/dusk', chapters: [] };
const chapters = [
  { atMs: 0, name: 'Opening' },
  { atMs: 65_000, name: 'The comet' },
];

test('the chapters stand beneath it, as they are written in texts', () => {
  expect(wordsForPlace({ ...replay, chapters }, null)).toBe(
    'Thank you for watching “Dusk Report”. Here it is, to see again:\nhttps://alderfell.example/on/dusk\n\n00:00 Opening\n01:05 The comet',
  );
  expect(wordsForPlace({ ...replay, chapters: chapters.slice(0, 1) }, null)).not.toContain('Opening');
});

test('whatever the room, it fits and leads to the replay', () => {
  fc.assert(
    fc.property(fc.string(), fc.integer({ min: 40, max: 400 }), (title, most) => {
      const words = wordsForPlace({ ...replay, title, chapters }, most);
      expect(words.length).toBeLessThanOrEqual(most);
      expect(words).toContain(replay.url);
    }),
  );
});
