// A second factor of one's own: an app is shown a secret, proves that it has it, and spare codes are printed for when it is gone.
import type { SecondFactorStart, SecondFactorView, SpareCodes } from '@lantern/contract';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { create } from 'qrcode';
import { useEffect, useState, type FormEvent } from 'react';
import { Button, Form } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { onSharingHere } from '../app/sharing';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';

const SECOND_FACTOR = ['second-factor'];

type Step =
  { at: 'rest' } | { at: 'password'; to: 'begin' | 'spares' | 'away' } | { at: 'prove'; begun: SecondFactorStart } | { at: 'spares'; spares: string[] };

export function SecondFactor() {
  const queries = useQueryClient();
  const state = useQuery({ queryKey: SECOND_FACTOR, queryFn: () => server.get<SecondFactorView>('/api/me/second-factor') });
  const [step, setStep] = useState<Step>({ at: 'rest' });
  const [typed, setTyped] = useState('');
  const [trouble, setTrouble] = useState('');
  const [busy, setBusy] = useState(false);
  // What is shown here is for one pair of eyes: a screen that is shared has many.
  useEffect(() => onSharingHere(() => setStep({ at: 'rest' })), []);
  const go = (next: Step) => {
    setTyped('');
    setTrouble('');
    setStep(next);
  };
  const act = async (event: FormEvent, work: () => Promise<Step>) => {
    event.preventDefault();
    setBusy(true);
    setTrouble('');
    try {
      go(await work());
      await queries.invalidateQueries({ queryKey: SECOND_FACTOR });
    } catch (error) {
      setTrouble(wordsOf(error));
    } finally {
      setBusy(false);
    }
  };
  const withPassword = async (to: 'begin' | 'spares' | 'away'): Promise<Step> => {
    const password = { password: typed };
    if (to === 'begin') return { at: 'prove', begun: await server.post<SecondFactorStart>('/api/me/second-factor', password) };
    if (to === 'spares') return { at: 'spares', ...(await server.post<SpareCodes>('/api/me/second-factor/spares', password)) };
    await server.post('/api/me/second-factor/away', password);
    return { at: 'rest' };
  };
  if (!state.data) return null;
  const { on, sparesLeft } = state.data;
  return (
    <section aria-labelledby="second-factor" className="mb-5">
      <h2 id="second-factor">Second factor</h2>
      <p className="soft mb-2">
        {on
          ? `A code of your app is asked for besides your password. ${sparesLeft === 1 ? 'One spare code is' : `${sparesLeft} spare codes are`} left.`
          : 'Without one, whoever knows your password is in. With one, a code of an app on your telephone is asked for as well.'}
      </p>
      {step.at === 'rest' && (
        <span className="button-row">
          {on ? (
            <>
              <Button variant="quiet" size="sm" onClick={() => go({ at: 'password', to: 'spares' })}>
                New spare codes
              </Button>
              <Button variant="quiet" size="sm" onClick={() => go({ at: 'password', to: 'away' })}>
                Take it away
              </Button>
            </>
          ) : (
            <Button variant="outline-primary" size="sm" onClick={() => go({ at: 'password', to: 'begin' })}>
              Take a second factor
            </Button>
          )}
        </span>
      )}
      {step.at === 'password' && (
        <Form noValidate onSubmit={(event) => void act(event, () => withPassword(step.to))}>
          <Field id="factor-password" label="Your password, once more">
            <Form.Control type="password" autoFocus autoComplete="current-password" value={typed} onChange={({ target }) => setTyped(target.value)} />
          </Field>
          <Button type="submit" variant="outline-primary" size="sm" disabled={busy || !typed}>
            {step.to === 'away' ? 'Take it away' : 'Go on'}
          </Button>{' '}
          <Button variant="quiet" size="sm" onClick={() => go({ at: 'rest' })}>
            Leave it
          </Button>
        </Form>
      )}
      {step.at === 'prove' && (
        <Form
          noValidate
          onSubmit={(event) => void act(event, async () => ({ at: 'spares', ...(await server.put<SpareCodes>('/api/me/second-factor', { code: typed })) }))}
        >
          <p className="mb-2">Hold your app before this, or type the secret into it. Then type the code that it shows.</p>
          <QrCode of={step.begun.uri} />
          <p className="small-words">
            <code>{step.begun.secret.replace(/(.{4})(?=.)/g, '$1 ')}</code>
          </p>
          <Field id="factor-code" label="The code that it shows">
            <Form.Control autoComplete="one-time-code" inputMode="numeric" maxLength={7} value={typed} onChange={({ target }) => setTyped(target.value)} />
          </Field>
          <Button type="submit" size="sm" disabled={busy || typed.length < 6}>
            Turn it on
          </Button>{' '}
          <Button variant="quiet" size="sm" onClick={() => go({ at: 'rest' })}>
            Leave it
          </Button>
        </Form>
      )}
      {step.at === 'spares' && (
        <>
          <Notice kind="done">Print these or write them down: each opens once, for when your telephone is gone. They are not shown again.</Notice>
          <ul className="spare-codes">
            {step.spares.map((spare) => (
              <li key={spare}>
                <code>{spare}</code>
              </li>
            ))}
          </ul>
          <Button variant="outline-primary" size="sm" onClick={() => go({ at: 'rest' })}>
            I have them
          </Button>
        </>
      )}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </section>
  );
}

/** Modules that are left light around a code (ISO/IEC 18004, 6.3.8). */
const QUIET = 4;

/** Dark on light whatever the page: telephones read nothing else for sure. */
function QrCode({ of }: { of: string }) {
  const { modules } = create(of, { errorCorrectionLevel: 'M' });
  const side = modules.size + 2 * QUIET;
  const dark: string[] = [];
  for (let row = 0; row < modules.size; row++)
    for (let column = 0; column < modules.size; column++) if (modules.get(row, column)) dark.push(`M${column + QUIET} ${row + QUIET}h1v1h-1z`);
  return (
    <svg className="qr-code" viewBox={`0 0 ${side} ${side}`} role="img" aria-label="The secret, as a code for your app" shapeRendering="crispEdges">
      <rect width={side} height={side} fill="#fff" />
      <path d={dark.join('')} fill="#000" />
    </svg>
  );
}
