// The polls of a show: prepared on the sheet or at the stage, opened, put on the picture and closed at the stage. Within the sheet's form, so that nothing here is a form.
import type { PollView, SaidView, ShowView } from '@lantern/contract';
import { FEWEST_OPTIONS, letterOf, LONGEST_OPTION, LONGEST_POLL_QUESTION, MOST_OPTIONS, sayPoll, sayVotes, shares } from '@lantern/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { newKey } from '../house/this-browser';
import { AskedButton } from '../look/AskedButton';
import { Notice } from '../look/Notice';
import { messagesPath } from '../mailbag/use-mailbag';
import { pollsKey, pollsPath, usePolls } from './use-polls';
import './polls.scss';

interface OnPicture {
  shown: string | null;
  /** Null: there is no picture yet. */
  onToggle: ((id: string) => void) | null;
}

interface Props {
  show: ShowView;
  /** Where they are run, and not only prepared. */
  runs?: boolean;
  picture?: OnPicture;
}

export function Polls({ show, runs = false, picture }: Props) {
  const [path, key] = [pollsPath(show.id), pollsKey(show.id)];
  const queries = useQueryClient();
  const all = usePolls(show.id);
  const [writing, setWriting] = useState<PollView | 'new' | null>(null);
  const act = useMutation({
    mutationFn: (ask: () => Promise<PollView[]>) => ask(),
    onSuccess: (now) => queries.setQueryData(key, now),
  });
  if (!all.data || show.rehearsal) return null;
  const polls = all.data;
  if (runs && !['placed', 'onAir', 'interrupted'].includes(show.state)) return null;
  const keep = async (draft: { question: string; options: string[] }) => {
    const id = writing === 'new' || !writing ? null : writing.id;
    await act
      .mutateAsync(() => (id === null ? server.post(path, draft) : server.put(`${path}/${id}`, draft)))
      .then(
        () => setWriting(null),
        () => undefined, // It is told below, and what was typed stays.
      );
  };
  return (
    <section className="polls small-words" aria-label="Polls">
      {!runs && <h3 className="part-of-section">Polls</h3>}
      <p className="mb-1">
        {runs && <b>Polls </b>}
        <span className="soft">
          {polls.length ? '' : runs ? 'none prepared' : 'None is prepared. Visitors answer on the house page, others by a letter in a message.'}
        </span>{' '}
        {writing === null && (
          <Button variant="quiet" size="sm" onClick={() => setWriting('new')}>
            Prepare one
          </Button>
        )}
      </p>
      {act.error && <Notice kind="refusal">{wordsOf(act.error)}</Notice>}
      {polls.length > 0 && (
        <ul>
          {polls.map((poll) => (
            <li key={poll.id}>
              <Standing poll={poll} />
              <span className="poll-acts">
                {poll.state === 'prepared' && runs && (
                  <Button
                    variant="outline-primary"
                    size="sm"
                    disabled={act.isPending}
                    onClick={() => act.mutate(() => server.post(`${path}/${poll.id}/open`, {}))}
                  >
                    Open it<span className="visually-hidden"> ({poll.question})</span>
                  </Button>
                )}
                {poll.state === 'open' && runs && (
                  <Button
                    variant="outline-primary"
                    size="sm"
                    disabled={act.isPending}
                    onClick={() => act.mutate(() => server.post(`${path}/${poll.id}/close`, {}))}
                  >
                    Close it<span className="visually-hidden"> ({poll.question})</span>
                  </Button>
                )}
                {poll.state !== 'prepared' && picture?.onToggle && (
                  <Button variant="quiet" size="sm" aria-pressed={picture.shown === poll.id} onClick={() => picture.onToggle?.(poll.id)}>
                    {picture.shown === poll.id ? 'Take it off the picture' : 'On the picture'}
                    <span className="visually-hidden"> ({poll.question})</span>
                    {(picture.shown === poll.id || poll.state === 'open') && (
                      <>
                        {' '}
                        <kbd className="key">V</kbd>
                      </>
                    )}
                  </Button>
                )}
                {poll.state === 'open' && runs && show.state === 'onAir' && <ToChannels showId={show.id} poll={poll} />}
                {poll.state === 'prepared' && (
                  <Button variant="quiet" size="sm" onClick={() => setWriting(poll)}>
                    Change<span className="visually-hidden"> ({poll.question})</span>
                  </Button>
                )}
                {poll.state !== 'open' && (
                  <AskedButton
                    label="Take away"
                    name={`Take away (${poll.question})`}
                    question={poll.state === 'closed' ? 'With its votes?' : 'Take it away?'}
                    yes="Take away"
                    onYes={() => act.mutate(() => server.delete(`${path}/${poll.id}`))}
                  />
                )}
              </span>
            </li>
          ))}
        </ul>
      )}
      {writing !== null && (
        <PollFields
          key={writing === 'new' ? 'new' : writing.id}
          poll={writing === 'new' ? null : writing}
          busy={act.isPending}
          onKeep={(draft) => void keep(draft)}
          onLeave={() => setWriting(null)}
        />
      )}
      {runs && polls.some(({ state }) => state === 'open') && (
        <p className="soft mb-0">
          Each browser on the house page, and each name on a channel, counts once; of two answers the later. Who changes browser or name can answer again.
        </p>
      )}
    </section>
  );
}

/** What is asked, and how it stands. */
function Standing({ poll: { question, options, counts, state, from } }: { poll: PollView }) {
  const said = shares(counts);
  const votes = counts.reduce((sum, count) => sum + count, 0);
  const most = Math.max(1, ...counts);
  if (state === 'prepared') {
    return (
      <p className="mb-0">
        {question} <span className="soft">{options.map((option, at) => `${letterOf(at)} ${option}`).join(' · ')}</span>
      </p>
    );
  }
  return (
    <>
      <p className="mb-1">
        {question}{' '}
        <span className="soft">
          {state}, {sayVotes(votes)}
          {from.length > 0 && `: ${from.map((each) => `${each.name} ${each.votes}`).join(', ')}`}
        </span>
      </p>
      <ul className="poll-bars">
        {options.map((option, at) => (
          <li key={option}>
            <span>
              {letterOf(at)} {option}
            </span>
            <span className="bar" aria-hidden="true">
              <span style={{ width: `${(100 * (counts[at] ?? 0)) / most}%` }} />
            </span>
            <span className="share">
              {said[at]} % <span className="soft">({counts[at]})</span>
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** Writes on all channels what is asked, and how one answers there. */
function ToChannels({ showId, poll }: { showId: string; poll: PollView }) {
  const [key] = useState(newKey);
  const say = useMutation({ mutationFn: () => server.post<SaidView>(messagesPath(showId), { words: sayPoll(poll.question, poll.options), key }) });
  const refused = say.data?.said.filter(({ refusal }) => refusal) ?? [];
  return (
    <>
      <Button variant="quiet" size="sm" disabled={say.isPending || (say.isSuccess && !refused.length)} onClick={() => say.mutate()}>
        {say.isPending ? 'Writing…' : say.isSuccess && !refused.length ? 'Written on all channels' : 'Write it on all channels'}
      </Button>
      {refused.map(({ channelId, name, refusal }) => (
        <span key={channelId} className="d-block text-danger-emphasis">
          Not on {name}: {refusal}
        </span>
      ))}
      {say.error && <span className="d-block text-danger-emphasis">{wordsOf(say.error)}</span>}
    </>
  );
}

interface FieldsProps {
  poll: PollView | null;
  busy: boolean;
  onKeep: (draft: { question: string; options: string[] }) => void;
  onLeave: () => void;
}

function PollFields({ poll, busy, onKeep, onLeave }: FieldsProps) {
  const id = useId();
  const [question, setQuestion] = useState(poll?.question ?? '');
  const [options, setOptions] = useState<readonly string[]>(poll?.options ?? ['', '']);
  const given = options.map((option) => option.trim()).filter(Boolean);
  const ready = question.trim() !== '' && given.length >= FEWEST_OPTIONS;
  const keep = () => ready && !busy && onKeep({ question: question.trim(), options: given });
  return (
    <div
      className="poll-fields"
      role="group"
      aria-label={poll ? 'Change the poll' : 'A new poll'}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onLeave();
        if (event.key !== 'Enter' || !(event.target instanceof HTMLInputElement)) return;
        event.preventDefault();
        keep();
      }}
    >
      <Form.Label htmlFor={id}>What is asked</Form.Label>
      <Form.Control id={id} size="sm" autoFocus maxLength={LONGEST_POLL_QUESTION} value={question} onChange={({ target }) => setQuestion(target.value)} />
      {options.map((option, at) => (
        <label key={at}>
          Answer {letterOf(at)}
          <Form.Control
            size="sm"
            maxLength={LONGEST_OPTION}
            value={option}
            onChange={({ target }) => setOptions(options.map((each, other) => (other === at ? target.value : each)))}
          />
        </label>
      ))}
      <span className="poll-acts">
        <Button size="sm" variant="outline-primary" disabled={!ready || busy} onClick={keep}>
          Keep
        </Button>
        {options.length < MOST_OPTIONS && (
          <Button size="sm" variant="quiet" onClick={() => setOptions([...options, ''])}>
            One more answer
          </Button>
        )}
        <Button size="sm" variant="quiet" onClick={onLeave}>
          Leave it
        </Button>
      </span>
    </div>
  );
}
