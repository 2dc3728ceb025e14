import { asPictureLines, sayPoll, shares, voteIn } from './polls';

const OPTIONS = ['The comet', 'Saturn', 'A double star'];

test.each<[string, number | null]>([
  ['A', 0],
  ['b', 1],
  ['  C!', 2],
  ['(b)', 1],
  ['“A.”', 0],
  ['Ｂ', 1],
  ['👍 c', 2],
  ['saturn', 1],
  ['A double STAR!!', 2],
  ['the comet', 0],
  ['D', null],
  ['a b', null],
  ['A comet would be fine', null],
  ['', null],
  ['!!', null],
  [`${'x'.repeat(60)} a`, null],
])('“%s” is answered: %s', (words, vote) => {
  expect(voteIn(words, OPTIONS)).toBe(vote);
});

test.each<[number[], number[]]>([
  [
    [0, 0],
    [0, 0],
  ],
  [
    [1, 1, 1],
    [34, 33, 33],
  ],
  [
    [2, 1],
    [67, 33],
  ],
  [
    [1, 199],
    [1, 99],
  ],
  [
    [0, 5],
    [0, 100],
  ],
])('of %j votes: %j per cent', (counts, said) => {
  expect(shares(counts)).toEqual(said);
});

test('shares add up to a hundred, and more votes are never a smaller share', () => {
  for (let run = 1; run < 200; run++) {
    const counts = [run % 7, (run * 13) % 31, (run * 7) % 11, run % 3];
    const said = shares(counts);
    expect(said.reduce((sum, share) => sum + share, 0)).toBe(100);
    for (const [one, count] of counts.entries())
      for (const [other, most] of counts.entries()) if (count > most) expect(said[one]).toBeGreaterThanOrEqual(said[other]!);
  }
});

test('it is written to channels with its letters', () => {
  expect(sayPoll('What first?', OPTIONS)).toBe('What first? A: The comet · B: Saturn · C: A double star. Answer with the letter.');
  expect(asPictureLines(['Yes', 'No'], [1, 0], 'closed')).toBe('1\tA  Yes\n0\tB  No\nclosed, 1 vote');
});
