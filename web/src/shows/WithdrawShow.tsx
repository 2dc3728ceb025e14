import type { PlaceResult, ShowView } from '@lantern/contract';
import { rulesFor, sayWithdrawing } from '@lantern/core';
import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { server } from '../app/server';
import { Identity } from '../look/Identity';
import type { Run } from './sheet-acts';

const LEFT = ['placed', 'unsure', 'awaits air', 'awaits reach'];

/** Takes a show off its channels, all or some, after saying what is lost on each. */
export function WithdrawShow({ show, run, busy }: { show: ShowView; run: Run; busy: boolean }) {
  const [asking, setAsking] = useState(false);
  /** What was answered takes the focus then, and not the button that was pressed before. */
  const [answered, setAnswered] = useState(false);
  const [spared, setSpared] = useState<string[]>([]);
  const standing = show.airings.filter(({ placing }) => LEFT.includes(placing));
  const meant = standing.filter(({ id }) => !spared.includes(id));
  const already = show.airings.some(({ placing }) => placing === 'withdrawn');
  const everywhere = meant.length === standing.length;
  const withdraw = () => {
    setAsking(false);
    setAnswered(true);
    void run(() => server.post<PlaceResult>(`/api/shows/${show.id}/withdraw`, everywhere ? {} : { airingIds: meant.map(({ id }) => id) }));
  };
  return (
    <>
      <Button
        variant="quiet"
        size="sm"
        disabled={busy}
        onClick={() => {
          setAnswered(false);
          setAsking(true);
        }}
      >
        {already ? 'Finish withdrawing…' : 'Withdraw…'}
      </Button>
      <Modal show={asking} onHide={() => setAsking(false)} restoreFocus={!answered} aria-labelledby="withdraw-title">
        <Modal.Header closeButton>
          <h2 id="withdraw-title" className="mb-0">
            Withdraw this show?
          </h2>
        </Modal.Header>
        <Modal.Body>
          <p>Its watch addresses stop working, and people who were reminded there are lost.</p>
          <ul className="list-unstyled mb-0">
            {standing.map(({ id, channel, placing }) => (
              <li key={id} className="mb-3 d-flex gap-3">
                <Form.Check
                  id={`withdraw-${id}`}
                  checked={!spared.includes(id)}
                  onChange={({ target }) => setSpared(target.checked ? spared.filter((each) => each !== id) : [...spared, id])}
                  aria-label={`Withdraw from ${channel.name}`}
                />
                <Identity of={channel}>
                  <span className="small-words">
                    {placing === 'placed' || placing === 'unsure' ? sayWithdrawing(rulesFor(channel.network, channel.kind)) : 'Nothing stands there yet.'}
                  </span>
                </Identity>
              </li>
            ))}
          </ul>
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={() => setAsking(false)}>
            Leave it placed
          </Button>
          <Button variant="danger" disabled={!meant.length} onClick={withdraw}>
            {everywhere ? 'Withdraw everywhere' : `Withdraw from ${meant.length === 1 ? '1 channel' : `${meant.length} channels`}`}
          </Button>
        </Modal.Footer>
      </Modal>
    </>
  );
}
