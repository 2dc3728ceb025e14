// The register of channels: who the station is on each network, and how to add one.
import { LINKABLE_NETWORKS, NETWORK_NAMES, type ChannelView, type LinkStarted } from '@lantern/contract';
import type { NetworkId } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useSearchParams } from 'react-router';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { Portrait } from '../look/Portrait';
import { TypeInChannel } from './TypeInChannel';

export const useChannels = () => useQuery({ queryKey: ['channels'], queryFn: () => server.get<ChannelView[]>('/api/channels') });

const WHAT_FOR: Record<NetworkId, string> = {
  reelmoor: 'a video library',
  townfold: 'pages and groups of the neighbourhood',
};

export function ChannelsView() {
  const channels = useChannels();
  const [search] = useSearchParams();
  const [trouble, setTrouble] = useState(search.get('trouble') ?? '');
  const [typingIn, setTypingIn] = useState(false);
  const link = async (network: NetworkId) => {
    try {
      const { consentUrl } = await server.post<LinkStarted>('/api/channels/links', { network });
      window.location.assign(consentUrl);
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <div className="row gx-5">
      <div className="col-lg-7 mb-5">
        <h1 className="mb-3">Channels</h1>
        {trouble && <Notice kind="refusal">{trouble}</Notice>}
        {channels.error && <Notice kind="refusal">{wordsOf(channels.error)}</Notice>}
        {channels.data?.length === 0 && (
          <p className="narrow">
            A channel is one account of yours on a network: a page, a group, a library channel. Link the first one, and your shows can air there.
          </p>
        )}
        {channels.data?.map((channel) => (
          <div key={channel.id} className="d-flex gap-3 align-items-center py-3 border-bottom">
            <Portrait channel={channel} />
            <div>
              <b>{channel.name}</b>
              <div className="soft small-words">
                {channel.network === 'typed-in' ? 'typed in by address and key' : `${channel.kind} on ${NETWORK_NAMES[channel.network]}`}
              </div>
            </div>
            {!channel.linked && (
              <span className="ms-auto">
                <Notice kind="caution">Access was withdrawn. Link it again.</Notice>
              </span>
            )}
          </div>
        ))}
      </div>
      <div className="col-lg-5">
        <h2 className="mb-3">Add a channel</h2>
        {LINKABLE_NETWORKS.map((network) => (
          <div key={network} className="d-flex gap-3 align-items-center justify-content-between py-3 border-bottom">
            <div>
              <b>{NETWORK_NAMES[network]}</b>
              <div className="soft small-words">{WHAT_FOR[network]}</div>
            </div>
            <Button variant="outline-primary" onClick={() => void link(network)}>
              Link <span className="visually-hidden">an account on {NETWORK_NAMES[network]}</span>
            </Button>
          </div>
        ))}
        <div className="d-flex gap-3 align-items-center justify-content-between py-3">
          <div>
            <b>Any other service</b>
            <div className="soft small-words">that gives you an address and a key</div>
          </div>
          <Button variant="outline-primary" onClick={() => setTypingIn(true)}>
            Type in
          </Button>
        </div>
      </div>
      {typingIn && <TypeInChannel onClose={() => setTypingIn(false)} />}
    </div>
  );
}
