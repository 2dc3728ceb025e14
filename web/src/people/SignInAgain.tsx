// Asked wherever one is when the session has run out: the page beneath stays as it is.
import type { Me } from '@lantern/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { useMe } from './me';
import { server, ServerError, wordsOf } from '../app/server';
import { settleSignIn, useSession } from '../app/session';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { CodeField } from './CodeField';

export function SignInAgain() {
  const asks = useSession(({ asks }) => asks);
  return asks ? <Asking /> : null;
}

function Asking() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const before = useMe().data;
  const [password, setPassword] = useState('');
  // Null: nobody has asked for one.
  const [code, setCode] = useState<string | null>(null);
  const [trouble, setTrouble] = useState('');
  const [busy, setBusy] = useState(false);
  const again = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    setTrouble('');
    try {
      const me = await server.post<Me>('/api/session', { email: before?.email ?? '', password, ...(code && { code }) });
      queries.setQueryData(['me'], me);
      settleSignIn(true);
    } catch (error) {
      const wantsCode = error instanceof ServerError && error.needs === 'code';
      if (wantsCode) setCode('');
      if (!wantsCode || code !== null) setTrouble(wordsOf(error));
      setBusy(false);
    }
  };
  const leave = () => {
    settleSignIn(false);
    queries.clear();
    void navigate('/sign-in');
  };
  return (
    <Modal show backdrop="static" keyboard={false} aria-labelledby="again-title">
      <Form noValidate onSubmit={(event) => void again(event)}>
        <Modal.Header>
          <h2 id="again-title" className="mb-0">
            Sign in again
          </h2>
        </Modal.Header>
        <Modal.Body>
          <p>Your sign-in has run out or was ended elsewhere. All that you typed is still here, and a show on air goes on.</p>
          <p className="mb-2">
            <span className="soft">As</span> {before?.name}, {before?.email}
          </p>
          <input type="email" hidden autoComplete="username" value={before?.email ?? ''} readOnly />
          <Field id="again-password" label="Password">
            <Form.Control type="password" autoFocus autoComplete="current-password" value={password} onChange={({ target }) => setPassword(target.value)} />
          </Field>
          {code !== null && <CodeField value={code} onChange={setCode} />}
          {trouble && <Notice kind="refusal">{trouble}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="quiet" type="button" onClick={leave}>
            Leave this page
          </Button>
          <Button type="submit" disabled={busy || !password}>
            Sign in
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
