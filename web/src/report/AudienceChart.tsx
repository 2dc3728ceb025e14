// How many watched over time, one line a channel, each with its own dash and its name at its end.
import type { ShowReport } from '@lantern/contract';
import { instant, sayTime } from '@lantern/core';
import { curveStepAfter, line, max, scaleLinear } from 'd3';

const SIZE = { width: 760, height: 220, left: 36, right: 190, top: 12, bottom: 26 };
const DASHES = ['none', '7 4', '2 4', '10 3 2 3'];
const LABEL_PX = 18;

export function AudienceChart({ report }: { report: ShowReport }) {
  const curves = report.airings.filter(({ curve }) => curve.length > 1);
  if (!curves.length || report.startedAt === null || report.endedAt === null) return null;
  const x = scaleLinear([report.startedAt, report.endedAt], [SIZE.left, SIZE.width - SIZE.right]);
  const highest = Math.max(4, max(curves, ({ curve }) => max(curve, ({ watching }) => watching)) ?? 0);
  const y = scaleLinear([0, highest], [SIZE.height - SIZE.bottom, SIZE.top]).nice(4);
  const path = line<{ at: number; watching: number }>(
    (point) => x(point.at),
    (point) => y(point.watching),
  ).curve(curveStepAfter);
  const ends = spread(curves.map(({ curve }) => y(curve.at(-1)!.watching)));
  return (
    <section>
      <h2>Watching over time</h2>
      <svg
        viewBox={`0 0 ${SIZE.width} ${SIZE.height}`}
        className="w-100"
        style={{ maxWidth: '52rem' }}
        role="img"
        aria-label="How many watched over time on each channel"
      >
        {y.ticks(4).map((tick) => (
          <g key={tick}>
            <line x1={SIZE.left} x2={SIZE.width - SIZE.right} y1={y(tick)} y2={y(tick)} stroke="var(--hairline)" />
            <text x={SIZE.left - 8} y={y(tick) + 4} textAnchor="end" fontSize="12" fill="var(--ink-soft)">
              {tick}
            </text>
          </g>
        ))}
        {[report.startedAt, report.endedAt].map((at, index) => (
          <text key={at} x={x(at)} y={SIZE.height - 6} textAnchor={index ? 'end' : 'start'} fontSize="12" fill="var(--ink-soft)">
            {sayTime(instant(at), report.zone, false)}
          </text>
        ))}
        {curves.map((airing, index) => (
          <g key={airing.airingId}>
            <path d={path(airing.curve) ?? ''} fill="none" stroke="var(--bs-link-color)" strokeWidth="2" strokeDasharray={DASHES[index % DASHES.length]} />
            <text x={SIZE.width - SIZE.right + 8} y={ends[index]! + 4} fontSize="13" fill="currentColor">
              {airing.channelName}, {airing.network}
            </text>
          </g>
        ))}
      </svg>
    </section>
  );
}

/** Moves labels apart that would lie on each other, keeping their order. */
function spread(heights: number[]): number[] {
  const order = heights.map((height, index) => ({ height, index })).sort((a, b) => a.height - b.height);
  order.forEach((label, at) => {
    if (at > 0) label.height = Math.max(label.height, order[at - 1]!.height + LABEL_PX);
  });
  return order.sort((a, b) => a.index - b.index).map(({ height }) => height);
}
