import { HOUR_MS, instant, MINUTE_MS } from '../time/instant';
import { limitsAhead, sayLimitAhead } from './limits-ahead';

const BEGAN = Date.UTC(2026, 10, 26, 20);
const RULES = { longestMs: 4 * HOUR_MS, recordingStopsMs: 3 * HOUR_MS };
const said = (afterMs: number, rules: Parameters<typeof limitsAhead>[0] = RULES) =>
  limitsAhead(rules, BEGAN, instant(BEGAN + afterMs)).map((limit) => sayLimitAhead(limit, 'Guildhand', 'Europe/Dublin'));

test.each<[string, number, string[]]>([
  ['nothing before the last hour', 2 * HOUR_MS - 1, []],
  ['an hour before', 2 * HOUR_MS, ['From 23:00 GMT on, within the hour, Guildhand keeps no recording.']],
  ['the same words until ten minutes before', 3 * HOUR_MS - 11 * MINUTE_MS, ['From 23:00 GMT on, within the hour, Guildhand keeps no recording.']],
  ['ten minutes before', 3 * HOUR_MS - 10 * MINUTE_MS, ['From 23:00 GMT on, within ten minutes, Guildhand keeps no recording.']],
  [
    'past the one, an hour before the other',
    3 * HOUR_MS,
    ['Guildhand has kept no recording since 23:00 GMT.', 'Guildhand ends the show at 00:00 GMT, within the hour.'],
  ],
  [
    'past both',
    4 * HOUR_MS,
    ['Guildhand has kept no recording since 23:00 GMT.', 'Guildhand may end the show at any moment: its longest time was over at 00:00 GMT.'],
  ],
])('%s', (_, afterMs, words) => {
  expect(said(afterMs)).toEqual(words);
});

test('where there are no limits, or it is not public yet, nothing comes', () => {
  expect(said(100 * HOUR_MS, { longestMs: null, recordingStopsMs: null })).toEqual([]);
  expect(limitsAhead(RULES, null, instant(BEGAN + 100 * HOUR_MS))).toEqual([]);
});
