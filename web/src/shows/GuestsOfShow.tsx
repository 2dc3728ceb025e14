// Who of a show's people is asked as a guest: each with a pass of their own for this date, by mail or by hand.
import type { GuestPassLink, GuestView, OwnSoundConsent, PersonOnShow, ShowView } from '@lantern/contract';
import { may, sayDistance, STANDING_WORDS } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useAskEvery } from '../app/changes';
import { useNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { onSharingHere } from '../app/sharing';
import { useContacts } from '../contacts/contact-queries';
import { AskedButton } from '../look/AskedButton';
import { CopyButton } from '../look/CopyButton';
import { Notice } from '../look/Notice';
import { useMe } from '../people/me';
import '../guests/guests.scss';

export const guestsKey = (showId: string) => ['show', showId, 'guests'] as const;

export function GuestsOfShow({ show, people }: { show: ShowView; people: readonly PersonOnShow[] }) {
  const queries = useQueryClient();
  const askEvery = useAskEvery(5_000);
  const guests = useQuery({ queryKey: guestsKey(show.id), queryFn: () => server.get<GuestView[]>(`/api/shows/${show.id}/guests`), refetchInterval: askEvery });
  const me = useMe();
  const [trouble, setTrouble] = useState('');
  const act = async (work: () => Promise<GuestView[]>): Promise<boolean> => {
    setTrouble('');
    try {
      queries.setQueryData(guestsKey(show.id), await work());
      return true;
    } catch (error) {
      setTrouble(wordsOf(error));
      return false;
    }
  };
  const asked = guests.data ?? [];
  const named = (name: string) => name.trim().toLowerCase();
  const missing = people.filter(({ role, name }) => role === 'guest' && name.trim() && !asked.some((guest) => named(guest.name) === named(name)));
  if (!me.data || !guests.data || (!asked.length && !missing.length)) return null;
  const writes = may(me.data.role, 'write to people') && show.state !== 'over';
  return (
    <section className="guests-of-show" aria-label="Guests and their passes">
      <h3 className="h3">Guests come in by a pass</h3>
      <p className="soft small-words">
        Each pass is one person’s, for this date alone: it opens the guest door in their browser, on a phone too. It is no link for viewers.
      </p>
      <ul className="guest-list">
        {asked.map((guest) => (
          <Asked key={guest.id} show={show} guest={guest} writes={writes} act={act} onTrouble={setTrouble} />
        ))}
        {writes &&
          missing.map((person) => (
            <Missing
              key={person.name}
              show={show}
              person={person}
              onAsk={(email, allDates) => act(() => server.post<GuestView[]>(`/api/shows/${show.id}/guests`, { ...plain(person), email, allDates }))}
            />
          ))}
      </ul>
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </section>
  );
}

const OWN_SOUND_WORDS: Record<OwnSoundConsent, string> = {
  unasked: 'Own sound: is asked at the door.',
  agreed: 'Own sound: has agreed.',
  refused: 'Own sound: has said no.',
};

const plain = ({ name, caption, zone }: PersonOnShow) => ({ name, caption: caption ?? '', zone: zone ?? null });

interface AskedProps {
  show: ShowView;
  guest: GuestView;
  writes: boolean;
  act: (work: () => Promise<GuestView[]>) => Promise<boolean>;
  onTrouble: (words: string) => void;
}

function Asked({ show, guest, writes, act, onTrouble }: AskedProps) {
  const { id, name, email, word, tried, standing } = guest;
  const [url, setUrl] = useState<string | null>(null);
  const now = useNow(30_000);
  // Whoever sees it may come in by it: it goes from the page when a screen is shared.
  useEffect(() => onSharingHere(() => setUrl(null)), []);
  const showPass = () =>
    server.post<GuestPassLink>(`/api/shows/${show.id}/guests/${id}/pass`).then(
      (link) => setUrl(link.url),
      (error: unknown) => onTrouble(wordsOf(error)),
    );
  return (
    <li>
      <div>
        <b>{name}</b> <span className="standing">{STANDING_WORDS[standing]}</span>
        {email && <span className="soft small-words d-block">{email}</span>}
        {word && <span className="small-words d-block">“{word}”</span>}
        {guest.onPages.map(({ channel, words }) => (
          <span key={channel} className="small-words soft d-block">
            {words}
          </span>
        ))}
        {tried && (
          <span className="small-words soft d-block">
            Tried out {sayDistance(tried.at - now)}:{' '}
            {[
              tried.camera ? tried.picture : 'sound only',
              tried.microphone ? 'heard' : 'nothing heard',
              ...(tried.echo ? ['echo: wants headphones'] : []),
            ].join(', ')}
          </span>
        )}
        {show.ownSounds && <span className="small-words soft d-block">{OWN_SOUND_WORDS[guest.ownSound]}</span>}
      </div>
      {writes && (
        <div className="guest-acts small-words">
          {url === null ? (
            <Button variant="quiet" size="sm" onClick={() => void showPass()}>
              Show the pass<span className="visually-hidden"> of {name}</span>
            </Button>
          ) : (
            <Button variant="quiet" size="sm" onClick={() => setUrl(null)}>
              Hide the pass<span className="visually-hidden"> of {name}</span>
            </Button>
          )}
          <AskedButton
            label="Withdraw"
            name={`Withdraw the pass of ${name}`}
            question="It opens nothing then, and whoever is in with it goes. Withdraw it?"
            yes="Withdraw"
            onYes={() => void act(() => server.delete<GuestView[]>(`/api/shows/${show.id}/guests/${id}`))}
          />
        </div>
      )}
      {url !== null && (
        <div className="guest-pass">
          <p className="pass-slip mb-0">
            <b>Guest pass</b> <span>{name}, not for viewers</span>
          </p>
          <code>{url}</code>
          <CopyButton text={url} what={`the pass of ${name}`} />
        </div>
      )}
    </li>
  );
}

/** A guest of the sheet who is not asked yet. */
function Missing({ show, person, onAsk }: { show: ShowView; person: PersonOnShow; onAsk: (email: string | null, allDates: boolean) => Promise<boolean> }) {
  const contacts = useContacts();
  const known = contacts.data?.find(({ name }) => name.trim().toLowerCase() === person.name.trim().toLowerCase());
  const [typed, setTyped] = useState<string | null>(null);
  const [allDates, setAllDates] = useState(false);
  const [busy, setBusy] = useState(false);
  const email = typed ?? known?.email ?? '';
  const ask = (to: string | null) => {
    setBusy(true);
    void onAsk(to, allDates).finally(() => setBusy(false));
  };
  return (
    <li>
      <div>
        <b>{person.name}</b> <span className="standing">not asked yet</span>
      </div>
      <div className="guest-ask">
        <Form.Control
          size="sm"
          type="email"
          aria-label={`Mail address of ${person.name}`}
          placeholder="Mail address"
          value={email}
          onChange={({ target }) => setTyped(target.value)}
          onKeyDown={(event) => {
            if (event.key !== 'Enter') return;
            event.preventDefault();
            ask(email.trim() || null);
          }}
        />
        <Button size="sm" variant="outline-primary" disabled={busy} onClick={() => ask(email.trim() || null)}>
          {email.trim() ? 'Ask by mail' : 'Make a pass'}
          <span className="visually-hidden"> for {person.name}</span>
        </Button>
        {show.series && (
          <Form.Check
            className="small-words"
            id={`all-dates-${person.name}`}
            checked={allDates}
            onChange={({ target }) => setAllDates(target.checked)}
            label="For the dates after it as well"
          />
        )}
      </div>
    </li>
  );
}
