// What stands over the programme while viewers see the break card: why, what the card says, and the way on.
import type { AirView } from '@lantern/contract';
import { instant, MINUTE_MS, sayCard, sayClock } from '@lantern/core';
import { Button } from 'react-bootstrap';
import { serverNow, useNow } from '../app/clock';

const BREAKS_MIN = [5, 10, 15];

interface Props {
  air: AirView;
  zone: string;
  /** Whether anything can be pressed here at this moment. */
  disabled: boolean;
  onBreak: (backAt: number | null) => void;
  onResume: () => void;
}

export function BreakCard({ air, zone, disabled, onBreak, onResume }: Props) {
  const now = useNow(1_000);
  const chosen = air.chosen === 'break card';
  if (!chosen && air.source !== 'break card') return null;
  const backAt = air.backAt === null ? null : instant(air.backAt);
  // The card tells the hour and the minute: rounded up, so that nobody is late.
  const inMinutes = (minutes: number) => Math.ceil((serverNow() + minutes * MINUTE_MS) / MINUTE_MS) * MINUTE_MS;
  return (
    <div className="break-card" role="group" aria-label="Break card">
      <p className="mb-0" role="status">
        {sayCard({ chosen, reason: air.sourceReason, backAt, zone })}
      </p>
      {air.cardSince !== null && <span className="soft small-words">For {sayClock(Math.max(0, now - air.cardSince))}</span>}
      {chosen && (
        <div className="break-presses">
          <Button onClick={onResume} disabled={disabled}>
            Resume <kbd className="key ms-2">B</kbd>
          </Button>
          <span className="small-words">Tell viewers when you are back:</span>
          {BREAKS_MIN.map((minutes) => (
            <Button key={minutes} variant="outline-primary" size="sm" disabled={disabled} onClick={() => onBreak(inMinutes(minutes))}>
              in {minutes} min
            </Button>
          ))}
          {backAt !== null && (
            <Button variant="quiet" size="sm" disabled={disabled} onClick={() => onBreak(null)}>
              Say no time
            </Button>
          )}
        </div>
      )}
    </div>
  );
}
