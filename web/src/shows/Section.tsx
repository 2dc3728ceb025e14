// One section of a sheet. Settled it is a line of plain facts that opens at a touch; open it is the form. What is to be decided in it
// stands beneath its name either way, with what puts it right.
import { ChevronDown, ChevronRight } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { instant, sayTime, type Instant } from '@lantern/core';
import { Notice } from '../look/Notice';
import { fixWords } from './fixes';
import type { Need } from './judged';
import { useSectionState, type SectionId } from './sections';

/** What can be done about a need without opening anything. */
export interface NeedActs {
  zone: string;
  onFix: (need: Need) => void;
  onLine: (channelId: string, lineId: string) => void;
  onStart: (startsAt: Instant) => void;
  onLooked: (need: Need) => void;
}

interface Props {
  id: SectionId;
  name: string;
  /** The section in a sentence or two, while it is settled. */
  facts: ReactNode;
  needs?: readonly Need[];
  acts?: NeedActs;
  /** Its fields only show what they hold. */
  still?: boolean;
  /** What can be done whether its fields can be changed or not. */
  beside?: ReactNode;
  children: ReactNode;
}

export function Section({ id, name, facts, needs = [], acts, still = false, beside, children }: Props) {
  const { isOpen, setOpen } = useSectionState();
  const open = isOpen(id);
  const own = needs.filter(({ section }) => section === id);
  const Mark = open ? ChevronDown : ChevronRight;
  return (
    <section id={id} aria-labelledby={`${id}-heading`} className={`part ${open ? 'open' : 'settled'}`}>
      <h2 id={`${id}-heading`}>
        <button type="button" id={`${id}-switch`} aria-expanded={open} aria-describedby={open ? undefined : `${id}-facts`} onClick={() => setOpen(id, !open)}>
          {name}
          <Mark size={16} aria-hidden="true" />
        </button>
      </h2>
      {!open && (
        <div id={`${id}-facts`} className="facts">
          {facts}
        </div>
      )}
      {own.length > 0 && acts && (
        <div className="needs">
          {own.map((need) => (
            <NeedNotice key={need.key} need={need} acts={acts} />
          ))}
        </div>
      )}
      {open && (
        <fieldset disabled={still} aria-labelledby={`${id}-heading`} className="part-form">
          {children}
        </fieldset>
      )}
      {open && beside}
    </section>
  );
}

/** One thing to decide, and its ways out. */
function NeedNotice({ need, acts }: { need: Need; acts: NeedActs }) {
  const { kind, words, channel, finding, clash, toLook } = need;
  const ways = clash?.ways;
  return (
    <div className="need" id={needId(need)} tabIndex={-1} role="group" aria-label={kind === 'refusal' ? 'Objection' : 'To look at'}>
      <Notice kind={kind} live={false}>
        {words}{' '}
        <span className="button-row">
          {finding?.fix && (
            <Button variant="quiet" size="sm" onClick={() => acts.onFix(need)}>
              {fixWords(finding)}
            </Button>
          )}
          {toLook && (
            <Button variant="quiet" size="sm" onClick={() => acts.onLooked(need)}>
              It is right
            </Button>
          )}
          {need.key.startsWith('standing ') && <Link to={`/channels/${channel!.id}`}>See its standing</Link>}
          {clash && <Link to={`/shows/${clash.rivalId}`}>Open {clash.rivalTitle}</Link>}
          {ways?.lineIds.slice(0, 3).map((lineId) => (
            <Button key={lineId} variant="quiet" size="sm" onClick={() => acts.onLine(clash!.channelId!, lineId)}>
              Use the line “{clash!.lineNames.get(lineId)}”
            </Button>
          ))}
          {ways && ways.startsAt !== null && (
            <Button variant="quiet" size="sm" onClick={() => acts.onStart(instant(ways.startsAt!))}>
              Move the start to {sayTime(instant(ways.startsAt), acts.zone)}
            </Button>
          )}
        </span>
      </Notice>
    </div>
  );
}

/** Where a need stands on the page. */
export const needId = ({ key }: Need): string => `need-${key.replace(/[^a-z0-9]+/gi, '-')}`;
