import { Modal } from 'react-bootstrap';
import { STAGE_KEYS } from './stage-keys';

export function KeysHelp({ onClose }: { onClose: () => void }) {
  return (
    <Modal show onHide={onClose} aria-labelledby="keys-title" data-bs-theme="dusk">
      <Modal.Header closeButton>
        <h2 id="keys-title" className="mb-0">
          Keys on the stage
        </h2>
      </Modal.Header>
      <Modal.Body>
        <dl className="mb-0">
          {STAGE_KEYS.map(({ key, does }) => (
            <div key={key} className="d-flex gap-3 py-1">
              <dt style={{ minWidth: '5rem' }}>
                <kbd className="key">{key}</kbd>
              </dt>
              <dd className="mb-0">{does}</dd>
            </div>
          ))}
        </dl>
        <p className="soft small-words mt-3 mb-0">Wrapping up has no key: it asks first.</p>
      </Modal.Body>
    </Modal>
  );
}
