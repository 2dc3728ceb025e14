// A show beside earlier ones: the same few figures of each, side by side.
import type { ComparedShow, Comparison } from '@lantern/contract';
import { instant, sayDay, sayLength, sayStanding, standingAmong } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { max, scaleBand, scaleLinear } from 'd3';
import { useState } from 'react';
import { Form } from 'react-bootstrap';
import { serverNow } from '../app/clock';
import { server } from '../app/server';

const SIZE = { width: 230, height: 84, foot: 4 };
/** A bar with its room takes no more, however few there are. */
const SLOT = 30;
const YEAR_MS = 365 * 86_400_000;
const RANGES: readonly [name: string, ms: number | null][] = [
  ['the last twenty', null],
  ['the last three months', YEAR_MS / 4],
  ['the last year', YEAR_MS],
];

const MEASURES: readonly { name: string; of: (show: ComparedShow) => number | null; say: (value: number) => string }[] = [
  { name: 'Most watching at once', of: ({ peak }) => peak, say: String },
  { name: 'Watching on average', of: ({ average }) => average, say: (value) => String(Math.round(value)) },
  { name: 'Length', of: ({ lengthMs }) => lengthMs, say: sayLength },
  { name: 'Messages', of: ({ messages }) => messages, say: String },
  { name: 'Questions', of: ({ questions }) => questions, say: String },
];

export function ComparisonHere({ showId }: { showId: string }) {
  const [range, setRange] = useState(0);
  const [now] = useState(serverNow);
  const ms = RANGES[range]![1];
  const comparison = useQuery({
    queryKey: ['report', showId, 'comparison', range],
    queryFn: () => server.get<Comparison>(`/api/shows/${showId}/comparison${ms === null ? '' : `?from=${Math.round(now - ms)}`}`),
  });
  if (!comparison.data || (!comparison.data.earlier.length && ms === null)) return null;
  const { own, earlier } = comparison.data;
  return (
    <section className="mb-5">
      <div className="d-flex flex-wrap align-items-baseline gap-3">
        <h2>Beside earlier ones</h2>
        <Form.Select size="sm" className="w-auto" aria-label="Which earlier ones" value={range} onChange={({ target }) => setRange(Number(target.value))}>
          {RANGES.map(([name], at) => (
            <option key={name} value={at}>
              {name}
            </option>
          ))}
        </Form.Select>
      </div>
      {!earlier.length && <p className="soft">There was none in that time.</p>}
      <div className="d-flex flex-wrap gap-4">
        {MEASURES.map(({ name, of, say }) => {
          const value = of(own);
          const all = [...earlier].reverse().map((show) => ({ show, value: of(show) }));
          if (value === null || !all.some((each) => each.value !== null)) return null;
          return <Small key={name} name={name} value={value} own={own} all={all} say={say} />;
        })}
      </div>
    </section>
  );
}

interface SmallProps {
  name: string;
  value: number;
  own: ComparedShow;
  /** In order of time. */
  all: { show: ComparedShow; value: number | null }[];
  say: (value: number) => string;
}

function Small({ name, value, own, all, say }: SmallProps) {
  const bars = [...all, { show: own, value }];
  const x = scaleBand(
    bars.map(({ show }) => show.showId),
    [0, Math.min(SIZE.width, bars.length * SLOT)],
  )
    .paddingInner(0.25)
    .align(1);
  const y = scaleLinear([0, Math.max(1, max(bars, (bar) => bar.value ?? 0) ?? 0)], [SIZE.height - SIZE.foot, 0]);
  const words = sayStanding(
    standingAmong(
      value,
      all.map((bar) => bar.value),
    ),
  );
  const wide = Math.min(x.bandwidth(), 26);
  return (
    <figure className="mb-0" style={{ width: SIZE.width }}>
      <figcaption>
        {name}: <b>{say(value)}</b>
        <div className="soft small-words">{words}</div>
      </figcaption>
      <svg
        viewBox={`0 0 ${SIZE.width} ${SIZE.height}`}
        width={SIZE.width}
        height={SIZE.height}
        role="img"
        aria-label={`${name} of this show and ${all.length} before it`}
      >
        <line x1="0" x2={SIZE.width} y1={SIZE.height - SIZE.foot} y2={SIZE.height - SIZE.foot} stroke="var(--hairline)" />
        {bars.map((bar) =>
          bar.value === null ? null : (
            <rect
              key={bar.show.showId}
              x={x(bar.show.showId)}
              y={y(bar.value)}
              width={wide}
              height={SIZE.height - SIZE.foot - y(bar.value)}
              fill="var(--bs-link-color)"
              fillOpacity={bar.show === own ? 1 : 0.35}
            >
              <title>
                {sayDay(instant(bar.show.startsAt), bar.show.zone)}: {say(bar.value)}
              </title>
            </rect>
          ),
        )}
        {/* Not told apart by its shade alone. */}
        <path d={`M${(x(own.showId) ?? 0) + wide / 2 - 5} ${SIZE.height}l5 -4 5 4z`} fill="currentColor" />
      </svg>
    </figure>
  );
}
