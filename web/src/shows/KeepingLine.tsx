// Whether everything typed is kept, by whom the sheet was changed last, and the way back.
import type { ShowDraft, ShowView } from '@lantern/contract';
import { instant, sayDistance, sayTime, SHEET } from '@lantern/core';
import { Check, Undo2 } from 'lucide-react';
import { useEffect } from 'react';
import { Button } from 'react-bootstrap';
import { serverNow } from '../app/clock';
import { useMe } from '../people/me';
import { Notice } from '../look/Notice';
import { draftOf } from './sheet-draft';
import { sectionOf } from './sections';
import type { Conflict, SheetKeeping } from './sheet-keeping';

export function KeepingLine({ show, keeping, editable }: { show: ShowView; keeping: SheetKeeping; editable: boolean }) {
  const me = useMe();
  const { kept, conflicts, undo } = keeping;
  const takeBack = undo?.undo;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.closest('input[type=text], textarea, input:not([type])');
      if (event.key === 'z' && (event.ctrlKey || event.metaKey) && !event.shiftKey && !typing && takeBack) {
        event.preventDefault();
        takeBack();
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [takeBack]);
  if (!editable) return <p className="soft small-words mb-0">This show can no longer be changed.</p>;
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const by = show.changedBy === null || show.changedBy === me.data?.name ? '' : ` by ${show.changedBy}`;
  const words = {
    kept: `Kept${by}, ${sayTime(instant(show.changedAt), here, false)}`,
    typing: 'Not kept yet…',
    keeping: 'Keeping…',
    'not kept': 'Not kept',
  };
  return (
    <>
      <p className="keeping-line soft small-words">
        {kept.state === 'kept' && <Check size={15} aria-hidden="true" />}
        {words[kept.state]}
        {undo && (
          <Button
            variant="quiet"
            size="sm"
            onClick={() => {
              undo.undo();
              // The button may go with the last change that it takes back: one goes on where that was.
              document.getElementById(`${sectionOf(undo.fields[0]!) ?? 'what'}-switch`)?.focus({ preventScroll: true });
            }}
          >
            <Undo2 size={14} aria-hidden="true" /> Undo the {[...new Set(undo.fields.map((field) => SHEET[field].words))].slice(0, 2).join(' and ')}
          </Button>
        )}
      </p>
      {keeping.broughtBack !== null && kept.state !== 'kept' && (
        <Notice kind="caution">What you typed {sayDistance(keeping.broughtBack - serverNow())} and could not be kept then has been put back.</Notice>
      )}
      {kept.trouble && (
        <Notice kind="refusal">
          {kept.trouble}{' '}
          <Button variant="quiet" size="sm" onClick={() => void keeping.keepNow()}>
            Keep it now
          </Button>
        </Notice>
      )}
      {conflicts.map((conflict) => (
        <ConflictNotice key={conflict.field} conflict={conflict} show={show} keeping={keeping} />
      ))}
    </>
  );
}

/** Two people typed in one field: theirs stands, mine is offered. */
function ConflictNotice({ conflict, show, keeping }: { conflict: Conflict; show: ShowView; keeping: SheetKeeping }) {
  const { field, by, mine } = conflict;
  const short = (value: unknown) =>
    typeof value === 'string' && value.length > 60 ? `${value.slice(0, 60)}…` : typeof value === 'object' ? '' : String(value);
  const theirs = short(draftOf(show)[field as keyof ShowDraft]);
  const own = short(mine[field]);
  return (
    <Notice kind="caution">
      {by} changed the {SHEET[field].words} while you typed{theirs && `: “${theirs}”`}.{own && ` Yours was “${own}”.`}{' '}
      <span className="d-flex gap-3">
        <Button variant="quiet" size="sm" onClick={() => keeping.yieldTo(conflict)}>
          Leave theirs
        </Button>
        <Button variant="quiet" size="sm" onClick={() => keeping.insist(conflict)}>
          Put mine in its place
        </Button>
      </span>
    </Notice>
  );
}
