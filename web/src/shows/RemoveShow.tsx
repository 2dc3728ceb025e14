// Takes a show away that stands nowhere: after saying what goes with it, and with a day to think again.
import type { RemovedView, ShowView } from '@lantern/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { offerUndo } from '../app/removed';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';

export function RemoveShow({ show }: { show: ShowView }) {
  const [asking, setAsking] = useState(false);
  const [trouble, setTrouble] = useState('');
  const queries = useQueryClient();
  const navigate = useNavigate();
  const over = show.state === 'over';
  const title = show.title || 'this show';
  const remove = async () => {
    try {
      offerUndo(await server.delete<RemovedView>(`/api/shows/${show.id}`));
      setAsking(false);
      await navigate('/');
      queries.removeQueries({ queryKey: ['show', show.id] });
      await Promise.all(['shows', 'plan'].map((queryKey) => queries.invalidateQueries({ queryKey: [queryKey] })));
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <>
      <Button variant="quiet" size="sm" onClick={() => setAsking(true)}>
        Remove the show…
      </Button>
      <Modal show={asking} onHide={() => setAsking(false)} aria-labelledby="remove-title">
        <Modal.Header closeButton>
          <h2 id="remove-title" className="mb-0">
            Remove {title}?
          </h2>
        </Modal.Header>
        <Modal.Body>
          {over ? (
            <p>
              Its recording, its report and its page are lost, and its figures with them. What stands on the channels stays there: remove it on each of them if
              it is to go.
            </p>
          ) : (
            <p>Its sheet, its pictures, and who was invited or asked to be reminded are lost.</p>
          )}
          {show.series && !over && <p>It is one date of a series: that date is dropped, and the others stay.</p>}
          <p className="mb-0">For a day it can be brought back, under Station.</p>
          {trouble && <Notice kind="refusal">{trouble}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" autoFocus onClick={() => setAsking(false)}>
            Leave it
          </Button>
          <Button variant="danger" onClick={() => void remove()}>
            Remove it
          </Button>
        </Modal.Footer>
      </Modal>
    </>
  );
}
