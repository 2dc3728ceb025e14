import fc from 'fast-check';
import { rulesFor } from '../channels/rules';
import { HOLDING_MS } from '../lines/clashes';
import { instant, MINUTE_MS } from '../time/instant';
import { lookAhead, type ChannelAhead, type SeriesAhead } from './outlook';
import { occurrencesOf } from './occurrences';

const channels: ChannelAhead[] = [
  { id: 'library', rules: rulesFor('reelmoor', 'library channel'), firstLine: 'main' },
  { id: 'guild', rules: rulesFor('guildhand', 'organisation'), firstLine: null },
  { id: 'handle', rules: rulesFor('pipwire', 'handle'), firstLine: 'post' },
];
const FROM = instant(Date.UTC(2027, 2, 1));
const TO = instant(Date.UTC(2027, 3, 5));
const series = (id: string, change: Partial<SeriesAhead> = {}): SeriesAhead => ({
  id,
  title: id,
  repeat: { pattern: { every: 'week', interval: 1, on: ['TH'] }, from: '2027-03-04', ends: { kind: 'never' }, also: [], dropped: [] },
  time: '20:30',
  zone: 'Europe/Dublin',
  lengthMs: 40 * MINUTE_MS,
  channelIds: ['library'],
  lines: {},
  people: [],
  room: '',
  ...change,
});
const what = (...all: SeriesAhead[]) => lookAhead(all, channels, FROM, TO).troubles.map((trouble) => trouble.what);

test('tells the dates of all series in order of time', () => {
  const { dates } = lookAhead([series('a'), series('b', { time: '10:00' })], channels, FROM, TO);
  expect(dates.map(({ seriesId }) => seriesId).join('')).toBe('bababababa');
});

test('tells what each date meets by its own: clock changes, lengths, grids', () => {
  expect(what(series('a', { time: '20:37' }))).toEqual(Array(5).fill('off grid'));
  expect(what(series('a', { lengthMs: 15 * 3_600_000 }))).toEqual(Array(5).fill('too long'));
  const nightly = { pattern: { every: 'day', interval: 1 }, from: '2027-03-27', ends: { kind: 'count', count: 3 }, also: [], dropped: [] } as const;
  expect(what(series('a', { time: '01:30', repeat: nightly }))).toEqual(['clocks']);
});

test('two series meet on a line, a channel for one at a time, a person or a room, and not where they share none', () => {
  const later = { time: '21:00' };
  expect(new Set(what(series('a'), series('b', later)))).toEqual(new Set(['line']));
  expect(what(series('a'), series('b', { ...later, lines: { library: 'spare' } }))).toEqual([]);
  expect(new Set(what(series('a', { channelIds: ['handle'] }), series('b', { ...later, channelIds: ['handle'] })))).toEqual(new Set(['channel']));
  const alone = { channelIds: [], people: ['Maren Tolliver'], room: 'Dome' };
  expect(new Set(what(series('a', alone), series('b', { ...later, ...alone, people: ['maren tolliver'] })))).toEqual(new Set(['person', 'room']));
  // Ten minutes before the start the holding card needs the line, and nobody the room.
  expect(new Set(what(series('a', { room: 'Dome' }), series('b', { time: '21:15', room: 'Dome' })))).toEqual(new Set(['line']));
});

test('finds what comparing every pair of dates finds', () => {
  const some = fc.record({
    time: fc.integer({ min: 0, max: 23 }).map((hour) => `${String(hour).padStart(2, '0')}:00`),
    lengthMs: fc.integer({ min: 10, max: 300 }).map((minutes) => minutes * MINUTE_MS),
    on: fc.constantFrom('MO' as const, 'TH' as const),
    lines: fc.constantFrom<Record<string, string>>({}, { library: 'spare' }),
  });
  fc.assert(
    fc.property(fc.array(some, { maxLength: 6 }), (all) => {
      const many = all.map(({ on, ...rest }, index) =>
        series(String(index), {
          ...rest,
          repeat: { pattern: { every: 'week', interval: 1, on: [on] }, from: '2027-03-01', ends: { kind: 'never' }, also: [], dropped: [] },
        }),
      );
      const dates = many.flatMap((of) => occurrencesOf(of.repeat, of.time, of.zone, FROM, TO).map(({ startsAt }) => ({ of, startsAt })));
      let pairs = 0;
      dates.forEach((a, index) =>
        dates.slice(index + 1).forEach((b) => {
          const [first, second] = a.startsAt <= b.startsAt ? [a, b] : [b, a];
          const sameLine = (first.of.lines.library ?? 'main') === (second.of.lines.library ?? 'main');
          if (sameLine && first.startsAt + first.of.lengthMs > second.startsAt - HOLDING_MS) pairs += 1;
        }),
      );
      expect(lookAhead(many, channels, FROM, TO).troubles.filter((trouble) => trouble.what === 'line')).toHaveLength(pairs);
    }),
  );
});
