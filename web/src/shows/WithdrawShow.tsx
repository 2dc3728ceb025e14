import type { ChannelResult, PlaceResult, ShowView } from '@lantern/contract';
import { rulesFor, sayWithdrawing } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { Identity } from '../look/Identity';
import { Notice } from '../look/Notice';

/** Takes a show off all its channels, after saying what is lost. */
export function WithdrawShow({ show, onDone }: { show: ShowView; onDone: (results: ChannelResult[]) => void }) {
  const [asking, setAsking] = useState(false);
  const [refused, setRefused] = useState('');
  const [busy, setBusy] = useState(false);
  const queries = useQueryClient();
  const withdraw = async () => {
    setBusy(true);
    try {
      const { show: after, results } = await server.post<PlaceResult>(`/api/shows/${show.id}/withdraw`);
      queries.setQueryData(['show', show.id], after);
      await queries.invalidateQueries({ queryKey: ['shows'] });
      setAsking(false);
      onDone(results);
    } catch (error) {
      setRefused(wordsOf(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <Button variant="quiet" className="ms-auto" onClick={() => setAsking(true)}>
        Withdraw…
      </Button>
      <Modal show={asking} onHide={() => setAsking(false)} aria-labelledby="withdraw-title">
        <Modal.Header closeButton>
          <h2 id="withdraw-title" className="mb-0">
            Withdraw this show?
          </h2>
        </Modal.Header>
        <Modal.Body>
          <p>Its watch addresses stop working, and people who were reminded there are lost.</p>
          <ul className="list-unstyled mb-0">
            {show.airings
              .filter(({ placing }) => placing === 'placed')
              .map(({ id, channel }) => (
                <li key={id} className="mb-3">
                  <Identity of={channel}>
                    <span className="small-words">{sayWithdrawing(rulesFor(channel.network, channel.kind))}</span>
                  </Identity>
                </li>
              ))}
          </ul>
          {refused && <Notice kind="refusal">{refused}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={() => setAsking(false)}>
            Leave it placed
          </Button>
          <Button variant="danger" disabled={busy} onClick={() => void withdraw()}>
            Withdraw everywhere
          </Button>
        </Modal.Footer>
      </Modal>
    </>
  );
}
