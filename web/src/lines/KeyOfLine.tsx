import type { RevealedKey } from '@lantern/contract';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Notice } from '../look/Notice';
import { useSecretRequest, useShortLived } from './secrets';

/** The key of a line: hidden, until somebody asks to see or to copy it. `lines`: where the line is kept. */
export function KeyOfLine({ line, lines = '/api/lines' }: { line: { id: string; readable: boolean }; lines?: string }) {
  const { ask, prompt, refused, busy } = useSecretRequest<RevealedKey>(`${lines}/${line.id}/reveal`);
  const { value, secondsLeft, show, hide } = useShortLived<string>();
  const [copied, setCopied] = useState(false);
  const copy = ({ key }: RevealedKey) =>
    void navigator.clipboard.writeText(key).then(() => {
      setCopied(true);
      setTimeout(() => setCopied(false), 2_500);
    });
  if (!line.readable) {
    return (
      <Notice kind="refusal" live={false}>
        This key cannot be read any more: the file that sealed it is lost. Rotate it, and type the key in again.
      </Notice>
    );
  }
  return (
    <div className="key-line">
      <code aria-label="Key">{value ?? '• • • • • • • •'}</code>
      {value === null ? (
        <Button variant="outline-primary" size="sm" disabled={busy} onClick={() => ask('show', ({ key }) => show(key))}>
          Show the key
        </Button>
      ) : (
        <Button variant="outline-primary" size="sm" onClick={hide}>
          Hide it ({secondsLeft} s)
        </Button>
      )}
      <Button variant="outline-primary" size="sm" disabled={busy} onClick={() => ask('copy', copy)}>
        <span aria-live="polite">{copied ? 'Copied' : 'Copy unseen'}</span>
      </Button>
      {refused && <Notice kind="refusal">{refused}</Notice>}
      {prompt}
    </div>
  );
}
