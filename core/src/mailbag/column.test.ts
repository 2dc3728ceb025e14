import { forColumn } from './column';

const message = (words: string, change: object = {}) => ({ writer: 'Fern', standing: 'follower' as const, words, state: 'shown', held: null, ...change });

test('in a column stands what everybody may read, and no way to anywhere', () => {
  const all = [
    message('Older'),
    message('Good evening!'),
    message('Hidden there', { state: 'hidden' }),
    message('Waits for a look', { held: 'word' }),
    message('From the channel', { standing: 'own' }),
    message('https://win-a-dome.example/free'),
    message('Look at https://win-a-dome.example/free now'),
    message('Nobody', { writer: 'www.dome.example' }),
  ];
  expect(forColumn(all, 8)).toEqual([
    { name: 'Fern', words: 'Older' },
    { name: 'Fern', words: 'Good evening!' },
    { name: 'Fern', words: 'Look at now' },
  ]);
  expect(forColumn(all, 2).map(({ words }) => words)).toEqual(['Good evening!', 'Look at now']);
});
