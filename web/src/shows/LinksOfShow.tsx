import type { ShowView } from '@lantern/contract';
import { CopyButton } from '../look/CopyButton';
import { kindWords } from '../look/Identity';

/** Where viewers find the show: the station's own page first, then each channel's. Nothing leads anywhere before it is placed. */
export function LinksOfShow({ show }: { show: ShowView }) {
  const channels = show.airings.filter(({ placing, watchUrl }) => placing === 'placed' && watchUrl);
  const placed = show.state !== 'draft';
  return (
    <section aria-labelledby="links-heading" id="links">
      <h2 id="links-heading">Links for viewers</h2>
      {!placed && <p className="soft small-words mb-0">They are here once the show is placed.</p>}
      {placed && (
        <LinkLine
          name="House page"
          note={show.pictureFrom === 'encoder' ? 'yours; counts down, then shows where it is on' : 'yours; counts down, then plays'}
          url={show.houseUrl}
        />
      )}
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
