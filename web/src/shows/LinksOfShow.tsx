import type { ShowView } from '@lantern/contract';
import { CopyButton } from '../look/CopyButton';
import { kindWords } from '../look/Identity';

/** Where viewers find the show: the station's own page first, then each channel's. */
export function LinksOfShow({ show }: { show: ShowView }) {
  const channels = show.airings.filter(({ placing, watchUrl }) => placing === 'placed' && watchUrl);
  return (
    <section aria-labelledby="links">
      <h2 id="links">Links for viewers</h2>
      <LinkLine
        name="House page"
        note={show.pictureFrom === 'encoder' ? 'yours; counts down, then shows where it is on' : 'yours; counts down, then plays'}
        url={show.houseUrl}
      />
      {channels.map(({ id, channel, visibility, watchUrl }) => (
        <LinkLine
          key={id}
          name={channel.name}
          note={visibility === 'everyone' ? kindWords(channel) : `${kindWords(channel)}, for ${visibility}`}
          url={watchUrl!}
        />
      ))}
    </section>
  );
}

function LinkLine({ name, note, url }: { name: string; note: string; url: string }) {
  return (
    <div className="link-line">
      <div>
        <b>{name}</b> <span className="soft small-words">{note}</span>
        <code>
          <a href={url} target="_blank" rel="noreferrer">
            {url}
          </a>
        </code>
      </div>
      <CopyButton text={url} what={`the link to ${name} ${note}`} />
    </div>
  );
}
