// Before a sheet is left with words on it that are not kept: they are kept first, and where that cannot be, one is asked.
import { useEffect, useState } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { useBlocker } from 'react-router';
import type { SheetKeeping } from './sheet-keeping';

export function LeaveUnkept({ keeping }: { keeping: SheetKeeping }) {
  const unkept = keeping.kept.state !== 'kept';
  const { keepNow } = keeping;
  const blocker = useBlocker(({ currentLocation, nextLocation }) => unkept && currentLocation.pathname !== nextLocation.pathname);
  const [asks, setAsks] = useState(false);
  useEffect(() => {
    if (blocker.state !== 'blocked') return;
    let left = false;
    void keepNow().then((kept) => {
      if (left) return;
      if (kept) blocker.proceed();
      else setAsks(true);
    });
    return () => {
      left = true;
    };
  }, [blocker, keepNow]);
  useEffect(() => {
    if (!unkept) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [unkept]);
  if (blocker.state !== 'blocked' || !asks) return null;
  const stay = () => {
    setAsks(false);
    blocker.reset();
  };
  return (
    <Modal show onHide={stay} aria-labelledby="unkept-title">
      <Modal.Header closeButton>
        <h2 id="unkept-title" className="mb-0">
          Leave with words that are not kept?
        </h2>
      </Modal.Header>
      <Modal.Body>
        <p className="mb-0">
          {keeping.kept.trouble || 'The server does not answer.'} This browser holds a copy: when you open the sheet here again, it is put back and kept.
        </p>
      </Modal.Body>
      <Modal.Footer>
        <Button
          variant="outline-primary"
          onClick={() => {
            setAsks(false);
            blocker.proceed();
          }}
        >
          Leave
        </Button>
        <Button autoFocus onClick={stay}>
          Stay on the sheet
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
