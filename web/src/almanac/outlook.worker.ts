// Looks a year ahead over all series, away from the page's own work. Answers carry the number of the question:
// late ones are dropped by whoever asked.
import { instant, lookAhead, warmLook, type ChannelAhead, type Instant, type Outlook, type SeriesAhead } from '@lantern/core';

export interface OutlookQuestion {
  number: number;
  series: SeriesAhead[];
  channels: ChannelAhead[];
  from: Instant;
  to: Instant;
}
export interface OutlookAnswer extends Outlook {
  number: number;
  tookMs: number;
}

// While the page still waits for the series.
warmLook(instant(Date.now()));

self.onmessage = ({ data }: MessageEvent<OutlookQuestion>) => {
  const began = performance.now();
  const outlook = lookAhead(data.series, data.channels, data.from, data.to);
  self.postMessage({ ...outlook, number: data.number, tookMs: performance.now() - began } satisfies OutlookAnswer);
};
