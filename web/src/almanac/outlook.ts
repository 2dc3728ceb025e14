// What a long look ahead found, for the lanes and in words.
import type { ChannelView, SeriesView } from '@lantern/contract';
import { DAY_MS, instant, sayDate, type Instant, type TroubleAhead } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { server } from '../app/server';
import type { OutlookAnswer, OutlookQuestion } from './outlook.worker';

const AHEAD_MS = 365 * DAY_MS;

/** The dates of all series for a year, and their troubles; null while they are being worked out. */
export function useOutlook(channels: readonly ChannelView[] | undefined, now: Instant): { answer: OutlookAnswer; series: SeriesView[] } | null {
  const series = useQuery({ queryKey: ['series'], queryFn: () => server.get<SeriesView[]>('/api/series') });
  const [answer, setAnswer] = useState<OutlookAnswer | null>(null);
  // A day's change of the present makes no difference worth another look.
  const today = Math.floor(now / DAY_MS) * DAY_MS;
  const question = useMemo(
    () =>
      series.data &&
      channels && {
        series: series.data,
        channels: channels.map(({ id, rules, lines }) => ({ id, rules, firstLine: lines[0]?.id ?? null })),
        from: instant(today),
        to: instant(today + AHEAD_MS),
      },
    [series.data, channels, today],
  );
  // One worker for as long as the almanac is open: its first look, at zones it does not know yet, takes three times a later one.
  const worker = useRef<Worker | null>(null);
  useEffect(() => {
    const started = new Worker(new URL('./outlook.worker.ts', import.meta.url), { type: 'module' });
    worker.current = started;
    return () => started.terminate();
  }, []);
  const asked = useRef(0);
  useEffect(() => {
    if (!question || !worker.current) return;
    const number = ++asked.current;
    worker.current.onmessage = ({ data }: MessageEvent<OutlookAnswer>) => data.number === number && setAnswer(data);
    worker.current.postMessage({ number, ...question } satisfies OutlookQuestion);
  }, [question]);
  return answer && series.data ? { answer, series: series.data } : null;
}

/** Troubles in words, those of one pair of series once, with their first date and how often they come. */
export function troublesInWords(troubles: readonly TroubleAhead[], series: readonly SeriesView[], channels: readonly ChannelView[]): string[] {
  const title = (id: string) => series.find((each) => each.id === id)?.title || 'A series';
  const channel = (id: string) => channels.find((each) => each.id === id)?.name ?? 'a channel';
  const byKind = new Map<string, { words: string; dates: string[] }>();
  for (const trouble of troubles) {
    const { at } = trouble;
    const own = title(at.seriesId);
    const [key, words] = ((): [string, string] => {
      switch (trouble.what) {
        case 'clocks':
          return [`clocks ${at.seriesId}`, `clocks are changed over the start of ${own}`];
        case 'too long':
          return [`long ${at.seriesId} ${trouble.channelId}`, `${own} is longer than ${channel(trouble.channelId)} takes`];
        case 'off grid':
          return [`grid ${at.seriesId} ${trouble.channelId}`, `${own} does not start on a time that ${channel(trouble.channelId)} takes`];
        case 'line':
        case 'channel':
          return [
            `${trouble.what} ${at.seriesId} ${trouble.other.seriesId} ${trouble.channelId}`,
            `${own} and ${title(trouble.other.seriesId)} meet on ${channel(trouble.channelId)}`,
          ];
        case 'person':
        case 'room':
          return [
            `${trouble.what} ${at.seriesId} ${trouble.other.seriesId} ${trouble.name}`,
            `${own} and ${title(trouble.other.seriesId)} both want ${trouble.name}`,
          ];
      }
    })();
    const known = byKind.get(key);
    if (known) known.dates.push(at.date);
    else byKind.set(key, { words, dates: [at.date] });
  }
  return [...byKind.values()]
    .sort((a, b) => (a.dates[0]! < b.dates[0]! ? -1 : 1))
    .map(({ words, dates }) => `${sayDate(dates[0]!)}${dates.length > 1 ? ` and ${dates.length - 1} more` : ''}: ${words}.`);
}
