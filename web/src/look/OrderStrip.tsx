// An evening as a strip in time: each cue as long as it is planned, what is over hatched beneath, and where the clock stands.
import { dueAt, type CueRan, type Instant, type RunningOrderTimes } from '@lantern/core';

interface Props {
  times: RunningOrderTimes;
  /** A moment that is marked, where it is within the evening. */
  at?: Instant | null;
  /** What has been begun, and when: a fine line beneath what was planned. */
  ran?: readonly CueRan[];
  /** The cue that is on; null: the one that is due by the plan. */
  on?: string | null;
}

/** For the eye alone: words stand beside it. */
export function OrderStrip({ times, at = null, ran = [], on = null }: Props) {
  const begins = times.stretches[0]!.begins;
  const last = Math.max(times.stretches.at(-1)!.until, ...times.cues.map((cue) => cue.endsAt));
  const share = (ms: number) => `${(100 * ms) / Math.max(1, last - begins)}%`;
  const marked = on ?? (at === null ? null : (dueAt(times, at).now?.cue.id ?? null));
  const within = (ms: number) => Math.min(Math.max(ms, begins), last);
  return (
    <div className="order-strip" aria-hidden="true">
      {times.cues.map(({ cue, startsAt, endsAt }) => (
        <span key={cue.id} className={cue.id === marked ? 'cue-due' : ''} style={{ left: share(startsAt - begins), width: share(endsAt - startsAt) }}>
          {cue.name}
        </span>
      ))}
      {times.stretches.map(({ until, overMs, from }) => (
        <i key={`${from} ${until}`} className={overMs > 0 ? 'over' : ''} style={{ left: share(until - begins), width: share(Math.max(0, overMs)) }} />
      ))}
      {ran.map((each, index) => {
        const [from, to] = [within(each.at), within(ran[index + 1]?.at ?? at ?? each.at)];
        return <u key={each.at} style={{ left: share(from - begins), width: `calc(${share(to - from)} - 2px)` }} />;
      })}
      {at !== null && at >= begins && at <= last && <b style={{ left: share(at - begins) }} />}
    </div>
  );
}
