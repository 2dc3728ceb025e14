// How many watch: now, and over the last hour, each figure with where it comes from and how old it is.
import type { ShowView, WatchingView } from '@lantern/contract';
import { HOUR_MS, instant, sayTime, type HourPoint, type LastHour } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { curveStepAfter, line, scaleLinear } from 'd3';
import { useState } from 'react';
import { server } from '../app/server';

const ASK_EVERY_MS = 15_000;
const SIZE = { width: 220, height: 34 };

export function WatchingHere({ show }: { show: ShowView }) {
  const [open, setOpen] = useState(false);
  const { data } = useQuery({
    queryKey: ['watching', show.id],
    queryFn: () => server.get<WatchingView>(`/api/shows/${show.id}/watching`),
    refetchInterval: ASK_EVERY_MS,
  });
  if (!data || show.rehearsal || !data.channels.length) return null;
  const { channels, together, house, now } = data;
  const highest = Math.max(4, together.most?.watching ?? 0, together.now?.watching ?? 0);
  const row = (name: string, hour: LastHour) => (
    <tr key={name}>
      <th scope="row">{name}</th>
      <td className="figure">{hour.now ? hour.now.watching : 'not known'}</td>
      <td>
        <HourLine {...{ hour, now, highest, name }} />
      </td>
      <td className="soft">
        {hour.most && `most ${hour.most.watching}, at ${sayTime(instant(hour.most.at), show.zone, false)}`}
        {hour.now && ` · told ${sayAge(now - hour.now.at)}`}
      </td>
    </tr>
  );
  return (
    <details className="watching-here small-words" open={open} onToggle={({ currentTarget }) => setOpen(currentTarget.open)}>
      <summary>
        {together.now ? `${together.now.watching} watching` : 'How many watch is not known'}
        {house > 0 && `, and ${house} on the house page`}
        {together.most && <span className="soft"> · most in the last hour {together.most.watching}</span>}
      </summary>
      {open && (
        <>
          <table>
            <thead className="visually-hidden">
              <tr>
                <th>Channel</th>
                <th>Watching now</th>
                <th>The last hour</th>
                <th>Most, and how old the figure is</th>
              </tr>
            </thead>
            <tbody>
              {channels.map(({ name, hour }) => row(name, hour))}
              {channels.length > 1 && row('Together', together)}
            </tbody>
          </table>
          <p className="soft mb-0">
            As each network tells it; the house page is counted here, by pages that are open, and is in no sum. Who watches in two places counts twice.
          </p>
        </>
      )}
    </details>
  );
}

interface LineProps {
  hour: LastHour;
  now: number;
  highest: number;
  name: string;
}

/** The last hour from left to right; where nothing was told, there is no line. All lines have one scale. */
function HourLine({ hour, now, highest, name }: LineProps) {
  const x = scaleLinear([now - HOUR_MS, now], [0, SIZE.width]);
  const y = scaleLinear([0, highest], [SIZE.height - 2, 2]);
  const path = line<HourPoint>(
    ({ at }) => x(at),
    ({ watching }) => y(watching ?? 0),
  )
    .defined(({ watching }) => watching !== null)
    .curve(curveStepAfter);
  const last = hour.points.at(-1);
  // What was told last holds until now.
  const points = hour.now && last ? [...hour.points, { at: instant(now), watching: hour.now.watching }] : hour.points;
  return (
    <svg
      viewBox={`0 0 ${SIZE.width} ${SIZE.height}`}
      width={SIZE.width}
      height={SIZE.height}
      role="img"
      aria-label={`The last hour on ${name}, from nobody to ${highest}`}
    >
      <line x1={0} x2={SIZE.width} y1={SIZE.height - 1} y2={SIZE.height - 1} stroke="var(--hairline)" />
      <path d={path(points) ?? ''} fill="none" stroke="currentColor" strokeWidth="1.5" />
    </svg>
  );
}

const sayAge = (ms: number): string => (ms < 10_000 ? 'just now' : `${Math.round(ms / 1_000)} s ago`);
