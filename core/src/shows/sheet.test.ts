import fc from 'fast-check';
import { instant, MINUTE_MS } from '../time/instant';
import { startOf, whenOf } from '../time/start';
import { BLANK_SHEET, changedTogether, columnsFor, OWN_FIELDS, ownValues, SHEET, SHEET_FIELDS, sheetOf, tidied, type SheetValues } from './sheet';

const ZONES = ['Europe/Dublin', 'America/Santiago', 'Asia/Kolkata', 'Australia/Lord_Howe', 'UTC'];
const text = fc.string({ maxLength: 12 });
const sheets: fc.Arbitrary<SheetValues> = fc
  .record({
    startsAt: fc.integer({ min: Date.UTC(2026, 0, 1) / MINUTE_MS, max: Date.UTC(2028, 0, 1) / MINUTE_MS }).map((minutes) => minutes * MINUTE_MS),
    zone: fc.constantFrom(...ZONES),
    lengthMin: fc.integer({ min: 1, max: 2_880 }),
    title: text,
    room: text,
    description: text,
    names: fc.array(text, { maxLength: 3 }),
    variant: fc.option(text, { nil: null }),
    lineId: fc.option(fc.uuid(), { nil: null }),
  })
  .map(({ startsAt, zone, lengthMin, title, room, description, names, variant, lineId }) => ({
    ...BLANK_SHEET,
    ...whenOf(startsAt, zone),
    ...{ zone, lengthMin, title, room, description },
    people: names.map((name, at) => ({ name, role: 'guest' as const, zone: null, ...(at > 0 && name.trim() && { caption: ` ${name} ` }) })),
    channelIds: ['c'],
    lines: lineId === null ? [] : [{ channelId: 'c', lineId }],
    variants: variant === null ? [] : [{ channelId: 'c', title: variant, description: null, choices: {} }],
  }));

test('what is kept of a sheet and its airings is the whole sheet, but for what surrounds texts', () => {
  fc.assert(
    fc.property(sheets, (sheet) => {
      const kept = { ...ownValues(tidied(sheet)), startsAt: startOf(sheet)!, zone: sheet.zone, lengthMs: sheet.lengthMin * MINUTE_MS };
      const [variant] = sheet.variants;
      const airing = { channelId: 'c', lineId: sheet.lines[0]?.lineId ?? null, title: variant?.title ?? null, description: null, choices: {} };
      expect(sheetOf(kept, [airing])).toEqual(tidied(sheet));
      expect(tidied(tidied(sheet))).toEqual(tidied(sheet));
    }),
    { seed: 20261126 },
  );
});

test('a text of nothing but spaces is kept as nothing, and what was not said is not made up', () => {
  expect(tidied({ title: '  ', room: ' Dome ' })).toEqual({ title: '', room: 'Dome' });
  expect(tidied({ description: undefined as never })).toEqual({ description: undefined });
});

test('every field has a place in the row, or belongs to airings', () => {
  for (const name of SHEET_FIELDS) expect(columnsFor([name]).length > 0 || SHEET[name].kept === 'airings').toBe(true);
  expect(columnsFor(['time', 'date', 'fold'])).toEqual(['startsAt', 'zone']);
  expect(columnsFor(['lengthMin', 'room'])).toEqual(['lengthMs', 'room']);
  expect(OWN_FIELDS).not.toContain('zone');
});

test('a blank sheet has all but what nobody can do without', () => {
  expect(SHEET_FIELDS.filter((name) => !(name in BLANK_SHEET))).toEqual(['title', 'date', 'time', 'zone']);
});

test('date, time and zone change as one, whatever was typed of them', () => {
  for (const name of ['date', 'time', 'zone']) expect(changedTogether(name)).toEqual(['date', 'time', 'zone']);
  expect(changedTogether('title')).toEqual(['title']);
});

test('a start that clocks show twice is found again by which of the two it is', () => {
  const night = { date: '2026-10-25', time: '01:30', zone: 'Europe/Dublin' };
  const [earlier, later] = (['earlier', 'later'] as const).map((fold) => startOf({ ...night, fold })!);
  expect(later! - earlier!).toBe(60 * MINUTE_MS);
  expect(whenOf(later!, night.zone)).toEqual({ date: night.date, time: night.time, fold: 'later' });
  expect(startOf({ ...night, fold: null })).toBeNull();
  expect(startOf({ date: '2027-03-28', time: '01:30', zone: 'Europe/Dublin' })).toBeNull();
  expect(whenOf(instant(0), 'UTC')).toEqual({ date: '1970-01-01', time: '00:00', fold: null });
});
