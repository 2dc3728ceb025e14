import fc from 'fast-check';
import { defaultsFor, settingsFor } from '../channels/defaults';
import { rulesFor } from '../channels/rules';
import { AIRING_FIELDS, asItWillStand, differencesOf, reconciled, type AiringFacts, type Sides } from './drift';

const someFacts: fc.Arbitrary<AiringFacts> = fc.record({
  title: fc.constantFrom('Dusk Report', 'Dusk Report ', 'Dusk report'),
  text: fc.constantFrom('The sky.', 'The sky.\r\nTonight.', 'The sky.\nTonight.'),
  startsAt: fc.constantFrom(0, 60_000, 3_600_000),
  lengthMs: fc.constantFrom(2_400_000, 2_399_000, 3_600_000),
  visibility: fc.constantFrom('everyone' as const, 'link holders' as const),
  choices: fc.record({ adverts: fc.boolean(), messages: fc.constantFrom('everyone' as const, 'off' as const) }),
});
const someSides: fc.Arbitrary<Sides> = fc.record(
  Object.fromEntries(AIRING_FIELDS.map((field) => [field, fc.constantFrom('ours' as const, 'theirs' as const)])),
  { requiredKeys: [] },
);

test('after every difference was given a side, both say the same; what was not chosen is left alone', () => {
  fc.assert(
    fc.property(someFacts, someFacts, fc.option(someFacts), someSides, (ours, theirs, told, sides) => {
      const found = differencesOf(ours, theirs, told);
      const after = reconciled(ours, theirs, sides);
      expect(differencesOf(after.ours, after.theirs, told).map(({ field }) => field)).toEqual(
        found.map(({ field }) => field).filter((field) => sides[field] === undefined),
      );
      for (const { field } of found) {
        if (sides[field] === 'ours') expect(after.theirs[field]).toEqual(ours[field]);
        if (sides[field] === 'theirs') expect(after.ours[field]).toEqual(theirs[field]);
      }
    }),
  );
});

test('tells who moved away from what the channel was told; spaces, line ends and seconds are no difference', () => {
  const told: AiringFacts = { title: 'Dusk Report', text: 'The sky.\nTonight.', startsAt: 0, lengthMs: 2_400_000, visibility: 'everyone' };
  expect(differencesOf(told, { ...told, text: ' The sky.\r\nTonight. ', lengthMs: 2_395_000 }, told)).toEqual([]);
  expect(differencesOf({ ...told, title: 'A' }, { ...told, startsAt: 60_000 }, told).map(({ field, changed }) => [field, changed])).toEqual([
    ['title', 'here'],
    ['startsAt', 'there'],
  ]);
  expect(differencesOf({ ...told, title: 'A' }, { ...told, title: 'B' }, told)[0]).toMatchObject({ changed: 'both', ours: 'A', theirs: 'B' });
  expect(differencesOf({ ...told, title: 'A' }, told, null)[0]).toMatchObject({ changed: 'there' });
});

test('of choices only those are told that differ, and what a network does not tell is no difference', () => {
  const facts: AiringFacts = { title: 'Dusk Report', text: '', startsAt: 0, lengthMs: 60_000, visibility: 'everyone' };
  const ours = { ...facts, choices: { adverts: false, delayS: 4, tags: ['sky'], category: 'science' as const } };
  const theirs = { ...facts, choices: { adverts: true, delayS: 4, tags: ['sky'] } };
  expect(differencesOf(ours, theirs, ours)).toEqual([{ field: 'choices', ours: { adverts: false }, theirs: { adverts: true }, changed: 'there' }]);
  expect(differencesOf(ours, facts, ours)).toEqual([]);
  expect(reconciled(ours, theirs, { choices: 'theirs' }).ours.choices).toEqual({ ...ours.choices, adverts: true });
});

test('a programme for children will stand there without messages, whatever was asked for', () => {
  const library = rulesFor('reelmoor', 'library channel');
  const chosen = settingsFor({ audience: 'children', messages: 'everyone' }, defaultsFor(library), library);
  expect(asItWillStand(chosen)).toMatchObject({ audience: 'children', messages: 'off' });
  expect(asItWillStand({ ...chosen, audience: 'adults' })).toMatchObject({ messages: 'everyone' });
});
