import { sourceOf, type Opening } from './source';

const opened = (change: Partial<Opening>): string =>
  sourceOf({ named: '', referrer: '', host: 'alderfell.example', embedded: false, invited: false, ...change });

test.each([
  ['a link that was named', { named: 'poster', referrer: 'reelmoor.example' }, 'poster'],
  ['an invitation', { invited: true }, 'invitation'],
  ['a link on another site, of which only the host is told', { referrer: 'reelmoor.example' }, 'reelmoor.example'],
  ['the station’s own pages', { referrer: 'alderfell.example' }, 'the station’s own pages'],
  ['a page that has it within', { embedded: true, referrer: 'village.example' }, 'within village.example'],
  ['a page within that says nothing', { embedded: true }, 'within another page'],
  ['a typed address', {}, ''],
  ['a name with signs in it', { named: '<b>' }, ''],
  ['a name that is no end', { named: 'x'.repeat(41) }, ''],
])('%s', (_, change, source) => {
  expect(opened(change)).toBe(source);
});
