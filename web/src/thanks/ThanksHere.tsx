// Thanks to those who came, who missed it, who asked to be reminded, and to the guests: words for each, sent once.
import type { Thanked, ThanksView } from '@lantern/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { server, wordsOf } from '../app/server';
import { AskedButton } from '../look/AskedButton';
import { CopyButton } from '../look/CopyButton';
import { Notice } from '../look/Notice';

const NAMES: Record<Thanked, string> = {
  came: 'Who was invited and came',
  missed: 'Who was invited and missed it',
  registered: 'Who asked to be reminded',
  guests: 'Guests',
};

export function ThanksHere({ showId }: { showId: string }) {
  const key = ['report', showId, 'thanks'];
  const thanks = useQuery({ queryKey: key, queryFn: () => server.get<ThanksView>(`/api/shows/${showId}/thanks`) });
  if (!thanks.data) return null;
  const { replayUrl, groups, places } = thanks.data;
  const some = groups.filter(({ count }) => count > 0);
  if (!some.length && !places.length) return null;
  return (
    <section className="mb-5">
      <h2>Thanks</h2>
      {replayUrl === null ? (
        <p>Nothing can be watched on the house page yet. Show the recording or a cut there, then thank people with it.</p>
      ) : (
        <>
          <ul className="start-list" style={{ maxWidth: '46rem' }}>
            {some.map((group) => (
              <Group key={group.whom} showId={showId} group={group} queryKey={key} />
            ))}
          </ul>
          {places.length > 0 && (
            <details className="mt-3" style={{ maxWidth: '46rem' }}>
              <summary>Words for your channels, to say there yourself</summary>
              {places.map(({ airingId, name, words }) => (
                <div key={airingId} className="mt-3">
                  <div className="d-flex gap-3 align-items-baseline">
                    <b>{name}</b> <CopyButton text={words} what={`the words for ${name}`} />
                  </div>
                  <p className="small-words mb-0" style={{ whiteSpace: 'pre-line', overflowWrap: 'anywhere' }}>
                    {words}
                  </p>
                </div>
              ))}
            </details>
          )}
        </>
      )}
    </section>
  );
}

function Group({ showId, group, queryKey }: { showId: string; group: ThanksView['groups'][number]; queryKey: string[] }) {
  const queries = useQueryClient();
  const { whom, count, thanked } = group;
  const [open, setOpen] = useState(false);
  const [subject, setSubject] = useState(group.subject);
  const [text, setText] = useState(group.text);
  const send = useMutation({
    mutationFn: () => server.post<ThanksView>(`/api/shows/${showId}/thanks`, { whom, subject, text }),
    onSuccess: (after) => {
      setOpen(false);
      queries.setQueryData(queryKey, after);
    },
  });
  const left = count - thanked;
  return (
    <li>
      <div>
        <b>{NAMES[whom]}</b>: {count}
        {thanked > 0 && (
          <span className="soft">
            , {thanked === count ? 'all' : thanked} thanked (<Link to="/mail">outbox</Link>)
          </span>
        )}
      </div>
      {left > 0 && !open && (
        <Button variant="outline-primary" size="sm" onClick={() => setOpen(true)}>
          Thank them<span className="visually-hidden"> ({NAMES[whom]})</span>
        </Button>
      )}
      {open && (
        <div className="w-100">
          <Form.Group controlId={`thanks-subject-${whom}`} className="mb-2">
            <Form.Label>Subject</Form.Label>
            <Form.Control value={subject} maxLength={150} onChange={({ target }) => setSubject(target.value)} />
          </Form.Group>
          <Form.Group controlId={`thanks-text-${whom}`} className="mb-2">
            <Form.Label>Words</Form.Label>
            <Form.Control as="textarea" rows={4} value={text} maxLength={4_000} onChange={({ target }) => setText(target.value)} />
            <Form.Text>The address of the house page stands beneath it, and how to hear no more.</Form.Text>
          </Form.Group>
          <div className="button-row">
            <AskedButton
              label={`Send to ${left}`}
              question={`Write to ${left === 1 ? 'one person' : `${left} people`}?`}
              yes="Send"
              disabled={send.isPending || !subject.trim() || !text.trim()}
              onYes={() => send.mutate()}
            />
            <Button variant="quiet" size="sm" onClick={() => setOpen(false)}>
              Not now
            </Button>
          </div>
          {send.error && <Notice kind="refusal">{wordsOf(send.error)}</Notice>}
        </div>
      )}
    </li>
  );
}
