// Asking the host: without an account, followed by this browser alone. Whoever asked may be asked in.
import { LONGEST_QUESTION, MOST_OWN_QUESTIONS, type HouseView, type OwnQuestion, type PlaceAnswered } from '@lantern/contract';
import { useEffect, useState, type FormEvent } from 'react';
import { server, wordsOf } from '../app/server';
import { newKey } from './this-browser';

/** An offer is seen within seconds; nobody waits for more. */
const FOLLOW_EVERY_MS = 5_000;

const nameOf = (slug: string) => `lantern-questions-${slug}`;

/** What this browser keeps of its questions: the key of each. */
function keysKept(slug: string): string[] {
  try {
    const kept = JSON.parse(localStorage.getItem(nameOf(slug)) ?? '[]') as unknown;
    return Array.isArray(kept) ? kept.filter((key): key is string => typeof key === 'string').slice(-MOST_OWN_QUESTIONS) : [];
  } catch {
    return []; // Written by hand, or by nobody.
  }
}

export interface Own extends OwnQuestion {
  key: string;
}

/** One's own questions, as they stand by now. */
export function useOwnQuestions(slug: string): {
  own: Own[];
  add: (key: string, question: OwnQuestion) => void;
  set: (key: string, question: OwnQuestion) => void;
  /** Follows what may become a question of one's own. */
  follow: (key: string) => void;
} {
  const [keys, setKeys] = useState(() => keysKept(slug));
  const [known, setKnown] = useState<Record<string, OwnQuestion>>({});
  const set = (key: string, question: OwnQuestion) => setKnown((before) => ({ ...before, [key]: question }));
  useEffect(() => {
    if (!keys.length) return;
    let gone = false;
    const ask = () => {
      if (document.visibilityState !== 'visible') return;
      server.post<Record<string, OwnQuestion>>(`/api/house/${slug}/questions/own`, { keys }).then(
        (told) => gone || setKnown(told),
        () => undefined, // The next try will tell.
      );
    };
    ask();
    const timer = setInterval(ask, FOLLOW_EVERY_MS);
    return () => {
      gone = true;
      clearInterval(timer);
    };
  }, [slug, keys]);
  const follow = (key: string) => {
    const all = [...keys, key].slice(-MOST_OWN_QUESTIONS);
    try {
      localStorage.setItem(nameOf(slug), JSON.stringify(all));
    } catch {
      // A browser that keeps nothing follows it for as long as the page is open.
    }
    setKeys(all);
  };
  return {
    own: keys.flatMap((key) => (known[key] ? [{ key, ...known[key] }] : [])),
    set,
    follow,
    add: (key, question) => {
      set(key, question);
      follow(key);
    },
  };
}

const BECAME: Record<OwnQuestion['state'], string> = { open: 'is with the host', answered: 'was answered', 'put aside': 'will not be answered this time' };

export function AskTheHost({
  slug,
  house,
  own,
  onKept,
  name,
  onName,
}: {
  slug: string;
  house: HouseView;
  own: readonly Own[];
  onKept: (key: string, question: OwnQuestion) => void;
  name: string;
  onName: (name: string) => void;
}) {
  const [words, setWords] = useState('');
  const [said, setSaid] = useState('');
  const [busy, setBusy] = useState(false);
  const [key, setKey] = useState(newKey);
  const ask = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      onKept(key, await server.post<OwnQuestion>(`/api/house/${slug}/questions`, { key, name: name.trim(), words: words.trim() }));
      setKey(newKey());
      setWords('');
      setSaid('');
    } catch (error) {
      setSaid(wordsOf(error));
    } finally {
      setBusy(false);
    }
  };
  if (!house.questions && !own.length) return null;
  return (
    <section className="ask mt-5" aria-labelledby="ask-title">
      <h2 className="h3" id="ask-title">
        Ask the host
      </h2>
      {own.length > 0 && (
        <ul className="list-unstyled">
          {own.map((question) => (
            <li key={question.key} className="mb-1">
              “{question.words}”{' '}
              <span className="soft" role="status">
                {BECAME[question.state]}
              </span>
            </li>
          ))}
        </ul>
      )}
      {house.questions ? (
        <form noValidate onSubmit={(event) => void ask(event)}>
          <p className="soft small-words mb-2">Only those who make the show read it. It may be read out, with your name.</p>
          <label htmlFor="asker" className="form-label">
            Your name
          </label>
          <input
            id="asker"
            className="form-control mb-2"
            autoComplete="given-name"
            maxLength={60}
            value={name}
            onChange={({ target }) => onName(target.value)}
          />
          <label htmlFor="question" className="form-label">
            Your question
          </label>
          <textarea
            id="question"
            className="form-control mb-2"
            rows={2}
            maxLength={LONGEST_QUESTION}
            value={words}
            onChange={({ target }) => setWords(target.value)}
          />
          <button className="btn btn-primary" disabled={busy || !name.trim() || !words.trim()}>
            Send it to the host
          </button>
          <p role="alert" className="mt-2 mb-0">
            {said}
          </p>
        </form>
      ) : (
        <p className="soft mb-0">No more questions are taken.</p>
      )}
    </section>
  );
}

/** The host would like to have the visitor on the picture. Nothing of them goes anywhere before they have been through the door. */
export function AskedIn({ slug, question, onAnswer }: { slug: string; question: Own; onAnswer: (question: OwnQuestion) => void }) {
  const [said, setSaid] = useState('');
  const [busy, setBusy] = useState(false);
  const answer = async (comes: boolean) => {
    setBusy(true);
    try {
      const { question: now, door } = await server.post<PlaceAnswered>(`/api/house/${slug}/questions/place`, { key: question.key, comes });
      if (door === null) onAnswer(now);
      else window.location.assign(door);
    } catch (error) {
      setSaid(wordsOf(error));
    } finally {
      setBusy(false);
    }
  };
  const has = question.place === 'accepted';
  return (
    <section className="asked-in" aria-labelledby="asked-in-title">
      <h2 className="h3" id="asked-in-title">
        {has ? 'A place is kept for you' : 'Will you come in and ask it yourself?'}
      </h2>
      <p className="mb-2">
        <span className="d-block mb-2">“{question.words}”</span>
        {has
          ? 'You go in by the guest door, and can come back to it from here.'
          : 'The host offers you a place in the show: by camera, or by your voice alone. Everybody who watches sees and hears you then, and it is recorded; before that you are shown how you look, and you are brought in only when the host is ready.'}
      </p>
      <span className="d-flex flex-wrap gap-3">
        <button className="btn btn-primary" disabled={busy} onClick={() => void answer(true)}>
          {has ? 'To the guest door' : 'Yes, I come in'}
        </button>
        {!has && (
          <button className="btn btn-outline-primary" disabled={busy} onClick={() => void answer(false)}>
            Rather not
          </button>
        )}
      </span>
      <p role="alert" className="mt-2 mb-0">
        {said}
      </p>
    </section>
  );
}
