// An evening as a strip in time: each cue as long as it is planned, what is over hatched beneath, and where the clock stands.
import { dueAt, type Instant, type RunningOrderTimes } from '@lantern/core';

/** `at`: a moment that is marked, where it is within the evening. For the eye alone: words stand beside it. */
export function OrderStrip({ times, at = null }: { times: RunningOrderTimes; at?: Instant | null }) {
  const begins = times.stretches[0]!.begins;
  const last = Math.max(times.stretches.at(-1)!.until, ...times.cues.map((cue) => cue.endsAt));
  const share = (ms: number) => `${(100 * ms) / Math.max(1, last - begins)}%`;
  const due = at === null ? null : dueAt(times, at).now;
  return (
    <div className="order-strip" aria-hidden="true">
      {times.cues.map(({ cue, startsAt, endsAt }) => (
        <span key={cue.id} className={cue.id === due?.cue.id ? 'cue-due' : ''} style={{ left: share(startsAt - begins), width: share(endsAt - startsAt) }}>
          {cue.name}
        </span>
      ))}
      {times.stretches.map(({ until, overMs, from }) => (
        <i key={`${from} ${until}`} className={overMs > 0 ? 'over' : ''} style={{ left: share(until - begins), width: share(Math.max(0, overMs)) }} />
      ))}
      {at !== null && at >= begins && at <= last && <b style={{ left: share(at - begins) }} />}
    </div>
  );
}
