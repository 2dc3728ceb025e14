import { suggestionsFor, type SeenFrom, type SoundShape } from './suggestions';

/** A level for each stretch of so many seconds, in dB. */
const soundOf = (...parts: [seconds: number, db: number][]): SoundShape => ({
  everyMs: 100,
  levels: parts.flatMap(([seconds, db]) => Array<number>(seconds * 10).fill(db + 100)),
});
const SPEECH = -20;
const NOTHING = -80;

test('a show from the holding card to the goodbye, with a break in it', () => {
  const seen: SeenFrom[] = [
    { atMs: 0, what: 'holding' },
    { atMs: 20_000, what: 'show' },
    { atMs: 100_000, what: 'break card' },
    { atMs: 160_000, what: 'show' },
    { atMs: 220_000, what: 'closing' },
  ];
  // Music over the card, then silence, then words; a pause; words to five seconds before the closing card.
  const sound = soundOf([20, -25], [5, NOTHING], [75, SPEECH], [60, -30], [20, SPEECH], [6, NOTHING], [29, SPEECH], [25, NOTHING]);
  expect(suggestionsFor(240_000, seen, sound)).toEqual([
    { kind: 'begin', fromMs: 0, toMs: 24_400, why: 'The holding card stands there, and nobody speaks yet.' },
    { kind: 'break', fromMs: 100_000, toMs: 160_000, why: 'Viewers saw the break card for 1 min.' },
    { kind: 'end', fromMs: 216_500, toMs: 240_000, why: 'After the last words nothing more is said.' },
    { kind: 'silence', fromMs: 180_000, toMs: 186_000, why: 'Nothing is heard for 6 s.' },
  ]);
});

test('a show that needs no cut is left alone', () => {
  expect(suggestionsFor(60_000, [{ atMs: 0, what: 'show' }], soundOf([60, SPEECH]))).toEqual([]);
});

test('a knock before the first word is no word', () => {
  const sound: SoundShape = soundOf([10, NOTHING], [20, SPEECH]);
  (sound.levels as number[])[30] = 90;
  expect(suggestionsFor(30_000, [{ atMs: 0, what: 'show' }], sound)).toEqual([{ kind: 'begin', fromMs: 0, toMs: 9_400, why: 'Nobody speaks yet.' }]);
});

test('without any sound only what was seen is told', () => {
  const seen: SeenFrom[] = [
    { atMs: 0, what: 'holding' },
    { atMs: 10_000, what: 'show' },
    { atMs: 50_000, what: 'closing' },
  ];
  expect(suggestionsFor(60_000, seen, { everyMs: 100, levels: [] }).map(({ kind, fromMs, toMs }) => [kind, fromMs, toMs])).toEqual([
    ['begin', 0, 10_000],
    ['end', 50_000, 60_000],
  ]);
});
