// The station's outside lines: named ways in to Noble Lantern itself, each with an address and a key to hand to an encoder.
import type { OutsideLineView } from '@lantern/contract';
import { instant, sayDistance } from '@lantern/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { Link } from 'react-router';
import { useNow } from '../app/clock';
import { PageTitle } from '../app/PageTitle';
import { server, wordsOf } from '../app/server';
import { KeyOfLine } from '../lines/KeyOfLine';
import { CopyButton } from '../look/CopyButton';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { Arrives } from './Arrives';
import { OUTSIDE_KEY, useOutsideLines } from './outside-queries';

export function OutsideLinesView() {
  const lines = useOutsideLines(true);
  const [adding, setAdding] = useState(false);
  return (
    <div className="channel-page">
      <PageTitle of="Outside lines" />
      <p className="small-words mb-2">
        <Link to="/channels">Channels</Link>
      </p>
      <h1 className="mb-3">Outside lines</h1>
      <p className="narrow">
        A way in to Noble Lantern itself. An encoder in a hall, or a meeting that can send its picture on, sends here once; every channel, the house page and
        the recording get it. Name each after where it comes from.
      </p>
      {lines.error && <Notice kind="refusal">{wordsOf(lines.error)}</Notice>}
      {lines.data?.map((line) => (
        <OutsideLine key={line.id} line={line} />
      ))}
      {lines.data && (
        <Button variant={lines.data.length ? 'outline-primary' : 'primary'} className="mt-4" onClick={() => setAdding(true)}>
          Add an outside line
        </Button>
      )}
      {adding && <NameLine line={null} onClose={() => setAdding(false)} />}
    </div>
  );
}

function OutsideLine({ line }: { line: OutsideLineView }) {
  const queries = useQueryClient();
  const now = useNow(15_000);
  const [doing, setDoing] = useState<'rename' | 'rotate' | null>(null);
  const remove = useMutation({
    mutationFn: () => server.delete(`/api/outside-lines/${line.id}`),
    onSuccess: () => queries.invalidateQueries({ queryKey: OUTSIDE_KEY }),
  });
  return (
    <article className="line-row" aria-label={line.name}>
      <div className="line-head">
        <h2 className="h3">{line.name}</h2>
        <span className="soft small-words">{line.lastUsedAt === null ? 'never used yet' : `last used ${sayDistance(instant(line.lastUsedAt) - now)}`}</span>
      </div>
      <dl className="line-facts">
        <dt>Address</dt>
        <dd>
          <code>{line.address}</code> <CopyButton text={line.address} what={`the address of ${line.name}`} />
          {line.secureAddress && (
            <div className="mt-1">
              <span className="soft small-words">secure</span> <code>{line.secureAddress}</code>{' '}
              <CopyButton text={line.secureAddress} what={`the secure address of ${line.name}`} />
            </div>
          )}
        </dd>
        <dt>Key</dt>
        <dd>
          <KeyOfLine line={{ id: line.id, readable: true }} lines="/api/outside-lines" />
        </dd>
        <dt>What comes</dt>
        <dd aria-live="polite">
          <Arrives arrives={line.arrives} />
        </dd>
        <dt>Coming shows</dt>
        <dd>{line.usedBy.length ? line.usedBy.join(', ') : <span className="soft">none</span>}</dd>
      </dl>
      {remove.error && <Notice kind="refusal">{wordsOf(remove.error)}</Notice>}
      <div className="d-flex flex-wrap gap-4">
        <Button variant="quiet" size="sm" onClick={() => setDoing('rotate')}>
          Rotate the key…
        </Button>
        <Button variant="quiet" size="sm" onClick={() => setDoing('rename')}>
          Rename…
        </Button>
        <Button variant="quiet" size="sm" disabled={remove.isPending} onClick={() => remove.mutate()}>
          Take it away
        </Button>
      </div>
      {doing === 'rename' && <NameLine line={line} onClose={() => setDoing(null)} />}
      {doing === 'rotate' && <RotateLine line={line} onClose={() => setDoing(null)} />}
    </article>
  );
}

/** `line`: the one to be renamed; null: a new one. */
function NameLine({ line, onClose }: { line: OutsideLineView | null; onClose: () => void }) {
  const queries = useQueryClient();
  const [name, setName] = useState(line?.name ?? '');
  const save = useMutation({
    mutationFn: () =>
      line ? server.put<OutsideLineView[]>(`/api/outside-lines/${line.id}`, { name }) : server.post<OutsideLineView[]>('/api/outside-lines', { name }),
    onSuccess: (lines) => {
      queries.setQueryData(OUTSIDE_KEY, lines);
      onClose();
    },
  });
  return (
    <Modal show onHide={onClose} aria-labelledby="outside-name-title">
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate();
        }}
      >
        <Modal.Header closeButton>
          <h2 id="outside-name-title" className="mb-0">
            {line ? 'Where does it come from?' : 'A new outside line'}
          </h2>
        </Modal.Header>
        <Modal.Body>
          <Field id="outside-name" label="Name" help="Such as “Hall camera” or “Members’ meeting”." className="mb-0">
            <Form.Control autoFocus value={name} onChange={(event) => setName(event.target.value)} />
          </Field>
          {save.error && <Notice kind="refusal">{wordsOf(save.error)}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={onClose}>
            Leave it
          </Button>
          <Button type="submit" disabled={save.isPending}>
            {line ? 'Keep' : 'Add it'}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}

function RotateLine({ line, onClose }: { line: OutsideLineView; onClose: () => void }) {
  const rotate = useMutation({ mutationFn: () => server.post(`/api/outside-lines/${line.id}/rotate`), onSuccess: onClose });
  return (
    <Modal show onHide={onClose} aria-labelledby="outside-rotate-title">
      <Modal.Header closeButton>
        <h2 id="outside-rotate-title" className="mb-0">
          Make a new key for “{line.name}”?
        </h2>
      </Modal.Header>
      <Modal.Body>
        <p className="mb-0">
          The old one is good for nothing from that moment: {line.arrives ? 'what comes on it now is cut off, and ' : ''}each encoder that has it must be given
          the new one.
        </p>
        {rotate.error && <Notice kind="refusal">{wordsOf(rotate.error)}</Notice>}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={onClose} autoFocus>
          Leave it
        </Button>
        <Button disabled={rotate.isPending} onClick={() => rotate.mutate()}>
          Make a new key
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
