// The running order over the stage: the evening in time, where the clock stands in it, what is due by the plan, and the notes of that.
import type { ShowView } from '@lantern/contract';
import { dueAt, instant, runningOrderTimes, sayDue } from '@lantern/core';
import { useMemo } from 'react';
import { useNow } from '../app/clock';
import { OrderStrip } from '../look/OrderStrip';

export function OrderOnStage({ show }: { show: ShowView }) {
  const now = useNow(1_000);
  const { cues, startsAt, lengthMs, zone } = show;
  const times = useMemo(
    () => runningOrderTimes(cues, { startsAt: instant(startsAt), endsAt: instant(startsAt + lengthMs), zone }),
    [cues, startsAt, lengthMs, zone],
  );
  if (!cues.length) return null;
  const due = dueAt(times, now).now?.cue;
  return (
    <section className="order-on-stage" aria-label="Running order">
      <OrderStrip times={times} at={now} />
      <p className="small-words mb-0">
        <b>By the plan:</b> {sayDue(times, now, zone)}
        {due?.who && <span className="soft"> {due.who}.</span>}
        {due?.notes && ` — ${due.notes}`}
      </p>
    </section>
  );
}
