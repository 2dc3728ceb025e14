// What visitors say to one another and to the host, without an account. Some of it may be looked at before it is shown, and that is said to who wrote it.
import { MOST_BEHIND_MS, type HouseMessage, type TalkKept } from '@lantern/contract';
import { instant, LONGEST_SAID, looksAsked, sayTime } from '@lantern/core';
import { useEffect, useRef, useState, type FormEvent } from 'react';
import { server, wordsOf } from '../app/server';
import type { HearsSaid } from './house-state';
import { useSaid } from './said';
import { browserKey, newKey } from './this-browser';

/** So near to the end, and what comes is followed. */
const AT_END_PX = 40;

interface Props {
  slug: string;
  hearing: Set<HearsSaid>;
  /** Whether one can write at this moment. */
  open: boolean;
  /** How late the page shows the programme at this moment, in ms; null: it shows none. */
  behindMs: () => number | null;
  name: string;
  onName: (name: string) => void;
  /** What looks like a question may become one of the host's: its key follows that. */
  onAsked: (key: string) => void;
}

interface Waiting {
  id: string;
  words: string;
}

export function TalkHere({ slug, hearing, open, name, behindMs, onName, onAsked }: Props) {
  const path = `/api/house/${slug}/messages`;
  const { messages, trouble, add } = useSaid(slug, hearing);
  const [words, setWords] = useState('');
  const [said, setSaid] = useState('');
  const [busy, setBusy] = useState(false);
  const [key, setKey] = useState(newKey);
  const [waiting, setWaiting] = useState<readonly Waiting[]>([]);
  /** Of this browser: nobody says that they ask their own question too. */
  const [mine, setMine] = useState<ReadonlySet<string>>(new Set());
  const [askedToo, setAskedToo] = useState<ReadonlySet<string>>(new Set());
  const [follows, setFollows] = useState(true);
  const list = useRef<HTMLOListElement>(null);
  const shown = messages.filter((message) => message.shown);
  const last = shown.at(-1)?.id;
  useEffect(() => {
    if (follows && list.current) list.current.scrollTop = list.current.scrollHeight;
  }, [follows, last]);
  const stillWaiting = waiting.filter(({ id }) => !messages.some((message) => message.id === id && message.shown));
  const send = async (event: FormEvent) => {
    event.preventDefault();
    if (busy || !words.trim() || !name.trim()) return;
    setBusy(true);
    try {
      const late = behindMs();
      const seeing = late !== null && late >= 0 && late <= MOST_BEHIND_MS ? { behindMs: Math.round(late) } : {};
      const { id, waits, message } = await server.post<TalkKept>(path, { key, writer: browserKey(), name: name.trim(), words: words.trim(), ...seeing });
      if (message) add([message]);
      setMine((before) => new Set([...before, id]));
      if (waits) setWaiting((before) => [...before.filter((each) => each.id !== id), { id, words: words.trim() }].slice(-5));
      if (looksAsked(words)) onAsked(key);
      setKey(newKey());
      setWords('');
      setSaid('');
      setFollows(true);
    } catch (error) {
      setSaid(wordsOf(error));
    } finally {
      setBusy(false);
    }
  };
  const askToo = async ({ id }: HouseMessage) => {
    try {
      add([await server.post<HouseMessage>(`${path}/${id}/asked-too`, { writer: browserKey() })]);
      setAskedToo((before) => new Set([...before, id]));
      setSaid('');
    } catch (error) {
      setSaid(wordsOf(error));
    }
  };
  return (
    <section className="talk" aria-labelledby="talk-title">
      <h2 className="h3" id="talk-title">
        Messages
      </h2>
      {trouble && <p role="alert">{trouble}</p>}
      <ol
        ref={list}
        className="said"
        aria-label="What is said here"
        tabIndex={0}
        onScroll={({ currentTarget: { scrollTop, scrollHeight, clientHeight } }) => setFollows(scrollHeight - scrollTop - clientHeight < AT_END_PX)}
      >
        {!shown.length && <li className="soft">{open ? 'Nobody has written yet.' : 'Messages can be written here while the show is on.'}</li>}
        {shown.map((message) => (
          <li key={message.id} className={message.own ? 'by-host' : undefined}>
            <b>
              <bdi>{message.name}</bdi>
            </b>
            {message.own && <span className="host-mark">Host</span>}{' '}
            <span className="soft">{sayTime(instant(message.writtenAt), Intl.DateTimeFormat().resolvedOptions().timeZone, false)}</span>
            <span className="d-block">
              {message.to !== null && (
                <span className="soft">
                  To <bdi>{message.to}</bdi>:{' '}
                </span>
              )}
              <bdi>{message.words}</bdi>
            </span>
            {(message.asks || message.askedToo > 0) && (
              <span className="asks-too">
                {open && !message.answered && !mine.has(message.id) && (
                  <button type="button" className="btn btn-quiet btn-sm" disabled={askedToo.has(message.id)} onClick={() => void askToo(message)}>
                    I ask this too<span className="visually-hidden"> ({message.words})</span>
                  </button>
                )}
                {message.askedToo > 0 && (
                  <span className="soft">{message.askedToo === 1 ? '1 other asks it too' : `${message.askedToo} others ask it too`}</span>
                )}
                {message.answered && <span className="soft">answered</span>}
              </span>
            )}
          </li>
        ))}
      </ol>
      {!follows && (
        <button type="button" className="btn btn-quiet btn-sm" onClick={() => setFollows(true)}>
          To the newest
        </button>
      )}
      {stillWaiting.map(({ id, words: theirs }) => (
        <p key={id} role="status" className="soft mb-1">
          “{theirs}” is with the host, and is shown once somebody has looked at it.
        </p>
      ))}
      {open && (
        <form noValidate className="say-here" onSubmit={(event) => void send(event)}>
          <label className="say-name">
            Your name
            <input className="form-control" autoComplete="given-name" maxLength={60} value={name} onChange={({ target }) => onName(target.value)} />
          </label>
          <label className="say-words">
            Your message
            <input
              className="form-control"
              autoComplete="off"
              maxLength={LONGEST_SAID}
              value={words}
              onChange={({ target }) => {
                setWords(target.value);
                // Other words are another message; the same, tried again, is the same one.
                setKey(newKey());
              }}
            />
          </label>
          <button className="btn btn-primary" disabled={busy || !name.trim() || !words.trim()}>
            Send
          </button>
          <p className="soft small-words mb-0">
            Everybody on this page reads it, with your name. There is no account and no cookie: this browser keeps your name, and a key that tells it from
            others.
          </p>
          <p role="alert" className="mb-0">
            {said}
          </p>
        </form>
      )}
    </section>
  );
}
