// Something that a check, a network or the server has to say. Always a mark and words.
import { Check, OctagonX, TriangleAlert } from 'lucide-react';
import type { ReactNode } from 'react';

const MARKS = { refusal: OctagonX, caution: TriangleAlert, done: Check };
/** For whoever does not see the mark. What was refused is told as it happens; what stands beside the work is an objection. What was done says so itself. */
const SAID = { refusal: { live: 'Refused: ', still: 'Objection: ' }, caution: { live: 'Mind: ', still: 'Mind: ' }, done: { live: '', still: '' } };

export function Notice({ kind, children, live = true }: { kind: keyof typeof MARKS; children: ReactNode; live?: boolean }) {
  const Mark = MARKS[kind];
  return (
    <div className={`notice ${kind} small-words`} role={live ? (kind === 'refusal' ? 'alert' : 'status') : undefined}>
      <Mark size={17} aria-hidden="true" />
      <div>
        <span className="visually-hidden">{SAID[kind][live ? 'live' : 'still']}</span>
        {children}
      </div>
    </div>
  );
}
