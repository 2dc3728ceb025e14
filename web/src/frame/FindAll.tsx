// Finds shows, people, texts and channels from any planning page, as one types.
import { NETWORK_NAMES, type ShowSummary } from '@lantern/contract';
import { instant, sayWhen } from '@lantern/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useRef, useState, type KeyboardEvent } from 'react';
import { Form, Modal } from 'react-bootstrap';
import { Link } from 'react-router';
import { serverNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { useChannels } from '../channels/channel-queries';
import { contactsFor, useContacts } from '../contacts/contact-queries';
import { Notice } from '../look/Notice';

/** As many of a kind as one reads. */
const FEW = 8;

export function FindAll({ onClose }: { onClose: () => void }) {
  const [words, setWords] = useState('');
  const wanted = words.trim().toLowerCase();
  const channels = useChannels();
  const contacts = useContacts();
  const shows = useQuery({
    queryKey: ['shows', 'found', words.trim()],
    queryFn: () => server.get<ShowSummary[]>(`/api/shows?words=${encodeURIComponent(words.trim())}`),
    enabled: wanted !== '',
    placeholderData: keepPreviousData,
  });
  const list = useRef<HTMLDivElement>(null);
  const input = useRef<HTMLInputElement>(null);
  // What comes next is looked for most.
  const now = serverNow();
  const found = wanted ? [...(shows.data ?? [])].sort((a, b) => awayFrom(now, a) - awayFrom(now, b)).slice(0, FEW) : [];
  const there = wanted
    ? (channels.data ?? []).filter(({ name, network, kind }) =>
        [name, kind, network === 'typed-in' ? '' : NETWORK_NAMES[network]].some((text) => text.toLowerCase().includes(wanted)),
      )
    : [];
  const people = wanted ? contactsFor(contacts.data ?? [], '', wanted).slice(0, FEW) : [];
  // Only what was answered to these very words is known not to be there.
  const none = wanted !== '' && shows.isSuccess && !shows.isFetching && !shows.isPlaceholderData && found.length + there.length + people.length === 0;
  /** Up and down lead through what was found, and back to the words. */
  const keys = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const links = [...(list.current?.querySelectorAll<HTMLElement>('a') ?? [])];
    if (event.key === 'Enter' && event.target === input.current) {
      event.preventDefault();
      links[0]?.click();
    }
    if (step === undefined) return;
    event.preventDefault();
    const at = links.indexOf(document.activeElement as HTMLElement) + step;
    (at < 0 ? input.current : links[Math.min(at, links.length - 1)])?.focus();
  };
  return (
    <Modal show onHide={onClose} aria-labelledby="find-title" scrollable>
      <Modal.Header closeButton>
        <h2 id="find-title" className="mb-0">
          Find
        </h2>
      </Modal.Header>
      <Modal.Body onKeyDown={keys} className="find-all">
        <Form.Control
          ref={input}
          autoFocus
          type="search"
          maxLength={100}
          aria-label="What to find"
          placeholder="A show, a person, a channel, words of a text"
          value={words}
          onChange={({ target }) => setWords(target.value)}
        />
        <div ref={list}>
          {shows.error && wanted !== '' && <Notice kind="refusal">{wordsOf(shows.error)}</Notice>}
          <Kind name="Shows">
            {found.map(({ id, title, startsAt, zone, people: billed }) => (
              <Found key={id} to={`/shows/${id}`} onGo={onClose} name={title || 'Untitled show'}>
                {[sayWhen(instant(startsAt), zone), ...billed.filter(({ name }) => name.toLowerCase().includes(wanted)).map(({ name }) => `with ${name}`)].join(
                  ', ',
                )}
              </Found>
            ))}
          </Kind>
          <Kind name="Channels">
            {there.map(({ id, name, kind, network }) => (
              <Found key={id} to={`/channels/${id}`} onGo={onClose} name={name}>
                {network === 'typed-in' ? 'typed in by address and key' : `${kind} on ${NETWORK_NAMES[network]}`}
              </Found>
            ))}
          </Kind>
          <Kind name="Contacts">
            {people.map(({ id, name, email }) => (
              <Found key={id} to={`/contacts?find=${encodeURIComponent(name)}`} onGo={onClose} name={name}>
                {email}
              </Found>
            ))}
          </Kind>
        </div>
        <p role="status" className="soft small-words mb-0 mt-2">
          {none ? `Nothing is called “${words.trim()}”, and no text holds it.` : ''}
        </p>
      </Modal.Body>
    </Modal>
  );
}

/** What is past comes after all that is to come. */
const awayFrom = (now: number, { startsAt, lengthMs }: ShowSummary): number => (startsAt + lengthMs >= now ? startsAt - now : 1e15 + now - startsAt);

function Kind({ name, children }: { name: string; children: React.ReactNode[] }) {
  if (!children.length) return null;
  return (
    <>
      <h3>{name}</h3>
      <ul>{children}</ul>
    </>
  );
}

function Found({ to, name, onGo, children }: { to: string; name: string; onGo: () => void; children: React.ReactNode }) {
  return (
    <li>
      <Link to={to} onClick={onGo}>
        <b>{name}</b> <span className="soft small-words">{children}</span>
      </Link>
    </li>
  );
}
