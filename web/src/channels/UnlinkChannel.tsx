import { NETWORK_NAMES, type ChannelView, type UnlinkPreview } from '@lantern/contract';
import { instant, sayWhen } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { server, wordsOf } from '../app/server';
import { Identity } from '../look/Identity';
import { Notice } from '../look/Notice';

/** Takes a channel off the register, after naming the coming shows that lose it. */
export function UnlinkChannel({ channel }: { channel: ChannelView }) {
  const [asking, setAsking] = useState(false);
  const typedIn = channel.network === 'typed-in';
  return (
    <section aria-labelledby="unlink">
      <h2 id="unlink">{typedIn ? 'Take it off the register' : 'Unlink'}</h2>
      <p className="narrow small-words">
        {typedIn
          ? 'Its address and key are forgotten.'
          : `The station can no longer act for this account. ${NETWORK_NAMES[channel.network]} is told, and what stands there stays there.`}
      </p>
      <Button variant="quiet" onClick={() => setAsking(true)}>
        {typedIn ? 'Take off…' : 'Unlink…'}
      </Button>
      {asking && <AskUnlink channel={channel} onClose={() => setAsking(false)} />}
    </section>
  );
}

function AskUnlink({ channel, onClose }: { channel: ChannelView; onClose: () => void }) {
  const preview = useQuery({ queryKey: ['unlink', channel.id], queryFn: () => server.get<UnlinkPreview>(`/api/channels/${channel.id}/unlink`), gcTime: 0 });
  const [refused, setRefused] = useState('');
  const [busy, setBusy] = useState(false);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const unlink = async () => {
    setBusy(true);
    try {
      await server.post(`/api/channels/${channel.id}/unlink`);
      await navigate('/channels');
      // Everything but what was known of the channel itself, which is no longer there to be asked for.
      for (const queryKey of [['channels'], ['shows'], ['show'], ['plan']]) await queries.invalidateQueries({ queryKey });
    } catch (error) {
      setRefused(wordsOf(error));
      setBusy(false);
    }
  };
  return (
    <Modal show onHide={onClose} aria-labelledby="unlink-title">
      <Modal.Header closeButton>
        <h2 id="unlink-title" className="mb-0">
          {channel.network === 'typed-in' ? 'Take this channel off?' : 'Unlink this channel?'}
        </h2>
      </Modal.Header>
      <Modal.Body>
        <Identity of={channel} />
        {preview.data?.shows.length === 0 && <p className="mt-3 mb-0">No coming show airs on it.</p>}
        {!!preview.data?.shows.length && (
          <>
            <p className="mt-3 mb-2">These coming shows lose it:</p>
            <ul className="mb-0">
              {preview.data.shows.map((show) => (
                <li key={show.id}>
                  <b>{show.title}</b>, {sayWhen(instant(show.startsAt), show.zone)}
                  {show.stands && <span className="d-block small-words">Its event stays on the network; look after it there.</span>}
                </li>
              ))}
            </ul>
          </>
        )}
        {(refused || preview.error) && <Notice kind="refusal">{refused || wordsOf(preview.error)}</Notice>}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={onClose}>
          Leave it linked
        </Button>
        <Button variant="danger" disabled={busy || !preview.data} onClick={() => void unlink()}>
          {channel.network === 'typed-in' ? 'Take it off' : 'Unlink'}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
