// The almanac as a table.
import type { ShowSummary } from '@lantern/contract';
import { instant, MINUTE_MS, wallTimeOf, writeCsv } from '@lantern/core';

const HEAD = ['Title', 'Date', 'Time', 'Zone', 'Starts (UTC)', 'Minutes', 'State', 'Channels', 'People', 'Room', 'Series'];

/** One line a show. */
export function csvOf(shows: readonly ShowSummary[], placingWords: Record<string, string>): string {
  const lines = shows.map((show) => {
    const { date, time } = wallTimeOf(instant(show.startsAt), show.zone);
    return [
      show.title,
      date,
      time,
      show.zone,
      new Date(show.startsAt).toISOString(),
      String(Math.round(show.lengthMs / MINUTE_MS)),
      show.state === 'onAir' ? 'on air' : show.state,
      show.airings.map(({ channelName, placing }) => `${channelName} (${placingWords[placing]})`).join('; '),
      show.people.map(({ name }) => name).join('; '),
      show.room,
      show.seriesId ? 'yes' : 'no',
    ];
  });
  return writeCsv([HEAD, ...lines]);
}
