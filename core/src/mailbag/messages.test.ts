import { belongsTo, looksAsked, messageRules, tooLongBy, withChanges, wordedAnswer, type MailbagView } from './messages';

test.each([
  ['Is the fog gone?', true],
  ['How late is it?!', false],
  ['“Which one?” she asked', true],
  ['why is it green ?', true],
  ['これは何ですか？', true],
  ['Look at https://dome.example/?page=2', false],
  ['Good evening.', false],
])('“%s” looks like a question: %s', (words, asked) => expect(looksAsked(words)).toBe(asked));

test('an answer names whom it answers where nothing else does, and once', () => {
  expect(wordedAnswer('townfold', 'Fern', ' Yes. ')).toBe('Fern: Yes.');
  expect(wordedAnswer('townfold', 'Fern', 'Fern, yes.')).toBe('Fern, yes.');
  expect(wordedAnswer('reelmoor', 'Fern', ' Yes. ')).toBe('Yes.');
});

test('what is too long is known before it is sent, counted as people count', () => {
  const { longest } = messageRules('pipwire');
  expect(tooLongBy('pipwire', '🌒'.repeat(longest))).toBe(0);
  expect(tooLongBy('pipwire', 'x'.repeat(longest + 7))).toBe(7);
  expect(tooLongBy('guildhand', 'x'.repeat(longest + 7))).toBe(0);
});

test('the list takes what is new and what is other, in the order of arrival, and grows to a bound', () => {
  const of = (place: number, words = `said ${place}`) => ({ id: `m${place}`, place, words });
  const first = withChanges([], [of(1), of(2), of(3)], 4);
  const next = withChanges(first, [of(4), of(2, 'other')], 4);
  expect(next.map(({ words }) => words)).toEqual(['said 1', 'other', 'said 3', 'said 4']);
  // Late by another way: it has its place all the same.
  expect(withChanges([of(5), of(9)], [of(7)], 9).map(({ place }) => place)).toEqual([5, 7, 9]);
  expect(withChanges(next, [of(5), of(6)], 4).map(({ place }) => place)).toEqual([3, 4, 5, 6]);
  expect(withChanges(next, [], 4)).toEqual(next);
});

test.each<[string, Partial<Parameters<typeof belongsTo>[1]>, MailbagView[]]>([
  ['a question', { words: 'Where?' }, ['all', 'unanswered', 'asked']],
  ['a greeting', { words: 'Hello' }, ['all', 'unanswered']],
  ['an answered question', { words: 'Where?', answeredAt: 5 }, ['all']],
  ['what was hidden', { words: 'Where?', state: 'hidden' }, ['all', 'hidden']],
  ['what is gone', { state: 'removed' }, ['all', 'hidden']],
  ['one’s own', { words: 'Any questions?', standing: 'own' }, ['all']],
])('%s is found where it belongs', (_what, change, views) => {
  const message = { words: 'Hello', standing: 'newcomer', state: 'shown', answeredAt: null, ...change } as const;
  expect((['all', 'unanswered', 'asked', 'hidden'] as const).filter((view) => belongsTo(view, message))).toEqual(views);
});
