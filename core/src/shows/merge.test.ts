import fc from 'fast-check';
import { fieldOfKey, keysOfChange, mergeChanges, type FieldVersions } from './merge';

const SEED = 20261126;
interface Sheet {
  title: string;
  room: string;
  date: string;
  time: string;
  people: { name: string; zone: string | null }[];
  variants: { channelId: string; title: string | null }[];
}
const BLANK: Sheet = { title: '', room: '', date: '2026-12-03', time: '20:30', people: [], variants: [] };
const word = fc.constantFrom('', 'a', 'b', 'c');
const change = fc.record(
  {
    title: word,
    room: word,
    date: fc.constantFrom('2026-12-03', '2026-12-04'),
    time: fc.constantFrom('20:30', '21:00'),
    people: fc.array(fc.record({ name: word, zone: fc.constantFrom(null, 'UTC') }), { maxLength: 2 }),
    variants: fc.uniqueArray(fc.record({ channelId: fc.constantFrom('x', 'y'), title: fc.option(word) }), {
      selector: ({ channelId }) => channelId,
      maxLength: 2,
    }),
  },
  { requiredKeys: [] },
);
/** Somebody types something, having last looked at the sheet now or some saves ago. */
const step = fc.record({ who: fc.constantFrom('Maren', 'Idris', 'Bea'), looks: fc.boolean(), changes: change });

const get = (sheet: Sheet, key: string): unknown =>
  fieldOfKey(key) === 'variants' ? (sheet.variants.find(({ channelId }) => key === `variants/${channelId}`)?.title ?? null) : sheet[key as keyof Sheet];

test(`for any people and any order, nothing that was typed is lost unsaid (seed ${SEED})`, () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 14 }), (steps) => {
      let sheet = BLANK;
      let version = 1;
      let versions: FieldVersions = {};
      const saw: Record<string, number> = {};
      /** By key, what is to be found there, since when, and who has said so. */
      const kept = new Map<string, { value: unknown; version: number }>();
      for (const { who, looks, changes } of steps) {
        if (looks || !(who in saw)) saw[who] = version;
        const base = saw[who]!;
        const before = sheet;
        const { merged, accepted, conflicts } = mergeChanges(sheet, versions, base, changes);
        for (const key of keysOfChange(changes)) {
          const mine = get({ ...BLANK, ...changes } as Sheet, key);
          const told = conflicts.some(({ field }) => field === fieldOfKey(key));
          // Each thing that was typed is in the sheet, or its writer is told that it is not.
          expect(told || JSON.stringify(get(merged, key)) === JSON.stringify(mine)).toBe(true);
          // Nobody writes over what somebody wrote after they looked.
          const earlier = kept.get(key);
          if (accepted.includes(key) && earlier) expect(earlier.version).toBeLessThanOrEqual(base);
        }
        // What nobody typed now stays as it was.
        for (const key of kept.keys()) if (!accepted.includes(key)) expect(get(merged, key)).toEqual(get(before, key));
        if (!accepted.length) continue;
        version += 1;
        sheet = merged;
        versions = { ...versions, ...Object.fromEntries(accepted.map((key) => [key, { version, by: who }])) };
        for (const key of accepted) kept.set(key, { value: get(sheet, key), version });
      }
    }),
    { seed: SEED, numRuns: 500 },
  );
});

test('date and time are one thing: who changed the one meets who changed the other', () => {
  const versions = { date: { version: 5, by: 'Idris' } };
  expect(mergeChanges(BLANK, versions, 4, { time: '22:00' })).toMatchObject({ accepted: [], conflicts: [{ field: 'time', by: 'Idris' }] });
  expect(mergeChanges(BLANK, versions, 5, { time: '22:00' })).toMatchObject({ accepted: ['time'], merged: { time: '22:00', date: BLANK.date } });
});

test('what says the same already is no conflict, in whatever order it was written', () => {
  const sheet = { ...BLANK, people: [{ name: 'Juno', zone: null }] };
  const versions = { people: { version: 9, by: 'Idris' } };
  expect(mergeChanges(sheet, versions, 1, { people: [{ zone: null, name: 'Juno' }] })).toEqual({ merged: sheet, accepted: [], conflicts: [] });
});
