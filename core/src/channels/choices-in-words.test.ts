import { allCountries, countryName, isCountry, nameChoices, sayChoices, sayShare } from './choices-in-words';
import { defaultsFor, settingsFor } from './defaults';
import { rulesFor } from './rules';

const library = rulesFor('reelmoor', 'library channel');
const group = rulesFor('townfold', 'group');

test('what was chosen is said, and what goes without saying is not', () => {
  expect(sayChoices(settingsFor({}, defaultsFor(library), library))).toEqual([
    'community',
    'English',
    'messages from everyone',
    '4 s late',
    'listed from 7 days before',
  ]);
  const choices = { audience: 'adults', licence: 'CC BY 4.0', listedDays: 0, adverts: true, keepsMessages: false, playlist: 'Dusk', tags: ['sky'] } as const;
  expect(sayChoices(settingsFor({ ...choices, tags: [...choices.tags] }, defaultsFor(library), library))).toEqual(
    expect.arrayContaining([
      'for adults, 18 and over',
      'listed at its start',
      'CC BY 4.0',
      'with adverts',
      'messages go with the end',
      'in the playlist “Dusk”',
      'tagged sky',
    ]),
  );
  const countries = { rule: 'everywhere but in', of: ['FR', 'NL', 'IE'] } as const;
  expect(sayChoices(settingsFor({ countries: { ...countries, of: [...countries.of] } }, defaultsFor(group), group))).toContain(
    'everywhere but in France, Netherlands and Ireland',
  );
});

test('whom it is shared on with is said with what they have answered', () => {
  const sharing = { with: ['a', 'b'], when: 'at the start' as const };
  expect(sayChoices(settingsFor({ sharing }, defaultsFor(group), group))).toContain('shared on with 2 at the start');
  const share = { id: 'a', name: 'Fell Valley Library' };
  expect((['asked', 'accepted', 'declined'] as const).map((answer) => sayShare({ ...share, answer }))).toEqual([
    'Fell Valley Library has not answered yet.',
    'Shared on with Fell Valley Library.',
    'Fell Valley Library does not share it.',
  ]);
});

test('where two sides differ, each says its own, yes or no', () => {
  expect(nameChoices({ adverts: false, messages: 'off', countries: { rule: 'only in', of: [] }, tags: [], category: null })).toEqual([
    'adverts: no',
    'messages: off',
    'seen: everywhere',
    'tags: none',
  ]);
});

test('countries are those of today, in the order of their names', () => {
  expect(['IE', 'NZ', 'TV'].every(isCountry)).toBe(true);
  // Given up, a union, not known, and nothing of the kind.
  for (const none of ['DD', 'SU', 'EU', 'ZZ', 'ie', '', 7]) expect(isCountry(none)).toBe(false);
  expect(allCountries().length).toBeGreaterThan(240);
  expect(countryName(allCountries()[0]!)).toBe('Afghanistan');
});
