// An ingest address and a key, as people paste them: a key at the end of the address is offered to be
// split off, a line break at the end of a key is taken off and said, and both can be tried.
import type { TrialResult } from '@lantern/contract';
import { readIngestAddress, readKey } from '@lantern/core';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useFormContext, useWatch } from 'react-hook-form';
import { server, wordsOf } from '../app/server';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';

interface Fields {
  address: string;
  key: string;
}

export function AddressAndKey() {
  const { register, setValue, control, formState, trigger } = useFormContext<Fields>();
  const [address = '', key = ''] = useWatch({ control, name: ['address', 'key'] });
  const [trimmed, setTrimmed] = useState(false);
  const [trial, setTrial] = useState<TrialResult | 'running' | null>(null);
  const { errors } = formState;
  const reading = readIngestAddress(address);
  const split = () => {
    if (reading.ok || reading.trouble !== 'key-inside') return;
    const set = { shouldDirty: true, shouldValidate: true };
    setValue('address', reading.address, set);
    setValue('key', reading.key, set);
  };
  const paste = (event: React.ClipboardEvent<HTMLInputElement>) => {
    // An input drops line breaks without a word; what was taken off is said here.
    const pasted = event.clipboardData.getData('text');
    const read = readKey(pasted);
    setTrimmed(!!read?.trimmed);
    if (!read?.trimmed) return;
    event.preventDefault();
    setValue('key', read.key, { shouldDirty: true, shouldValidate: true });
  };
  const tryIt = async () => {
    if (!(await trigger(['address', 'key']))) return;
    setTrial('running');
    setTrial(
      await server.post<TrialResult>('/api/trials', { address, key }).catch((error: unknown) => ({ found: 'unreachable' as const, words: wordsOf(error) })),
    );
  };
  return (
    <>
      <Field id="typed-address" label="Address" help="For example rtmp://live.example.net/app" trouble={errors.address?.message}>
        <Form.Control isInvalid={!!errors.address} autoComplete="off" spellCheck={false} {...register('address')} />
      </Field>
      {!reading.ok && reading.trouble === 'key-inside' && (
        <Notice kind="caution">
          The key seems to stand at the end of this address.
          <Button variant="quiet" size="sm" className="d-block" onClick={split}>
            Split it: the key goes to the field below
          </Button>
        </Notice>
      )}
      <Field id="typed-key" label="Key" help="Kept sealed. It is shown only to those who ask for it with their password." trouble={errors.key?.message}>
        <Form.Control type="password" autoComplete="off" isInvalid={!!errors.key} onPaste={paste} {...register('key')} />
      </Field>
      {trimmed && <Notice kind="done">A space or a line break around the key was taken off.</Notice>}
      <div className="mb-3">
        <Button variant="outline-primary" size="sm" disabled={trial === 'running'} onClick={() => void tryIt()}>
          {trial === 'running' ? 'Trying…' : 'Try it'}
        </Button>{' '}
        <span className="soft small-words">connects and sends a moment of silence, no picture</span>
        {trial && trial !== 'running' && <Notice kind={trial.found === 'taken' ? 'done' : 'refusal'}>{trial.words}</Notice>}
      </div>
    </>
  );
}
