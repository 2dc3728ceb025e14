// Who speaks: the account's picture. Square for what belongs to many, round for one person's profile,
// so that a page and its owner's profile are not taken for each other.
import type { ChannelView } from '@lantern/contract';

export function Portrait({ channel }: { channel: Pick<ChannelView, 'name' | 'kind' | 'pictureUrl'> }) {
  const shape = channel.kind === 'profile' ? 'portrait round' : 'portrait';
  if (channel.pictureUrl) return <img className={shape} src={channel.pictureUrl} alt="" />;
  return (
    <span className={shape} aria-hidden="true">
      {channel.name.slice(0, 1)}
    </span>
  );
}
