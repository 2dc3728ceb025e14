// What comes on an outside line, in words: what it is, what keeps it from going out as it comes, and what is done about that.
import type { OutsideArrival } from '@lantern/contract';
import { NORMALISED, otherTroubles, reasonsToNormalise, sayOutsideFacts, sayOutsideTrouble } from '@lantern/core';
import { Notice } from '../look/Notice';

export function Arrives({ arrives }: { arrives: OutsideArrival | null }) {
  if (!arrives) return <span className="soft">Nothing at this moment.</span>;
  const reasons = reasonsToNormalise(arrives.facts);
  return (
    <>
      <span>{sayOutsideFacts(arrives.facts)}.</span>
      {[...reasons, ...otherTroubles(arrives.facts)].map((trouble) => (
        <Notice key={sayOutsideTrouble(trouble)} kind="caution" live={false}>
          {sayOutsideTrouble(trouble)}
        </Notice>
      ))}
      {reasons.length > 0 && <p className="small-words soft mb-0">{NORMALISED}</p>}
    </>
  );
}
