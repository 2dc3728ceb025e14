import { lineTaken } from './taken';

const LINES = [
  { id: 'other', channelId: 'd', airingId: null },
  { id: 'issued', channelId: 'c', airingId: 'a' },
  { id: 'first', channelId: 'c', airingId: null },
  { id: 'second', channelId: 'c', airingId: null },
];
const airing = { id: 'a', channelId: 'c', lineId: null };

test('the chosen line is taken, else the first lasting one of its own channel', () => {
  expect(lineTaken({ ...airing, lineId: 'second' }, { lines: 'named' }, LINES)).toBe('second');
  expect(lineTaken(airing, { lines: 'named' }, LINES)).toBe('first');
  expect(lineTaken({ ...airing, channelId: 'e' }, { lines: 'named' }, LINES)).toBeNull();
});

test('where one is issued for each show, a choice means nothing and another show’s is never taken', () => {
  expect(lineTaken({ ...airing, lineId: 'second' }, { lines: 'one per show' }, LINES)).toBe('issued');
  expect(lineTaken({ ...airing, id: 'b' }, { lines: 'one per show' }, LINES)).toBeNull();
});
