// The show's own dated line of work, down the left edge.
import type { ShowView } from '@lantern/contract';
import { instant, MINUTE_MS, sayTime, type Instant } from '@lantern/core';
import { Check, Circle, CircleDot } from 'lucide-react';

interface Props {
  show: ShowView | null;
  startsAt: Instant | null;
  lengthMin: number;
  zone: string;
}

/** Early viewers come in the last minutes before the start; the holding card should be up by then. */
const HOLDING_CARD_BEFORE_MS = 10 * MINUTE_MS;

export function Milestones({ show, startsAt, lengthMin, zone }: Props) {
  const at = (ms: number) => (startsAt === null ? '' : sayTime(instant(startsAt + ms), zone, false));
  const placed = show?.airings.filter(({ placing }) => placing === 'placed' || placing === 'awaits air').length ?? 0;
  const all = show?.airings.length ?? 0;
  const begun = show !== null && !['draft', 'placed', 'withdrawn'].includes(show.state);
  const over = show?.state === 'over';
  const steps = [
    { name: 'Draft', note: show ? 'kept' : 'not kept yet', done: show !== null },
    { name: 'Place', note: all ? `${placed} of ${all} channels` : 'tick a channel', done: all > 0 && placed === all },
    { name: 'Holding card', note: at(-HOLDING_CARD_BEFORE_MS), done: begun },
    { name: 'On air', note: at(0), done: begun },
    { name: 'Wrap', note: at((lengthMin || 0) * MINUTE_MS), done: over },
  ];
  const next = steps.findIndex(({ done }) => !done);
  return (
    <ol className="milestones" aria-label="Milestones">
      {steps.map(({ name, note, done }, index) => (
        <li key={name} className={index === next ? 'fw-bold' : ''} aria-current={index === next ? 'step' : undefined}>
          {done ? (
            <Check size={13} strokeWidth={3} aria-label="Done" />
          ) : index === next ? (
            <CircleDot size={13} aria-label="Next" />
          ) : (
            <Circle size={13} aria-label="Later" />
          )}
          {name}
          <div className="soft fw-normal">{note}</div>
        </li>
      ))}
    </ol>
  );
}
