import type { ChannelView, SeriesView } from '@lantern/contract';
import { instant, type DateAhead, type TroubleAhead } from '@lantern/core';
import { troublesInWords } from './outlook';

const series = [
  { id: 'a', title: 'Dusk Report' },
  { id: 'b', title: 'Members’ Evening' },
] as SeriesView[];
const channels = [{ id: 'c', name: 'Alderfell Sky Club' }] as ChannelView[];
const on = (seriesId: string, date: string): DateAhead => ({ seriesId, date, startsAt: instant(Date.parse(`${date}T20:30:00Z`)), lengthMs: 1 });
const words = (...troubles: TroubleAhead[]) => troublesInWords(troubles, series, channels);

test('what stands in the way again and again is said once, with its first date and how often', () => {
  const meet = (date: string): TroubleAhead => ({ what: 'line', at: on('a', date), channelId: 'c', other: on('b', date) });
  expect(words(meet('2027-03-04'), meet('2027-03-11'), meet('2027-03-18'))).toEqual([
    '4 March 2027 and 2 more: Dusk Report and Members’ Evening meet on Alderfell Sky Club.',
  ]);
});

test('each kind of trouble has words, the earliest first', () => {
  const at = on('a', '2027-03-28');
  const other = on('b', '2027-03-28');
  expect(
    words(
      { what: 'clocks', at },
      { what: 'too long', at, channelId: 'c' },
      { what: 'off grid', at, channelId: 'c' },
      { what: 'room', at, name: 'Dome', other },
      { what: 'person', at: on('a', '2027-01-07'), name: 'Maren Tolliver', other },
      { what: 'channel', at, channelId: 'unlinked', other },
    ),
  ).toEqual([
    '7 January 2027: Dusk Report and Members’ Evening both want Maren Tolliver.',
    '28 March 2027: clocks are changed over the start of Dusk Report.',
    '28 March 2027: Dusk Report is longer than Alderfell Sky Club takes.',
    '28 March 2027: Dusk Report does not start on a time that Alderfell Sky Club takes.',
    '28 March 2027: Dusk Report and Members’ Evening both want Dome.',
    '28 March 2027: Dusk Report and Members’ Evening meet on a channel.',
  ]);
});
