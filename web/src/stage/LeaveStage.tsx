// A stage that sends is not left by a slip of the hand: its picture would be gone from every channel.
import { useEffect } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { useBlocker } from 'react-router';

export function LeaveStage({ sends, showId }: { sends: boolean; showId: string }) {
  const blocker = useBlocker(({ nextLocation }) => sends && nextLocation.pathname !== `/shows/${showId}/report`);
  useEffect(() => {
    if (!sends) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [sends]);
  if (blocker.state !== 'blocked') return null;
  return (
    <Modal show onHide={() => blocker.reset()} aria-labelledby="leave-title" data-bs-theme="dusk">
      <Modal.Header closeButton>
        <h2 id="leave-title" className="mb-0">
          Leave the stage?
        </h2>
      </Modal.Header>
      <Modal.Body>
        <p className="mb-0">
          You are on air. Your picture and your sound stop on every channel when you leave; the show goes on, and viewers see the break card.
        </p>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={() => blocker.proceed()}>
          Leave
        </Button>
        <Button onClick={() => blocker.reset()} autoFocus>
          Stay on the stage
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
