import { cuesAsTheyRan } from './as-it-ran';

const cue = (name: string, lengthS: number) => ({ id: name, name, lengthS, hardAt: null, who: '', notes: '' });
const CUES = [cue('Opening', 300), cue('The comet', 600), cue('Questions', 900), cue('Goodbye', 60)];

test('each is planned as long as it took, and what was not run stays as it was planned', () => {
  const ran = [
    { name: 'Opening', lengthMs: 251_000 },
    { name: 'The comet', lengthMs: 400_000 },
    { name: 'Questions', lengthMs: 700_000 },
    { name: 'The comet', lengthMs: 100_000 },
    { name: 'A cue of another day', lengthMs: 5_000 },
  ];
  expect(cuesAsTheyRan(CUES, ran).map(({ lengthS }) => lengthS)).toEqual([250, 500, 700, 60]);
});

test('one of which it is not known how long it took keeps its own', () => {
  expect(cuesAsTheyRan(CUES, [{ name: 'Goodbye', lengthMs: null }]).map(({ lengthS }) => lengthS)).toEqual([300, 600, 900, 60]);
  expect(cuesAsTheyRan(CUES, [{ name: 'Goodbye', lengthMs: 700 }]).at(-1)!.lengthS).toBe(5);
});
