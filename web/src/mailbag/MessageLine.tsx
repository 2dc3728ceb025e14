// One message: who, from where, what, and what can be done with it.
import { HOUSE_PAGE, type MessageSource, type MessageView, type Silence } from '@lantern/contract';
import { instant, messageRules, sayTime, tooLongBy, wordedAnswer, type WriterStanding } from '@lantern/core';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { placeWords } from './place-words';

export type MessageAct = { does: 'answer'; words: string; key: string } | { does: 'hide' | 'show' | 'gather' } | { does: 'silence'; silence: Silence };

const STANDING: Record<WriterStanding, string> = { own: 'the channel itself', member: 'member', follower: 'follower', newcomer: 'no follower', unknown: '' };
const STATE: Record<MessageView['state'], string> = { shown: '', hidden: 'Hidden there.', removed: 'Taken away there, for good.' };

const HELD = { word: 'Held back for a word.', link: 'Held back for a link.', 'looked at first': 'Nobody sees it before you have looked at it.' } as const;
const SILENCE: Record<Silence, string> = { no: '', 'ten minutes': 'Silenced for ten minutes.', 'this show': 'Shut out for this show.' };

interface Props {
  message: MessageView;
  /** Null: its channel is none of the show's any more. */
  source: MessageSource | null;
  answers: MessageView | null;
  /** What its writer was seeing; null: nobody knows. */
  seeing: string | null;
  /** How late they see and hear the show, in ms; null: nobody knows. */
  lateMs: number | null;
  zone: string;
  busy: boolean;
  chosen: boolean;
  may: { answer: boolean; hide: boolean; gather: boolean };
  /** Whether it is asked for how long whoever wrote it is silenced. */
  silencing: boolean;
  onSilencing: (id: string | null) => void;
  onAnswer: () => void;
  onAct: (act: MessageAct) => void;
  /** Whether it is asked if this one shall be gone for good. */
  removing: boolean;
  onRemoving: (id: string | null) => void;
  onHide: () => void;
}

export function MessageLine({
  message,
  source,
  answers,
  seeing,
  lateMs,
  zone,
  busy,
  chosen,
  may,
  removing,
  silencing,
  onAnswer,
  onRemoving,
  onSilencing,
  onHide,
  onAct,
}: Props) {
  const { id, writer, standing, words, writtenAt, state, answeredAt, gathered, held, askedToo, silence } = message;
  const here = message.channelId === HOUSE_PAGE;
  const facts = [
    source && placeWords(source.network),
    here && standing === 'newcomer' ? 'first message here' : STANDING[standing],
    sayTime(instant(writtenAt), zone, false),
    seeing && `seeing “${seeing}”`,
    // Whoever answers by word of mouth is heard so much later.
    chosen && lateMs !== null && `hears you ${Math.max(1, Math.round(lateMs / 1_000))} s late`,
  ].filter(Boolean);
  const others = askedToo === 1 ? '1 other asks this too.' : `${askedToo} others ask this too.`;
  const stands = !here ? STATE[state] : state !== 'shown' && held === null ? 'Hidden.' : '';
  const marks = [
    ...[held !== null && HELD[held], stands, askedToo > 0 && others, silence !== null && SILENCE[silence]],
    ...[answeredAt !== null && 'Answered.', gathered && 'Among the questions.'],
  ].filter(Boolean);
  const button = (label: string, key: string, act: () => void) => (
    <Button variant="quiet" size="sm" disabled={busy} onClick={act} tabIndex={chosen ? 0 : -1}>
      {label} <kbd className="key">{key}</kbd>
      <span className="visually-hidden"> ({writer})</span>
    </Button>
  );
  const forGood = source !== null && messageRules(source.network).hiding === 'for good';
  return (
    <>
      <p className={`mb-0${state === 'shown' || held === 'looked at first' ? '' : ' is-hidden'}`}>
        {/* Words of strangers, in whatever direction they run, turn nothing that stands beside them (HTML, section 4.5.24). */}
        <b>
          <bdi>{writer}</bdi>
        </b>{' '}
        <span className="soft">{facts.join(' · ')}</span>
        <span className="d-block">
          {answers && (
            <span className="soft">
              To <bdi>{answers.writer}</bdi>:{' '}
            </span>
          )}
          <bdi>{words}</bdi>
        </span>
      </p>
      {marks.length > 0 && <b className="marks">{marks.join(' ')}</b>}
      {removing && source && (
        <span className="message-acts" role="group" aria-label={`Take away what ${writer} wrote?`}>
          <b>It cannot be shown again on {placeWords(source.network)}.</b>
          <Button variant="outline-danger" size="sm" autoFocus disabled={busy} onClick={() => onAct({ does: 'hide' })}>
            Take it away for good
          </Button>
          <Button variant="quiet" size="sm" onClick={() => onRemoving(null)}>
            Leave it
          </Button>
        </span>
      )}
      {silencing && source && (
        <span className="message-acts" role="group" aria-label={`Silence ${writer}?`}>
          <b>
            <bdi>{writer}</bdi> writes nothing more {here ? 'on the house page' : `on ${placeWords(source.network)}`}:
          </b>
          {messageRules(source.network).silences.map((silence, at) => (
            <Button
              key={silence}
              variant={silence === 'this show' ? 'outline-danger' : 'outline-primary'}
              size="sm"
              autoFocus={at === 0}
              disabled={busy}
              onClick={() => onAct({ does: 'silence', silence })}
            >
              {silence === 'ten minutes' ? 'For ten minutes' : here ? 'In this show, and hide all they wrote' : 'In this show, and hide this'}
            </Button>
          ))}
          <Button variant="quiet" size="sm" onClick={() => onSilencing(null)}>
            Leave it
          </Button>
        </span>
      )}
      {chosen && !removing && !silencing && (
        <span className="message-acts">
          {may.answer && button('Answer', 'A', onAnswer)}
          {may.gather && button('To the questions', 'U', () => onAct({ does: 'gather' }))}
          {may.hide && state === 'shown' && button(forGood ? 'Take away…' : 'Hide', 'H', onHide)}
          {may.hide && state === 'hidden' && button(here && held !== null ? 'Show it' : 'Show again', 'H', onHide)}
          {silence === 'no' && button('Silence…', 'S', () => onSilencing(id))}
          {silence !== null && silence !== 'no' && button('Let them write', 'S', () => onAct({ does: 'silence', silence: 'no' }))}
        </span>
      )}
    </>
  );
}

interface AnswerProps {
  /** The house page, where it is for everyone. */
  pageUrl: string | null;
  message: MessageView;
  /** Null: its channel is none of the show's any more. */
  source: MessageSource | null;
  prepared: readonly string[];
  busy: boolean;
  onLeave: () => void;
  onSend: (words: string) => void;
}

/** Beneath the list, whose lines come and go: what is typed stays. */
export function AnswerForm({ pageUrl, message: { writer, words: asked }, source, prepared, busy, onLeave, onSend }: AnswerProps) {
  const [words, setWords] = useState('');
  if (!source) return null;
  const { network, name } = source;
  const over = tooLongBy(network, wordedAnswer(network, writer, words));
  return (
    <Form
      className="answer-form"
      onSubmit={(event) => {
        event.preventDefault();
        if (words.trim() && !over && !busy) onSend(words);
      }}
      onKeyDown={(event) => event.key === 'Escape' && onLeave()}
    >
      <span className="soft answered-to">
        To <bdi>{writer}</bdi>: <bdi>{asked}</bdi>
      </span>
      <Form.Control
        size="sm"
        autoFocus
        aria-label={`Answer to ${writer}, as ${name}`}
        value={words}
        onChange={({ target }) => setWords(target.value)}
        isInvalid={over > 0}
      />
      <Button size="sm" type="submit" variant="outline-primary" disabled={busy || !words.trim() || over > 0}>
        {busy ? 'Sending…' : 'Send'}
      </Button>
      {prepared.length > 0 && (
        <Form.Select
          size="sm"
          className="prepared"
          aria-label="A prepared answer"
          value=""
          onChange={({ target }) => setWords((typed) => [typed.trim(), target.value].filter(Boolean).join(' '))}
        >
          <option value="">Prepared…</option>
          {prepared.map((answer) => (
            <option key={answer} value={answer}>
              {answer}
            </option>
          ))}
        </Form.Select>
      )}
      {/* A pass stands in no public text: whoever asks on the page can be offered a place there, and nobody else can take it. */}
      {pageUrl && (
        <Button
          size="sm"
          variant="quiet"
          onClick={() => setWords(`Come and ask it yourself: write your question on ${pageUrl} and the host can bring you in.`)}
        >
          Invite them in
        </Button>
      )}
      <Button size="sm" variant="quiet" onClick={onLeave}>
        Leave it
      </Button>
      {over > 0 && (
        <span className="text-danger-emphasis">
          {over} characters too many for {placeWords(network)}.
        </span>
      )}
    </Form>
  );
}
