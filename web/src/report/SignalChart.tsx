// How it went out: pictures a second and what the line took, each a line over the time of the show, with nothing where nothing was measured.
import type { ShowReport } from '@lantern/contract';
import { instant, sayTime, SIGNAL_GAP_MS, unbroken, type SignalSample } from '@lantern/core';
import { line, max, min, scaleLinear } from 'd3';

const SIZE = { width: 760, height: 84, left: 36, right: 190, top: 10, bottom: 8 };
const WAYS = [
  { of: 'pictures', name: 'Pictures a second', least: 30 },
  { of: 'kbps', name: 'Line, kbit/s', least: 600 },
] as const;

export function SignalChart({ report }: { report: ShowReport }) {
  const { signal, startedAt, endedAt, zone } = report;
  if (signal.length < 2 || startedAt === null || endedAt === null) return null;
  const x = scaleLinear([startedAt, endedAt], [SIZE.left, SIZE.width - SIZE.right]);
  // Of a long show each sample stands for a longer stretch.
  const gapMs = Math.max(SIGNAL_GAP_MS, (2 * (endedAt - startedAt)) / signal.length);
  return (
    <section className="mt-5">
      <h2>How it went out</h2>
      {WAYS.map(({ of, name, least }) => {
        const known = signal.filter((sample) => sample[of] !== null);
        if (!known.length) return null;
        const y = scaleLinear(
          [
            0,
            Math.max(
              least,
              max(known, (sample) => sample[of]!)!,
            ),
          ],
          [SIZE.height - SIZE.bottom, SIZE.top],
        );
        const path = line<SignalSample>(
          (sample) => x(sample.at),
          (sample) => y(sample[of]!),
        );
        const worst = Math.round(min(known, (sample) => sample[of]!)!);
        const worstAt = known.find((sample) => Math.round(sample[of]!) === worst)!.at;
        return (
          <svg
            key={of}
            viewBox={`0 0 ${SIZE.width} ${SIZE.height}`}
            className="w-100 d-block"
            style={{ maxWidth: '52rem' }}
            role="img"
            aria-label={`${name}: least ${worst}, at ${sayTime(instant(worstAt), zone, false)}`}
          >
            <line x1={SIZE.left} x2={SIZE.width - SIZE.right} y1={y(0)} y2={y(0)} stroke="var(--hairline)" />
            {unbroken(known, gapMs).map((stretch) =>
              stretch.length > 1 ? (
                <path key={stretch[0]!.at} d={path(stretch) ?? ''} fill="none" stroke="var(--bs-link-color)" strokeWidth="2" />
              ) : (
                <circle key={stretch[0]!.at} cx={x(stretch[0]!.at)} cy={y(stretch[0]![of]!)} r="2" fill="var(--bs-link-color)" />
              ),
            )}
            <text x={SIZE.width - SIZE.right + 8} y={SIZE.height / 2} fontSize="13" fill="currentColor">
              {name}
            </text>
            <text x={SIZE.width - SIZE.right + 8} y={SIZE.height / 2 + 17} fontSize="12" fill="var(--ink-soft)">
              least {worst.toLocaleString('en-GB')}, {sayTime(instant(worstAt), zone, false)}
            </text>
          </svg>
        );
      })}
    </section>
  );
}
