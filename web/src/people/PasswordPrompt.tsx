import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { Field } from '../look/Field';

/** Asks for the password once more before something secret is shown. */
export function PasswordPrompt({ onClose, onGiven }: { onClose: () => void; onGiven: () => void }) {
  const [password, setPassword] = useState('');
  const [refused, setRefused] = useState('');
  const [busy, setBusy] = useState(false);
  const give = async () => {
    setBusy(true);
    setRefused('');
    try {
      await server.post('/api/session/password', { password });
      onGiven();
    } catch (error) {
      setRefused(wordsOf(error));
      setBusy(false);
    }
  };
  return (
    <Modal show onHide={onClose} aria-labelledby="password-title">
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          event.stopPropagation();
          void give();
        }}
      >
        <Modal.Header closeButton>
          <h2 id="password-title" className="mb-0">
            Is it still you?
          </h2>
        </Modal.Header>
        <Modal.Body>
          <p>Whoever has a key can send a picture to the channel. Give your password; it is good for the next five minutes.</p>
          <Field id="password-again" label="Your password" trouble={refused || undefined} className="mb-0">
            <Form.Control
              type="password"
              autoComplete="current-password"
              autoFocus
              value={password}
              isInvalid={!!refused}
              onChange={(event) => setPassword(event.target.value)}
            />
          </Field>
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={onClose}>
            Leave it
          </Button>
          <Button type="submit" disabled={busy || !password}>
            Go on
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
