// One channel: its identity above, and one question a page beneath.
import type { ChannelView } from '@lantern/contract';
import { Link, NavLink, Outlet, useOutletContext, useParams } from 'react-router';
import { wordsOf } from '../app/server';
import { Identity } from '../look/Identity';
import { Notice } from '../look/Notice';
import { useChannels } from './channel-queries';
import { PageTitle } from '../app/PageTitle';

export function ChannelPage() {
  const { id } = useParams();
  const channels = useChannels();
  const channel = channels.data?.find((each) => each.id === id);
  if (channels.error || (channels.data && !channel)) {
    return (
      <div className="narrow">
        <PageTitle of="No such channel" />
        <h1>No such channel</h1>
        <Notice kind="refusal">{channels.error ? wordsOf(channels.error) : 'There is no such channel at your station. It may have been unlinked.'}</Notice>
        <Link to="/channels">To the channels</Link>
      </div>
    );
  }
  if (!channel) return null;
  return (
    <div className="channel-page">
      <p className="small-words mb-3">
        <Link to="/channels">All channels</Link>
      </p>
      <PageTitle of={channel.name} />
      <h1 className="channel-head">
        <Identity of={channel} />
      </h1>
      <nav className="sub-nav" aria-label="This channel">
        <NavLink to={`/channels/${channel.id}`} end>
          Access and conditions
        </NavLink>
        <NavLink to={`/channels/${channel.id}/lines`}>Lines and keys</NavLink>
        <NavLink to={`/channels/${channel.id}/rules`}>Rules</NavLink>
        <NavLink to={`/channels/${channel.id}/defaults`}>{channel.network === 'typed-in' ? 'Limits' : 'Defaults for shows'}</NavLink>
      </nav>
      <Outlet context={channel} />
    </div>
  );
}

/** The channel whose page this is. */
export const useChannel = () => useOutletContext<ChannelView>();
