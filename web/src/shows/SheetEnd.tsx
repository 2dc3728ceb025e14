// What else can be done with a show as a whole: begin another from it, look at its channels, take it off them, remove it.
import type { PlaceResult, ShowView } from '@lantern/contract';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { useRehearse } from './RehearsalFields';
import { RemoveShow } from './RemoveShow';
import type { Run } from './sheet-acts';
import { WithdrawShow } from './WithdrawShow';

export function SheetEnd({ show, editable, busy, run }: { show: ShowView; editable: boolean; busy: boolean; run: Run }) {
  const navigate = useNavigate();
  const [naming, setNaming] = useState(false);
  const [name, setName] = useState(show.title);
  const [said, setSaid] = useState<{ kind: 'done' | 'refusal'; words: string } | null>(null);
  const stands = show.airings.some(({ placing }) => placing === 'placed');
  const removable = show.state === 'over' || (editable && !show.airings.some(({ placing }) => placing === 'placed' || placing === 'unsure'));
  const again = async () => {
    try {
      const next = await server.post<ShowView>(`/api/shows/${show.id}/again`);
      await navigate(`/shows/${next.id}`);
    } catch (error) {
      setSaid({ kind: 'refusal', words: wordsOf(error) });
    }
  };
  const toRehearsal = useRehearse(show.id);
  const rehearse = () => toRehearsal().catch((error: unknown) => setSaid({ kind: 'refusal', words: wordsOf(error) }));
  const keep = async () => {
    try {
      await server.post(`/api/shows/${show.id}/template`, { name });
      setNaming(false);
      setSaid({ kind: 'done', words: `Kept as the template “${name}”. New shows can start from it.` });
    } catch (error) {
      setSaid({ kind: 'refusal', words: wordsOf(error) });
    }
  };
  return (
    <div className="sheet-end small-words">
      <span className="d-flex flex-wrap gap-3 align-items-center">
        <Button variant="quiet" size="sm" onClick={() => void again()}>
          Do it again next time
        </Button>
        {show.state === 'draft' && show.pictureFrom !== 'encoder' && (
          <Button variant="quiet" size="sm" onClick={() => void rehearse()}>
            Rehearse it
          </Button>
        )}
        {!naming && (
          <Button variant="quiet" size="sm" onClick={() => setNaming(true)}>
            Keep as a template…
          </Button>
        )}
        {editable && stands && (
          <Button variant="quiet" size="sm" disabled={busy} onClick={() => void run(() => server.post<PlaceResult>(`/api/shows/${show.id}/look`))}>
            Look at the channels now
          </Button>
        )}
        {editable && show.state === 'placed' && <WithdrawShow show={show} run={run} busy={busy} />}
        {removable && <RemoveShow show={show} />}
      </span>
      {naming && (
        <span className="d-flex gap-2 mt-2">
          <Form.Control size="sm" autoFocus aria-label="Name of the template" value={name} onChange={({ target }) => setName(target.value)} />
          <Button size="sm" variant="outline-primary" onClick={() => void keep()}>
            Keep it
          </Button>
        </span>
      )}
      {said && <Notice kind={said.kind}>{said.words}</Notice>}
    </div>
  );
}
