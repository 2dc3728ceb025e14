// The lines of a channel: what each is for, who has its key, and which shows go out on it.
import type { LinesOfChannel, LineView, RotateResult } from '@lantern/contract';
import { instant, readKey, sayDistance, sayWhen } from '@lantern/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { Link } from 'react-router';
import { useNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { useChannel } from '../channels/ChannelPage';
import { CopyButton } from '../look/CopyButton';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { AddLine } from './AddLine';
import { KeyOfLine } from './KeyOfLine';

export function LinesView() {
  const channel = useChannel();
  const lines = useQuery({ queryKey: ['lines', channel.id], queryFn: () => server.get<LinesOfChannel>(`/api/channels/${channel.id}/lines`) });
  const [adding, setAdding] = useState(false);
  const typedIn = channel.network === 'typed-in';
  if (lines.error) return <Notice kind="refusal">{wordsOf(lines.error)}</Notice>;
  if (!lines.data) return null;
  return (
    <section aria-labelledby="lines">
      <h2 id="lines" className="visually-hidden">
        Lines
      </h2>
      <p className="narrow">
        {channel.rules.lines === 'one per show'
          ? 'This network issues a line of its own for each show, good for that show only. Those of coming shows stand here once they are placed.'
          : 'A line is a named way in to this channel: an address and a key. Name each after what it is for, so that the right key goes to the right encoder.'}
      </p>
      {lines.data.stale && <Notice kind="caution">{lines.data.stale} What is listed is what was known before.</Notice>}
      {!lines.data.lines.length && <p className="soft">There is none at this moment.</p>}
      {lines.data.lines.map((line) => (
        <LineRow key={line.id} line={line} typedIn={typedIn} only={lines.data.lines.length === 1} />
      ))}
      {lines.data.mayAdd && (
        <Button variant="outline-primary" className="mt-4" onClick={() => setAdding(true)}>
          Add a line
        </Button>
      )}
      {adding && <AddLine channel={channel} onClose={() => setAdding(false)} />}
    </section>
  );
}

function LineRow({ line, typedIn, only }: { line: LineView; typedIn: boolean; only: boolean }) {
  const channel = useChannel();
  const queries = useQueryClient();
  const now = useNow(15_000);
  const [doing, setDoing] = useState<'rename' | 'rotate' | null>(null);
  const refresh = () => queries.invalidateQueries({ queryKey: ['lines', channel.id] });
  const remove = useMutation({ mutationFn: () => server.delete(`/api/lines/${line.id}`), onSuccess: refresh });
  return (
    <article className="line-row" aria-label={line.name}>
      <div className="line-head">
        <h3>{line.name}</h3>
        <span className="soft small-words">
          {line.singleUse ? 'good for one show' : 'lasting'} ·{' '}
          {line.lastUsedAt === null ? 'never used yet' : `last used ${sayDistance(instant(line.lastUsedAt) - now)}`}
        </span>
      </div>
      <dl className="line-facts">
        <dt>Address</dt>
        <dd>
          {line.address ? (
            <>
              <code>{line.address}</code> <CopyButton text={line.address} what={`the address of ${line.name}`} />
              {line.backupAddress && (
                <div className="mt-1">
                  <span className="soft small-words">backup</span> <code>{line.backupAddress}</code>{' '}
                  <CopyButton text={line.backupAddress} what={`the backup address of ${line.name}`} />
                </div>
              )}
            </>
          ) : (
            <span className="soft">told together with the key</span>
          )}
        </dd>
        <dt>Key</dt>
        <dd>
          <KeyOfLine line={line} />
        </dd>
        <dt>Who has it</dt>
        <dd>{line.heldBy || <span className="soft">nobody outside, as far as we know</span>}</dd>
        <dt>Coming shows</dt>
        <dd>
          {line.shows.length ? (
            line.shows.map((show) => (
              <div key={show.id}>
                <Link to={`/shows/${show.id}`}>{show.title}</Link>, {sayWhen(instant(show.startsAt), show.zone)}
                {show.outside && <span className="soft small-words"> · from an outside encoder</span>}
              </div>
            ))
          ) : (
            <span className="soft">none</span>
          )}
        </dd>
      </dl>
      {remove.error && <Notice kind="refusal">{wordsOf(remove.error)}</Notice>}
      <div className="d-flex flex-wrap gap-4">
        <Button variant="quiet" size="sm" onClick={() => setDoing('rotate')}>
          Rotate the key…
        </Button>
        <Button variant="quiet" size="sm" onClick={() => setDoing('rename')}>
          Name it, or note who has the key…
        </Button>
        {typedIn && !only && (
          <Button variant="quiet" size="sm" onClick={() => remove.mutate()}>
            Take it away
          </Button>
        )}
      </div>
      {doing === 'rename' && <RenameLine line={line} onClose={() => setDoing(null)} onDone={refresh} />}
      {doing === 'rotate' && <RotateLine line={line} typedIn={typedIn} onClose={() => setDoing(null)} onDone={refresh} />}
    </article>
  );
}

function RenameLine({ line, onClose, onDone }: { line: LineView; onClose: () => void; onDone: () => Promise<void> }) {
  const [name, setName] = useState(line.name);
  const [heldBy, setHeldBy] = useState(line.heldBy);
  const save = useMutation({
    mutationFn: () => server.put<LineView>(`/api/lines/${line.id}`, { name, heldBy }),
    onSuccess: async () => {
      await onDone();
      onClose();
    },
  });
  return (
    <Modal show onHide={onClose} aria-labelledby="rename-title">
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate();
        }}
      >
        <Modal.Header closeButton>
          <h2 id="rename-title" className="mb-0">
            What is this line for?
          </h2>
        </Modal.Header>
        <Modal.Body>
          <Field id="line-name" label="Name" help="Such as “Encoder in the hall”.">
            <Form.Control autoFocus value={name} onChange={(event) => setName(event.target.value)} />
          </Field>
          <Field id="line-held" label="Who was given the key" help="Whoever stands here is listed when the key is rotated." className="mb-0">
            <Form.Control value={heldBy} onChange={(event) => setHeldBy(event.target.value)} />
          </Field>
          {save.error && <Notice kind="refusal">{wordsOf(save.error)}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={onClose}>
            Leave it
          </Button>
          <Button type="submit" disabled={save.isPending}>
            Keep
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}

interface RotateProps {
  line: LineView;
  typedIn: boolean;
  onClose: () => void;
  onDone: () => Promise<void>;
}

function RotateLine({ line, typedIn, onClose, onDone }: RotateProps) {
  const [key, setKey] = useState('');
  const rotate = useMutation({
    mutationFn: () => server.post<RotateResult>(`/api/lines/${line.id}/rotate`, typedIn ? { key } : {}),
    onSuccess: onDone,
  });
  const done = rotate.data;
  return (
    <Modal show onHide={onClose} aria-labelledby="rotate-title">
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          if (done) onClose();
          else rotate.mutate();
        }}
      >
        <Modal.Header closeButton>
          <h2 id="rotate-title" className="mb-0">
            {done ? 'The key is new' : `Rotate the key of “${line.name}”?`}
          </h2>
        </Modal.Header>
        <Modal.Body>
          {done ? (
            <Rotated {...done} />
          ) : (
            <>
              <p>
                {typedIn ? 'Have the service issue a new key, and paste it here. ' : 'The network issues a new key, and the old one stops working at once. '}
                Coming shows follow by themselves.
              </p>
              {(line.heldBy || line.shows.some(({ outside }) => outside)) && (
                <p>Somebody outside uses this line: they cannot send until they have the new key.</p>
              )}
              {typedIn && (
                <Field
                  id="new-key"
                  label="New key"
                  className="mb-0"
                  trouble={key && !readKey(key)?.key ? 'There is a space or a line break inside this key. Copy it again.' : undefined}
                >
                  <Form.Control type="password" autoComplete="off" autoFocus value={key} onChange={(event) => setKey(event.target.value)} />
                </Field>
              )}
              {rotate.error && <Notice kind="refusal">{wordsOf(rotate.error)}</Notice>}
            </>
          )}
        </Modal.Body>
        <Modal.Footer>
          {!done && (
            <Button variant="outline-primary" onClick={onClose}>
              Keep the old one
            </Button>
          )}
          <Button type="submit" disabled={rotate.isPending || (typedIn && !done && !readKey(key)?.key)}>
            {done ? 'Good' : 'Rotate the key'}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}

function Rotated({ line, tell }: RotateResult) {
  return (
    <>
      <p>
        {line.shows.length === 0
          ? 'No coming show goes out on it.'
          : `${line.shows.map(({ title }) => title).join(', ')} ${line.shows.length === 1 ? 'follows' : 'follow'} by ${line.shows.length === 1 ? 'itself' : 'themselves'}.`}
      </p>
      {tell.length ? (
        <>
          <p className="mb-2">These have to be given the new key:</p>
          <ul className="mb-0">
            {tell.map((who) => (
              <li key={who}>{who}</li>
            ))}
          </ul>
        </>
      ) : (
        <p className="mb-0">Nobody outside has to be told.</p>
      )}
    </>
  );
}
