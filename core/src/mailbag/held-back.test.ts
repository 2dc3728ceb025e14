import { heldBecause, NO_RULES } from './held-back';

const rules = { words: ['snarkwit', 'go home', 'Blödmann', '  '], links: true };

test.each([
  ['you SNARKWIT!', 'word'],
  ['snarkwits all of you', null],
  ['snarkwiiiiit', null],
  ['sn\u0301arkwit', 'word'],
  ['Go, home.', 'word'],
  ['ogo home', null],
  ['so ein Blodmann', 'word'],
  ['Look at https://win.example/free', 'link'],
  ['write to fern@dome.example', 'link'],
  ['It was late.Then it rained', null],
  ['Good evening', null],
  ['', null],
])('“%s” is held back: %s', (words, because) => expect(heldBecause(words, rules)).toBe(because));

test('without rules nothing is, and without the rule on links none is for its link', () => {
  expect(heldBecause('snarkwit https://win.example', NO_RULES)).toBeNull();
  expect(heldBecause('https://win.example', { ...rules, links: false })).toBeNull();
});

test('a message that goes on for ever is looked at for no longer than a short one is read', () => {
  expect(heldBecause(`snarkwit ${'x '.repeat(500_000)}`, rules)).toBe('word');
});
