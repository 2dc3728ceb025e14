// How many watched over time, all channels on each other, above the running order as it ran: with breaks, trouble, and when most came and went.
import type { ShowReport } from '@lantern/contract';
import { instant, sayTime, type ShowPart } from '@lantern/core';
import { area, curveStepAfter, max, scaleLinear, stack } from 'd3';

const SIZE = { width: 760, height: 290, left: 36, right: 190, top: 18, chart: 200 };
const LANE = { height: 26, gap: 8 };
const LABEL_PX = 18;
/** From the lowest upwards; each has its name at its right end. */
const SHADES = [0.85, 0.5, 0.7, 0.32];
const LETTER_PX = 6.6;
const CROWDED_PX = 44;

export function AudienceChart({ report }: { report: ShowReport }) {
  const { airings, watching, parts, moments, ran, startedAt, endedAt, zone } = report;
  const told = airings.map((_, at) => watching.some(({ by }) => by[at] !== null));
  const shown = airings.flatMap((airing, at) => (told[at] ? [{ airing, at }] : []));
  if (!shown.length || startedAt === null || endedAt === null) return null;
  const x = scaleLinear([startedAt, endedAt], [SIZE.left, SIZE.width - SIZE.right]).clamp(true);
  const layers = stack<ShowReport['watching'][number], number>()
    .keys(shown.map(({ at }) => at))
    .value(({ by }, at) => by[at] ?? 0)(watching);
  const highest = Math.max(4, max(layers, (layer) => max(layer, ([, to]) => to)) ?? 0);
  const y = scaleLinear([0, highest], [SIZE.top + SIZE.chart, SIZE.top]).nice(4);
  const shape = area<[number, number]>()
    .x((_, at) => x(watching[at]!.at))
    .y0(([from]) => y(from))
    .y1(([, to]) => y(to))
    .curve(curveStepAfter);
  // Beside the last that was told: when a show has ended its networks tell nothing any more.
  const last = watching.findLastIndex(({ by }) => by.some((count) => count !== null));
  const ends = spread(layers.map((layer) => y((layer[last]![0] + layer[last]![1]) / 2)));
  // In a long show the two may stand beside each other.
  const crowded = moments.length === 2 && x(moments[1]!.from) - x(moments[0]!.from) < CROWDED_PX;
  const laneTop = SIZE.top + SIZE.chart + LANE.gap;
  return (
    <section className="mb-5">
      <h2>Watching over time</h2>
      <div className="overflow-auto" role="region" aria-label="The curve, to be moved sideways where it has no room" tabIndex={0}>
        <svg
          viewBox={`0 0 ${SIZE.width} ${SIZE.height}`}
          className="w-100"
          style={{ minWidth: '40rem', maxWidth: '52rem' }}
          role="img"
          aria-label="How many watched over time, on all channels together, above the running order as it ran"
        >
          {y.ticks(4).map((tick) => (
            <g key={tick}>
              <line x1={SIZE.left} x2={SIZE.width - SIZE.right} y1={y(tick)} y2={y(tick)} stroke="var(--hairline)" />
              <text x={SIZE.left - 8} y={y(tick) + 4} textAnchor="end" fontSize="12" fill="var(--ink-soft)">
                {tick}
              </text>
            </g>
          ))}
          {layers.map((layer, index) => (
            <g key={shown[index]!.airing.airingId}>
              <path
                d={shape(layer as unknown as [number, number][]) ?? ''}
                fill="var(--bs-link-color)"
                fillOpacity={SHADES[index % SHADES.length]}
                stroke="var(--bs-body-bg)"
              />
              <text x={SIZE.width - SIZE.right + 8} y={ends[index]! + 4} fontSize="13" fill="currentColor">
                {shown[index]!.airing.channelName}, {shown[index]!.airing.network}
              </text>
            </g>
          ))}
          {parts.map((part) => (
            <Part key={`${part.kind} ${part.name} ${part.from}`} part={part} x={x} />
          ))}
          {moments.map(({ from, to, by }, at) => (
            <g key={from}>
              <path d={`M${x(from)} ${SIZE.top + 8}v-8H${x(to)}v8`} fill="none" stroke="currentColor" />
              <text x={(x(from) + x(to)) / 2} y={SIZE.top - 5} textAnchor={crowded ? (at ? 'start' : 'end') : 'middle'} fontSize="12" fill="currentColor">
                {by > 0 ? `+${by}` : `−${-by}`}
              </text>
            </g>
          ))}
          {ran.map(({ name, at, lengthMs }) => {
            const [from, to] = [x(startedAt + at), x(startedAt + at + (lengthMs ?? endedAt - startedAt - at))];
            const letters = Math.floor((to - from - 10) / LETTER_PX);
            return (
              <g key={at}>
                <title>{name}</title>
                <rect x={from + 0.5} y={laneTop} width={Math.max(0, to - from - 1)} height={LANE.height} fill="none" stroke="var(--hairline)" />
                {letters >= 3 && (
                  <text x={from + 6} y={laneTop + 17} fontSize="12" fill="currentColor">
                    {name.length > letters ? `${name.slice(0, letters - 1)}…` : name}
                  </text>
                )}
              </g>
            );
          })}
          {[startedAt, endedAt].map((at, index) => (
            <text key={at} x={x(at)} y={laneTop + LANE.height + 18} textAnchor={index ? 'end' : 'start'} fontSize="12" fill="var(--ink-soft)">
              {sayTime(instant(at), zone, false)}
            </text>
          ))}
        </svg>
      </div>
      {moments.length > 0 && (
        <ul className="plain-list mb-1">
          {moments.map(({ from, words }) => (
            <li key={from}>
              <b>{sayTime(instant(from), zone, false)}</b> {words}.
            </li>
          ))}
        </ul>
      )}
      <p className="soft small-words mb-0">
        As each network told it, every few seconds; networks count in their own ways.{' '}
        <a href={`/api/shows/${report.showId}/report.csv`} download>
          The figures as CSV
        </a>{' '}
        or{' '}
        <a href={`/api/shows/${report.showId}/report.json`} download>
          all of this as JSON
        </a>
        .
      </p>
    </section>
  );
}

/** A break over the whole height, trouble at the foot; each with its name for whoever points at it or hears it. */
function Part({ part: { kind, name, from, to }, x }: { part: ShowPart; x: (at: number) => number }) {
  const width = Math.max(2, x(to) - x(from));
  const words = kind === 'break' ? 'Break' : `${name} in trouble`;
  return kind === 'break' ? (
    <rect x={x(from)} y={SIZE.top} width={width} height={SIZE.chart} fill="var(--bs-body-bg)" fillOpacity="0.55" stroke="currentColor" strokeDasharray="2 3">
      <title>{words}</title>
    </rect>
  ) : (
    <rect x={x(from)} y={SIZE.top + SIZE.chart - 5} width={width} height={5} fill="currentColor">
      <title>{words}</title>
    </rect>
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
