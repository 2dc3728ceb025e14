// What to do otherwise the next time, written on the report while the evening is fresh.
import { LONGEST_LESSON, type Lesson, type LessonsView } from '@lantern/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { lessonsKey, useLessons } from './lessons';

export function LessonsHere({ showId, cues }: { showId: string; cues: readonly string[] }) {
  const queries = useQueryClient();
  const view = useLessons(showId);
  const [words, setWords] = useState('');
  const [cue, setCue] = useState('');
  const keep = useMutation({
    mutationFn: (lessons: readonly Lesson[]) => server.put<LessonsView>(`/api/shows/${showId}/lessons`, { base: view.data!.revision, lessons }),
    onSuccess: (after) => queries.setQueryData(lessonsKey(showId), after),
    // Theirs is looked at; what is typed here stays typed.
    onError: () => view.refetch(),
  });
  if (!view.data) return null;
  const { lessons } = view.data;
  const add = () => keep.mutate([...lessons, { cue, words }], { onSuccess: () => setWords('') });
  return (
    <section className="mb-5">
      <h2>For the next time</h2>
      {lessons.length > 0 && (
        <ul>
          {lessons.map(({ cue: of, words: said }, at) => (
            <li key={`${at} ${said}`}>
              {of && <b>{of}: </b>}
              {said}{' '}
              <Button variant="quiet" size="sm" disabled={keep.isPending} onClick={() => keep.mutate(lessons.filter((_, each) => each !== at))}>
                Take out<span className="visually-hidden"> ({said})</span>
              </Button>
            </li>
          ))}
        </ul>
      )}
      <Form
        style={{ maxWidth: '46rem' }}
        onSubmit={(event) => {
          event.preventDefault();
          if (words.trim() && !keep.isPending) add();
        }}
      >
        <Form.Group controlId="lesson-words" className="mb-2">
          <Form.Label>What to do otherwise, or again</Form.Label>
          <Form.Control value={words} maxLength={LONGEST_LESSON} onChange={({ target }) => setWords(target.value)} />
        </Form.Group>
        <div className="d-flex gap-2 align-items-center flex-wrap">
          <Form.Select size="sm" className="w-auto" aria-label="Where it belongs" value={cue} onChange={({ target }) => setCue(target.value)}>
            <option value="">The whole evening</option>
            {[...new Set(cues)].map((name) => (
              <option key={name}>{name}</option>
            ))}
          </Form.Select>
          <Button type="submit" size="sm" variant="outline-primary" disabled={!words.trim() || keep.isPending}>
            Note it
          </Button>
          <span className="soft small-words">It stands on the sheet of the next dates, and in the notes of its cue on their stage.</span>
        </div>
      </Form>
      {keep.error && <Notice kind="refusal">{wordsOf(keep.error)}</Notice>}
    </section>
  );
}
