// What visitors of the house page ask: read, answered, put aside, or asked by themselves on the picture.
import type { QuestionsView, QuestionState, QuestionView, ShowView } from '@lantern/contract';
import { fitForPicture, instant, LONGEST_ON_PICTURE, may, sayTime } from '@lantern/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useAskEvery } from '../app/changes';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { useMe } from '../people/me';
import { useStage, useStageOf, type StageGraphic } from './stage-store';

type Act =
  | { does: 'state'; id: string; state: QuestionState }
  | { does: 'shorten'; id: string; onPicture: string }
  | { does: 'offer'; id: string }
  | { does: 'take back'; id: string }
  | { does: 'taken'; taken: boolean };

interface Props {
  show: ShowView;
  /** Puts one on the picture, or takes it off. */
  onToggle: (id?: string) => void;
}

/** As it is laid over the picture. */
const asGraphic = ({ id, name, from, onPicture }: QuestionView): StageGraphic => ({
  ...{ id, kind: 'question', text: onPicture, more: `${fitForPicture(name) || 'A visitor'}, on ${from}`, hidesAfterS: null, cue: null, stale: false },
});

const pathOf = (showId: string) => `/api/shows/${showId}/questions`;
const keyOf = (showId: string) => ['show', showId, 'questions'];

function useQuestions(showId: string) {
  return useQuery({ queryKey: keyOf(showId), queryFn: () => server.get<QuestionsView>(pathOf(showId)), refetchInterval: useAskEvery(5_000) });
}

/** What visitors ask as it can be laid over the picture, the oldest first. One that was said to be answered stays until it is taken off. */
export function useQuestionGraphics(showId: string): readonly StageGraphic[] {
  const { data } = useQuestions(showId);
  const shownGraphic = useStage(({ shownGraphic }) => shownGraphic);
  return useMemo(
    () =>
      (data?.questions ?? [])
        .filter(({ id, state, onPicture }) => onPicture && (state === 'open' || (state === 'answered' && id === shownGraphic)))
        .map(asGraphic),
    [data, shownGraphic],
  );
}

export function QuestionsOnStage({ show, onToggle }: Props) {
  const [path, key] = [pathOf(show.id), keyOf(show.id)];
  const queries = useQueryClient();
  const me = useMe().data;
  const { shownGraphic, air } = useStageOf('shownGraphic', 'air');
  const all = useQuestions(show.id);
  const act = useMutation({
    mutationFn: (what: Act) => {
      if (what.does === 'state') return server.patch<QuestionsView>(`${path}/${what.id}`, { state: what.state });
      if (what.does === 'shorten') return server.patch<QuestionsView>(`${path}/${what.id}`, { onPicture: what.onPicture });
      if (what.does === 'offer') return server.post<QuestionsView>(`${path}/${what.id}/place`, {});
      if (what.does === 'take back') return server.delete<QuestionsView>(`${path}/${what.id}/place`);
      return server.put<QuestionsView>(`${path}/taken`, { taken: what.taken });
    },
    onSuccess: (now) => queries.setQueryData(key, now),
  });
  if (!all.data || show.rehearsal || !['placed', 'onAir', 'interrupted'].includes(show.state)) return null;
  const { taken, questions } = all.data;
  const open = questions.filter(({ state }) => state === 'open');
  const done = questions.filter(({ state }) => state !== 'open').reverse();
  const mayOffer = me !== undefined && may(me.role, 'write to people');
  const row = (question: QuestionView) => (
    <Row
      key={question.id}
      {...{ question, mayOffer }}
      zone={show.zone}
      busy={act.isPending}
      onAct={act.mutate}
      isShown={question.id === shownGraphic}
      isNext={question.id === open.find(({ onPicture }) => onPicture)?.id}
      onToggle={air?.showState === 'onAir' ? () => onToggle(question.id) : null}
    />
  );
  return (
    <section className="questions-on-stage small-words" aria-label="Questions">
      <p className="mb-1">
        <b>Questions</b>{' '}
        <span className="soft">
          {open.length ? `${open.length} open` : taken ? 'none yet; visitors can ask on the house page' : 'the house page takes none'}
        </span>{' '}
        <Button variant="quiet" size="sm" disabled={act.isPending} onClick={() => act.mutate({ does: 'taken', taken: !taken })}>
          {taken ? 'Shut the page to questions' : 'Open the page to questions'}
        </Button>
      </p>
      {act.error && <Notice kind="refusal">{wordsOf(act.error)}</Notice>}
      {open.length > 0 && <ol>{open.map(row)}</ol>}
      {done.length > 0 && (
        <details>
          <summary>{done.length} answered or put aside</summary>
          <ol>{done.map(row)}</ol>
        </details>
      )}
    </section>
  );
}

const PLACE: Record<QuestionView['place'], string> = {
  none: '',
  offered: 'A place is offered.',
  accepted: 'Has a place, and comes to the bench.',
  declined: 'Would rather not come in.',
};

interface RowProps {
  question: QuestionView;
  zone: string;
  busy: boolean;
  mayOffer: boolean;
  isShown: boolean;
  /** The key puts this one on the picture. */
  isNext: boolean;
  /** Null: there is no picture yet. */
  onToggle: (() => void) | null;
  onAct: (what: Act) => void;
}

function Row({ question, zone, busy, mayOffer, isShown, isNext, onToggle, onAct }: RowProps) {
  const { id, name, words, askedAt, state, place, onPicture } = question;
  const [shortened, setShortened] = useState<string | null>(null);
  const button = (words: string, what: Act) => (
    <Button variant="quiet" size="sm" disabled={busy} onClick={() => onAct(what)}>
      {words}
      <span className="visually-hidden"> ({name})</span>
    </Button>
  );
  const comes = place === 'offered' || place === 'accepted';
  return (
    <li>
      <p className="mb-0">
        {words}{' '}
        <span className="soft">
          {name}, {!question.onHousePage && `on ${question.from}, `}
          {sayTime(instant(askedAt), zone)}
          {state !== 'open' && `, ${state}`}
        </span>
        {place !== 'none' && <b className="d-block">{PLACE[place]}</b>}
      </p>
      {isShown && <b className="d-block">On the picture.</b>}
      {onPicture !== words && (
        <span className="soft d-block">{onPicture ? `On the picture as “${onPicture}”` : 'Nothing of it can stand on the picture.'}</span>
      )}
      {shortened !== null && (
        <Form
          className="d-flex gap-2 my-1"
          onSubmit={(event) => {
            event.preventDefault();
            onAct({ does: 'shorten', id, onPicture: shortened });
            setShortened(null);
          }}
        >
          <Form.Control
            size="sm"
            autoFocus
            aria-label={`As it stands on the picture (${name})`}
            maxLength={LONGEST_ON_PICTURE}
            value={shortened}
            onChange={({ target }) => setShortened(target.value)}
          />
          <Button size="sm" type="submit" variant="outline-primary">
            Keep
          </Button>
        </Form>
      )}
      <span className="question-acts">
        {onPicture && onToggle && (state === 'open' || isShown) && (
          <Button variant="quiet" size="sm" aria-pressed={isShown} onClick={onToggle}>
            {isShown ? 'Take it off the picture' : 'On the picture'}
            <span className="visually-hidden"> ({name})</span> {(isShown || isNext) && <kbd className="key">Q</kbd>}
          </Button>
        )}
        {state === 'open' ? (
          <>
            {button('Answered', { does: 'state', id, state: 'answered' })}
            {button('Put aside', { does: 'state', id, state: 'put aside' })}
          </>
        ) : (
          button('Open it again', { does: 'state', id, state: 'open' })
        )}
        {state === 'open' && (
          <Button variant="quiet" size="sm" onClick={() => setShortened(shortened === null ? onPicture : null)}>
            {shortened === null ? 'Shorten' : 'Leave it'}
            <span className="visually-hidden"> ({name})</span>
          </Button>
        )}
        {mayOffer && state === 'open' && question.onHousePage && !comes && button('Offer a place', { does: 'offer', id })}
        {mayOffer && comes && button('Take the place back', { does: 'take back', id })}
      </span>
    </li>
  );
}
