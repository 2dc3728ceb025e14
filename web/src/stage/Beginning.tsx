// The beginning of a show: the count, which only the host sees and hears, what comes at its end, and that microphones are open now.
import type { ShowView } from '@lantern/contract';
import { instant, SECOND_MS, sayTime } from '@lantern/core';
import { useEffect, useRef, useState } from 'react';
import { Form } from 'react-bootstrap';
import { useNow } from '../app/clock';
import { useStage } from './stage-store';

/** The count begins so long before the start, and is heard for the last seconds. */
const COUNTED_MS = 10 * SECOND_MS;
const HEARD_FROM = 5;
/** So long it is said that microphones are open now. */
const SIGN_MS = 6_000;

/** Over the programme, where it is seen by the host alone. */
export function Count({ startsAt, onTick }: { startsAt: number; onTick: () => void }) {
  const now = useNow(100);
  const left = startsAt - now;
  const second = left > 0 && left <= COUNTED_MS ? Math.ceil(left / SECOND_MS) : null;
  const tick = useRef(onTick);
  useEffect(() => {
    tick.current = onTick;
  });
  useEffect(() => {
    // Not at the end itself: microphones are open then.
    if (second !== null && second <= HEARD_FROM) tick.current();
  }, [second]);
  if (second === null) return null;
  return (
    <div className="count-down" role="timer" aria-label="Seconds to the start, seen here only">
      {second}
    </div>
  );
}

interface ChoiceProps {
  show: ShowView;
  /** What comes: a scene, or a cue. */
  first: string;
  onChoose: (byItself: boolean) => void;
}

/** What happens at the end of the count. */
export function AtTheStart({ show, first, onChoose }: ChoiceProps) {
  const byItself = useStage((state) => state.beginsByItself);
  return (
    <Form.Check
      id="begins-by-itself"
      className="small-words"
      checked={byItself}
      onChange={({ target }) => onChoose(target.checked)}
      label={`At ${sayTime(instant(show.startsAt), show.zone)} “${first}” comes by itself, and microphones open`}
    />
  );
}

/** Said where it cannot be overlooked, each time that microphones open. */
export function MicrophonesOpen({ open }: { open: boolean }) {
  const [said, setSaid] = useState(false);
  const before = useRef(open);
  useEffect(() => {
    const opened = open && !before.current;
    before.current = open;
    if (!opened) return setSaid(false);
    setSaid(true);
    const timer = setTimeout(() => setSaid(false), SIGN_MS);
    return () => clearTimeout(timer);
  }, [open]);
  return (
    <div className="microphones-open" role="status">
      {said && 'Your microphone is open now'}
    </div>
  );
}
