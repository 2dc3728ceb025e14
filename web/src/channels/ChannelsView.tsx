// The register of channels: who the station is on each network, whether each may broadcast, and how to
// add one.
import { LINKABLE_NETWORKS, NETWORK_NAMES, type ChannelView, type LinkStarted, type PlanView } from '@lantern/contract';
import { instant, sayNear, type NetworkId } from '@lantern/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useSearchParams } from 'react-router';
import { useMe } from '../people/me';
import { serverNow, useNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { Identity } from '../look/Identity';
import { Notice } from '../look/Notice';
import { usePlan, useStation } from '../station/station-queries';
import { useChannels } from './channel-queries';
import { nextOn } from './next-show';
import { HERE, standingOf } from './standing';
import { TypeInChannel } from './TypeInChannel';
import { PageTitle } from '../app/PageTitle';

const WHAT_FOR: Record<NetworkId, string> = {
  reelmoor: 'a video library',
  townfold: 'pages and groups of the neighbourhood',
  guildhand: 'people at their work',
  pipwire: 'short posts',
};

/** Sends the browser to a network's consent page. Throws what the server said. */
export async function goAndLink(network: NetworkId): Promise<void> {
  const { consentUrl } = await server.post<LinkStarted>('/api/channels/links', { network });
  window.location.assign(consentUrl);
}

export function ChannelsView() {
  const channels = useChannels();
  const me = useMe();
  const [search] = useSearchParams();
  const [trouble, setTrouble] = useState(search.get('trouble') ?? '');
  const [typingIn, setTypingIn] = useState(false);
  const link = (network: NetworkId) => void goAndLink(network).catch((error: unknown) => setTrouble(wordsOf(error)));
  const sealedShut = channels.data?.filter(({ access }) => access === 'unreadable') ?? [];
  const station = useStation().data;
  const standIns = station?.standIns ?? true;
  const zone = station?.zone ?? HERE;
  const plan = usePlan();
  const now = useNow(30_000);
  const networks = LINKABLE_NETWORKS.map((network) => (
    <AddRow key={network} name={NETWORK_NAMES[network]} what={WHAT_FOR[network]}>
      <Button variant="outline-primary" onClick={() => link(network)}>
        Link <span className="visually-hidden">an account on {NETWORK_NAMES[network]}</span>
      </Button>
    </AddRow>
  ));
  const typedIn = (
    <AddRow name={standIns ? 'Any other service' : 'Any service'} what="that gives you an address and a key">
      <Button variant="outline-primary" className="text-nowrap" onClick={() => setTypingIn(true)}>
        Type in
      </Button>
    </AddRow>
  );
  return (
    <div className="row gx-5">
      <div className="col-lg-8 mb-5">
        <PageTitle of="Channels" />
        <h1 className="mb-3">Channels</h1>
        {trouble && <Notice kind="refusal">{trouble}</Notice>}
        {channels.error && <Notice kind="refusal">{wordsOf(channels.error)}</Notice>}
        {sealedShut.length > 0 && (
          <Notice kind="refusal">
            The key file beside the data is lost or was exchanged, so the access to {sealedShut.map(({ name }) => name).join(', ')} cannot be read. Link them
            again; everything else works.
          </Notice>
        )}
        {channels.data?.length === 0 && (
          <p className="narrow">
            A channel is one account of yours on a network: a page, a group, a library channel. Link the first one, and your shows can air there.
          </p>
        )}
        <ul className="register">
          {channels.data?.map((channel) => (
            <RegisterRow key={channel.id} channel={channel} next={plan.data ? nextOn(plan.data, channel.id, now) : null} zone={zone} />
          ))}
        </ul>
        {me.data?.role === 'owner' && !!channels.data?.length && (
          <p className="small-words mt-4 mb-0">
            <Link to="/channels/record">What was done with channels and keys</Link>
          </p>
        )}
      </div>
      <div className="col-lg-4">
        <h2 className="mb-2">Add a channel</h2>
        {standIns ? (
          <>
            {networks}
            {typedIn}
          </>
        ) : (
          <>
            {typedIn}
            <details className="mt-3">
              <summary className="soft small-words">The made-up networks that come along, for trying things out</summary>
              {networks}
            </details>
          </>
        )}
        <h2 className="mb-2 mt-5">Ways in</h2>
        <p className="small-words mb-2">An encoder in a hall, or a meeting, can send its picture here once, for all channels.</p>
        <Link to="/channels/outside-lines">Outside lines</Link>
      </div>
      {typingIn && <TypeInChannel onClose={() => setTypingIn(false)} />}
    </div>
  );
}

function RegisterRow({ channel, next, zone }: { channel: ChannelView; next: PlanView['shows'][number] | null; zone: string }) {
  const standing = standingOf(channel);
  const { length } = channel.lines;
  const named = length === 0 ? 'no line yet' : length === 1 ? '1 line' : `${length} lines`;
  const lines = { 'one per show': 'a line per show', 'one lasting': '1 line', named }[channel.rules.lines];
  return (
    <li>
      <Link to={`/channels/${channel.id}`} className="register-who">
        <Identity of={channel} />
      </Link>
      <div>
        <Notice kind={standing.kind} live={false}>
          {standing.words}
        </Notice>
        {channel.notices.length > 0 && (
          <Notice kind="caution" live={false}>
            Its rules will change. <Link to={`/channels/${channel.id}/rules`}>See how, and which shows that touches</Link>
          </Notice>
        )}
      </div>
      <span className="small-words">
        {next ? (
          <>
            <Link to={`/shows/${next.id}`}>{next.title || 'Untitled show'}</Link>{' '}
            <span className="soft">{sayNear(instant(next.startsAt), zone, serverNow())}</span>
          </>
        ) : (
          <span className="soft">Nothing is planned.</span>
        )}
        <span className="soft d-block">{lines}</span>
      </span>
    </li>
  );
}

function AddRow({ name, what, children }: { name: string; what: string; children: React.ReactNode }) {
  return (
    <div className="d-flex flex-wrap gap-3 align-items-center justify-content-between py-3 border-bottom">
      <div className="add-what">
        <b>{name}</b>
        <div className="soft small-words">{what}</div>
      </div>
      {children}
    </div>
  );
}
