// Writing down what is said while a show is on, a line at a time: it can stand beneath the recording afterwards.
import type { NotesView } from '@lantern/contract';
import { LONGEST_CAPTION, sayTime, instant } from '@lantern/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useParams } from 'react-router';
import { useAskEvery } from '../app/changes';
import { PageTitle } from '../app/PageTitle';
import { randomName } from '../app/random-name';
import { server, ServerError, wordsOf } from '../app/server';
import { useAskOnClose } from '../app/stay';
import { Notice } from '../look/Notice';
import './notes.scss';

const AGAIN_MS = 3_000;
const LONGEST_AGO_MS = 3_600_000;

interface Line {
  id: string;
  words: string;
  begunAt: number;
}

export function LiveNotesPage() {
  return <NotesOf id={useParams().id ?? ''} />;
}

export function NotesOf({ id }: { id: string }) {
  const queries = useQueryClient();
  const key = ['notes', id];
  const askEvery = useAskEvery(5_000);
  const view = useQuery({ queryKey: key, queryFn: () => server.get<NotesView>(`/api/shows/${id}/notes`), refetchInterval: askEvery });
  const { waiting, trouble, refused, write } = useLines(id, (after) => queries.setQueryData(key, after));
  const remove = useMutation({
    mutationFn: (noteId: string) => server.delete<NotesView>(`/api/shows/${id}/notes/${noteId}`),
    onSuccess: () => queries.invalidateQueries({ queryKey: key }),
  });
  const [words, setWords] = useState('');
  const begunAt = useRef<number | null>(null);
  const end = useRef<HTMLLIElement>(null);
  useAskOnClose(waiting.length > 0);
  const count = (view.data?.notes.length ?? 0) + waiting.length;
  useEffect(() => {
    end.current?.scrollIntoView({ block: 'nearest' });
  }, [count]);
  if (view.error) return <Notice kind="refusal">{wordsOf(view.error)}</Notice>;
  if (!view.data) return null;
  const { title, open, notes } = view.data;
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  return (
    <div className="narrow">
      <PageTitle of={`Written down: ${title}`} />
      <p className="soft mb-1">Written down</p>
      <h1>{title}</h1>
      <p className="soft">
        Write what is said, a line at a time. Each line is known by when you began it, and can stand as a caption beneath the recording.{' '}
        <Link to={`/shows/${id}`}>Show sheet</Link>
      </p>
      <ol className="written" aria-label="What was written down">
        {notes.map(({ id: noteId, at, by, words: said }) => (
          <li key={noteId}>
            <span className="soft small-words">
              {sayTime(instant(at), zone, false)} {by}
            </span>
            <span>{said}</span>
            <Button variant="quiet" size="sm" disabled={remove.isPending} onClick={() => remove.mutate(noteId)}>
              Take out<span className="visually-hidden"> ({said})</span>
            </Button>
          </li>
        ))}
        {waiting.map(({ id: lineId, words: said }) => (
          <li key={lineId}>
            <span className="soft small-words">not kept yet</span>
            <span>{said}</span>
          </li>
        ))}
        <li ref={end} aria-hidden />
      </ol>
      {open || waiting.length > 0 ? (
        <Form
          onSubmit={(event) => {
            event.preventDefault();
            if (!words.trim()) return;
            write({ id: randomName(12), words: words.trim(), begunAt: begunAt.current ?? Date.now() });
            begunAt.current = null;
            setWords('');
          }}
        >
          <Form.Control
            autoFocus
            aria-label="What is said"
            placeholder="What is said; Enter keeps the line"
            value={words}
            maxLength={LONGEST_CAPTION}
            onChange={({ target }) => {
              begunAt.current = target.value.trim() ? (begunAt.current ?? Date.now()) : null;
              setWords(target.value);
            }}
          />
        </Form>
      ) : (
        <p>This show is not on air. What is said can be written down once it is.</p>
      )}
      {refused.map((words, at) => (
        <Notice key={`${at} ${words}`} kind="refusal">
          {words}
        </Notice>
      ))}
      {trouble && <Notice kind="caution">{trouble}</Notice>}
      {remove.error && <Notice kind="refusal">{wordsOf(remove.error)}</Notice>}
    </div>
  );
}

const willNever = (error: unknown): boolean => error instanceof ServerError && [400, 403, 404, 409].includes(error.status);

/** Lines on their way, in their order: each stays here until the server has it, and is sent again where it does not answer. */
function useLines(showId: string, onKept: (after: NotesView) => void) {
  const [waiting, setWaiting] = useState<Line[]>([]);
  const [trouble, setTrouble] = useState('');
  const [refused, setRefused] = useState<string[]>([]);
  const kept = useRef(onKept);
  useEffect(() => {
    kept.current = onKept;
  });
  const [first] = waiting;
  useEffect(() => {
    if (!first) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let gone = false;
    const send = async () => {
      try {
        const { id, words, begunAt } = first;
        // The clock of the machine may be set meanwhile.
        const begunMsAgo = Math.min(LONGEST_AGO_MS, Math.max(0, Date.now() - begunAt));
        const after = await server.post<NotesView>(`/api/shows/${showId}/notes`, { id, words, begunMsAgo });
        if (gone) return;
        kept.current(after);
        setTrouble('');
        setWaiting((all) => all.filter((line) => line.id !== id));
      } catch (error) {
        if (gone) return;
        // What the server will not have is not sent for ever; what it has not heard is.
        if (willNever(error)) {
          setRefused((all) => [...all, `“${first.words}” was not kept. ${wordsOf(error)}`]);
          setWaiting((all) => all.filter((line) => line.id !== first.id));
        } else {
          setTrouble(wordsOf(error));
          timer = setTimeout(() => void send(), AGAIN_MS);
        }
      }
    };
    void send();
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [first, showId]);
  return { waiting, trouble, refused, write: (line: Line) => setWaiting((all) => [...all, line]) };
}
