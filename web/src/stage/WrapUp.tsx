import type { AirView } from '@lantern/contract';
import { Button, Modal } from 'react-bootstrap';
import { Identity } from '../look/Identity';

/** Asks once before a show is ended everywhere, and says what that means. */
export function WrapUp({ air, onClose, onWrap }: { air: AirView; onClose: () => void; onWrap: () => void }) {
  const running = air.airings.filter(({ lamp }) => lamp !== 'out');
  return (
    <Modal show onHide={onClose} aria-labelledby="wrap-title" data-bs-theme="dusk">
      <Modal.Header closeButton>
        <h2 id="wrap-title" className="mb-0">
          Wrap up the show?
        </h2>
      </Modal.Header>
      <Modal.Body>
        <p>It ends on every channel and cannot be started again there:</p>
        <ul className="list-unstyled">
          {running.map(({ airingId, channel }) => (
            <li key={airingId} className="mb-2">
              <Identity of={channel} />
            </li>
          ))}
        </ul>
        <p className="mb-0">For a pause, take the holding card instead. The recording is kept either way.</p>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={onClose} autoFocus>
          Stay on air
        </Button>
        <Button onClick={onWrap}>Wrap up everywhere</Button>
      </Modal.Footer>
    </Modal>
  );
}
