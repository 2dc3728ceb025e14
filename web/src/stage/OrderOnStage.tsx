// The running order over the stage: the evening in time, what of it has been begun and when, and what a take begins next.
import type { ShowView } from '@lantern/contract';
import { dueAt, instant, runningNow, runningOrderTimes, sayDue, sayMoment, sayRunning, type CueRan } from '@lantern/core';
import { useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { useNow } from '../app/clock';
import { OrderStrip } from '../look/OrderStrip';
import { lessonsFor, useLessons } from '../lessons/lessons';
import { CueNotes } from './CueNotes';

interface Props {
  show: ShowView;
  onAir: boolean;
  ran: readonly CueRan[];
  /** The cue that the next take begins. */
  nextCue: string | null;
  onChooseCue: () => void;
}

export function OrderOnStage({ show, onAir, ran, nextCue, onChooseCue }: Props) {
  const now = useNow(1_000);
  const lessons = useLessons(show.id);
  const { cues, startsAt, lengthMs, zone } = show;
  const times = useMemo(
    () => runningOrderTimes(cues, { startsAt: instant(startsAt), endsAt: instant(startsAt + lengthMs), zone }),
    [cues, startsAt, lengthMs, zone],
  );
  if (!cues.length) return null;
  const running = onAir ? runningNow(times, ran, now) : null;
  // Until the first is begun, what the plan says.
  const on = running ? running.on : dueAt(times, now).now;
  const next = running ? running.next : times.cues[0];
  const before = on ? lessonsFor(lessons.data, on.cue.name) : [];
  const late = running && (running.leftMs < 0 || running.lateMs >= 1_000);
  return (
    <section className="order-on-stage" aria-label="Running order">
      <OrderStrip times={times} at={now} ran={running ? ran : []} on={running ? (running.on?.cue.id ?? '') : null} />
      <div className="order-words small-words">
        <p className="mb-0">
          {!running && <b>By the plan: </b>}
          <span className={late ? 'late-word' : ''}>{running ? sayRunning(running, zone) : sayDue(times, now, zone)}</span>
          {running && running.next && <span className="soft"> At this pace the end is {sayMoment(running.endsAt, zone)}.</span>}
          {on?.cue.who && <span className="soft"> {on.cue.who}.</span>}
          {on?.cue.notes && ` — ${on.cue.notes}`}
          {before.length > 0 && <span className="soft"> Last time: {before.join(' ')}</span>}
        </p>
        {onAir && next && (
          <Button variant="quiet" size="sm" aria-pressed={nextCue === next.cue.id} onClick={onChooseCue}>
            {nextCue === next.cue.id ? 'A take begins' : 'Have a take begin'} “{next.cue.name.trim() || 'a cue without a name'}” <kbd className="key">C</kbd>
          </Button>
        )}
        <CueNotes cue={on?.cue ?? null} next={next?.cue ?? null} before={before} />
      </div>
    </section>
  );
}
