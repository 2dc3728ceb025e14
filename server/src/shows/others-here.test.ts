import { OthersHere } from './others-here';

const MAREN = { id: 'm', name: 'Maren Tolliver', role: 'owner' } as const;
const BEA = { id: 'b', name: 'Bea Lanthorn', role: 'moderator' } as const;

test('each is told of the others, by name, role and place; one’s own tab is nobody else', () => {
  const here = new OthersHere();
  const sheet = { tab: 'one', place: 'sheet' } as const;
  expect(here.note(MAREN, 'show', sheet, 0)).toEqual([]);
  expect(here.note(BEA, 'show', { tab: 'two', place: 'stage' }, 1_000)).toEqual([{ personId: 'm', name: 'Maren Tolliver', role: 'owner', place: 'sheet' }]);
  expect(here.note(MAREN, 'show', sheet, 2_000)).toEqual([{ personId: 'b', name: 'Bea Lanthorn', role: 'moderator', place: 'stage' }]);
  // Another tab of one's own is one more.
  expect(here.note(MAREN, 'show', { tab: 'three', place: 'sheet' }, 2_000).map(({ name }) => name)).toEqual(['Bea Lanthorn', 'Maren Tolliver']);
  expect(here.note(BEA, 'another show', { tab: 'two', place: 'sheet' }, 2_000)).toEqual([]);
});

test('whoever is not heard any more has gone, and no number of tabs fills the memory', () => {
  const here = new OthersHere();
  here.note(BEA, 'show', { tab: 'two', place: 'stage' }, 0);
  expect(here.note(MAREN, 'show', { tab: 'one', place: 'sheet' }, 60_000)).toEqual([]);
  for (let at = 0; at < 500; at++) here.note(BEA, 'show', { tab: `tab ${at}`, place: 'sheet' }, 60_000);
  expect(here.note(MAREN, 'show', { tab: 'one', place: 'sheet' }, 60_000).length).toBeLessThanOrEqual(100);
});
