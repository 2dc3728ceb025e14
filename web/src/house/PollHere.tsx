// A poll on the house page: answered by one press, without an account; how it stands is seen once one has answered, or it is closed.
import type { HousePoll, HousePollMine } from '@lantern/contract';
import { sayVotes, shares } from '@lantern/core';
import { useEffect, useState } from 'react';
import { server, wordsOf } from '../app/server';
import type { HearsSaid } from './house-state';
import { browserKey } from './this-browser';

export function PollHere({ slug, hearing }: { slug: string; hearing: Set<HearsSaid> }) {
  const path = `/api/house/${slug}/poll`;
  const [poll, setPoll] = useState<HousePoll | null>(null);
  const [mine, setMine] = useState<{ poll: string; option: number } | null>(null);
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState('');
  // An answer that was long on its way says nothing newer than the stream.
  const [hear] = useState(() => (told: HousePoll | null) => setPoll((before) => (before && told && told.at < before.at ? before : told)));
  const [take] = useState(() => ({ poll: told, mine: option }: HousePollMine) => {
    hear(told);
    if (told && option !== null) setMine({ poll: told.id, option });
  });
  useEffect(() => {
    let gone = false;
    const ask = () =>
      void server.post<HousePollMine>(path, { writer: browserKey() }).then(
        (told) => gone || take(told),
        () => undefined, // The stream will tell.
      );
    ask();
    const hears: HearsSaid = { onBegun: ask, onPoll: hear };
    hearing.add(hears);
    return () => {
      gone = true;
      hearing.delete(hears);
    };
  }, [path, hearing, hear, take]);
  if (!poll) return null;
  const vote = async (option: number) => {
    setBusy(true);
    try {
      take(await server.post<HousePollMine>(`${path}/vote`, { poll: poll.id, option, writer: browserKey() }));
      setSaid('');
    } catch (error) {
      setSaid(wordsOf(error));
    } finally {
      setBusy(false);
    }
  };
  const answered = mine?.poll === poll.id ? mine.option : null;
  const open = poll.state === 'open';
  const seen = answered !== null || !open;
  const percent = shares(poll.counts);
  const votes = poll.counts.reduce((sum, count) => sum + count, 0);
  const most = Math.max(1, ...poll.counts);
  return (
    <section className="poll-here" aria-labelledby="poll-title">
      <h2 className="h3" id="poll-title">
        {poll.question}
      </h2>
      <ul>
        {poll.options.map((option, at) => (
          <li key={option}>
            <button type="button" className="btn btn-outline-primary" disabled={busy || !open} aria-pressed={answered === at} onClick={() => void vote(at)}>
              <span>
                {answered === at && <span aria-hidden="true">✓ </span>}
                {option}
              </span>
              {seen && <span className="share">{percent[at]} %</span>}
            </button>
            {seen && (
              <span className="bar" aria-hidden="true">
                <span style={{ width: `${(100 * poll.counts[at]!) / most}%` }} />
              </span>
            )}
          </li>
        ))}
      </ul>
      <p className="soft small-words mb-0" role="status">
        {!open
          ? `Closed, ${sayVotes(votes)}.`
          : answered === null
            ? 'Choose one. You can think better of it until it is closed.'
            : `You have answered. ${sayVotes(votes)} so far.`}
      </p>
      <p role="alert" className="mb-0">
        {said}
      </p>
    </section>
  );
}
