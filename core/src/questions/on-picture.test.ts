import { fitForPicture, LONGEST_ON_PICTURE } from './on-picture';

test.each([
  ['Is the comet green from Skelldale too?', 'Is the comet green from Skelldale too?'],
  ['Look at https://somewhere.example/x?y=1 now!', 'Look at now!'],
  ['see www.somewhere.example, please', 'see please'],
  ['write to me@somewhere.example.', 'write to.'],
  ['somewhere.example/free is mine', 'is mine'],
  ['SOMEWHERE.EXAMPLE is mine', 'is mine'],
  ['rtmp://hall.example/live and data:', 'and data:'],
  ['It was late.Then it came.', 'It was late.Then it came.'],
  ['At 8.30 pm, or 21.00?', 'At 8.30 pm, or 21.00?'],
  ['My key is live_4f9a8b7c6d5e4f3a2b1c', 'My key is'],
  ['The Donaudampfschifffahrtsgesellschaft?', 'The Donaudampfschifffahrtsgesellschaft?'],
  ['two\nlines\tof it', 'two lines of it'],
  ['turned \u202eround', 'turned round'],
  ['a\u200b\u200bb', 'ab'],
  ['¿Se ve desde Santiago?', '¿Se ve desde Santiago?'],
  ['彗星は見えますか？', '彗星は見えますか？'],
])('“%s”: %s', (words, shown) => {
  expect(fitForPicture(words)).toBe(shown);
});

test.each(['', '   ', 'https://somewhere.example', '!!! …', '\u202e\u200b'])('of “%s” nothing is left to be shown', (words) => {
  expect(fitForPicture(words)).toBe('');
});

test('what is too long ends at a word, and what has no words is cut', () => {
  const long = fitForPicture('How far is it '.repeat(30));
  expect([...long].length).toBeLessThanOrEqual(LONGEST_ON_PICTURE);
  expect(long).toMatch(/(How|far|is|it)…$/);
  expect([...fitForPicture('é'.repeat(400))].length).toBe(LONGEST_ON_PICTURE);
});

test('marks piled upon a letter do not grow over the picture', () => {
  expect(fitForPicture(`a${'\u0301\u0302\u0303\u0304\u0305\u0306'.repeat(20)}b`).length).toBeLessThan(8);
});
