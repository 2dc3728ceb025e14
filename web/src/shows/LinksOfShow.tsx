// All addresses of a show in one place, told apart by look and by name: for viewers, to embed, and the station's own.
import type { ShowView, StationView } from '@lantern/contract';
import { instant, messageFor } from '@lantern/core';
import { useState, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { CopyButton } from '../look/CopyButton';
import { kindWords } from '../look/Identity';

export function LinksOfShow({ show, station }: { show: ShowView; station: StationView | null }) {
  const channels = show.airings.filter(({ placing, watchUrl }) => placing === 'placed' && watchUrl);
  const placed = show.state !== 'draft';
  const house = show.shortUrl ?? show.houseUrl;
  const notes: Record<ShowView['houseVisibility'], string> = {
    everyone: show.pictureFrom === 'encoder' ? 'yours; counts down, then shows where it is on' : 'yours; counts down, then plays',
    'link holders': 'for whoever has the link',
    'invited people': 'for invited people; each has a link of their own',
    supporters: 'for supporters, who type their code',
  };
  return (
    <>
      {!placed && <p className="soft small-words mb-0">They are here once the show is placed.</p>}
      {placed && (
        <LinkLine name="House page" note={notes[show.houseVisibility]} url={house}>
          {show.houseVisibility !== 'invited people' && station && <Messages show={show} station={station} url={house} />}
        </LinkLine>
      )}
      {channels.map(({ id, channel, visibility, watchUrl }) => (
        <LinkLine
          key={id}
          name={channel.name}
          note={visibility === 'everyone' ? kindWords(channel) : `${kindWords(channel)}, for ${visibility}`}
          url={watchUrl!}
        />
      ))}
      {placed && station && <LinkLine name={station.name} note="the station: what is on, what comes, what was" url={station.pageUrl} />}
    </>
  );
}

function LinkLine({ name, note, url, children }: { name: string; note: string; url: string; children?: ReactNode }) {
  const [code, setCode] = useState(false);
  const drawn = (type: 'svg' | 'png') => `/api/qr.${type}?of=${encodeURIComponent(url)}`;
  return (
    <div className="link-line">
      <div>
        <b>{name}</b> <span className="soft small-words">{note}</span>
        <code>
          <a href={url} target="_blank" rel="noreferrer">
            {url}
          </a>
        </code>
        <span className="button-row small-words">
          <Button
            variant="quiet"
            size="sm"
            aria-expanded={code}
            aria-label={`${code ? 'Hide' : 'Show'} the QR code of ${name} ${note}`}
            onClick={() => setCode(!code)}
          >
            {code ? 'Hide the QR code' : 'QR code'}
          </Button>
          {children}
        </span>
        {code && (
          <span className="qr-code small-words">
            <img src={drawn('svg')} alt={`QR code of ${url}`} width={144} height={144} />
            <span className="button-row">
              <a href={drawn('svg')} download="link.svg">
                Save as SVG
              </a>
              <a href={drawn('png')} download="link.png">
                Save as PNG
              </a>
            </span>
          </span>
        )}
      </div>
      <CopyButton text={url} what={`the link to ${name} ${note}`} />
    </div>
  );
}

const FORMS = [
  { form: 'short', words: 'in one line' },
  { form: 'long', words: 'with its text' },
  { form: 'members', words: 'as a notice to members' },
] as const;

/** The show in words, ready to be sent. */
function Messages({ show, station, url }: { show: ShowView; station: StationView; url: string }) {
  const [copied, setCopied] = useState('');
  const facts = { title: show.title, description: show.description, stationName: station.name, startsAt: instant(show.startsAt), zone: show.zone };
  const copy = async (form: (typeof FORMS)[number]['form']) => {
    await navigator.clipboard.writeText(messageFor(facts, url, form));
    setCopied(form);
  };
  return FORMS.map(({ form, words }) => (
    <Button key={form} variant="quiet" size="sm" onClick={() => void copy(form)}>
      {copied === form ? 'Copied' : `Copy ${words}`}
    </Button>
  ));
}
