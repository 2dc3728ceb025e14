// All messages of a show, from wherever, as one list that is read, answered and kept in order from here.
import { randomName } from '../app/random-name';
import type { AirView, MessageSource, MessageView, SaidView, ShowView } from '@lantern/contract';
import { belongsTo, cueOnAt, MAILBAG_VIEWS, messageRules, type MailbagView } from '@lantern/core';
import { useMutation } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { Button, Form } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { Prepared, Rules, Writers } from './MailbagRules';
import { AnswerForm, MessageLine, type MessageAct } from './MessageLine';
import { messagesPath, useMailbag } from './use-mailbag';
import './mailbag.scss';

const USUAL_HEIGHT_PX = 58;
/** So near to the end, and what comes is followed. */
const AT_END_PX = 60;

const VIEWS: Record<MailbagView, string> = { all: 'All', unanswered: 'Unanswered', asked: 'With a question mark', hidden: 'Hidden' };

/** Names one thing that is written, so that it is written once. */
const newKey = () => randomName(16);

/** `air`: how the show stands on its channels; null: nobody knows at this moment. */
export function Mailbag({ show, air }: { show: ShowView; air: AirView | null }) {
  const path = messagesPath(show.id);
  const mailbag = useMailbag(show.id);
  const [view, setView] = useState<MailbagView>('all');
  const [from, setFrom] = useState('');
  /** What is being written: here, since lines of the list come and go. */
  const [answering, setAnswering] = useState<{ to: MessageView; key: string } | null>(null);
  /** A network that takes its time holds up what was asked of it, and nothing else. */
  const [pending, setPending] = useState<ReadonlySet<string>>(new Set());
  const [troubles, setTroubles] = useState<ReadonlyMap<string, string>>(new Map());
  const act = useMutation({
    mutationFn: ({ to: { id }, act: what }: { to: MessageView; act: MessageAct }) => {
      if (what.does === 'answer') return server.post(`${path}/${id}/answer`, { words: what.words, key: what.key });
      if (what.does === 'gather') return server.post(`${path}/${id}/question`, {});
      if (what.does === 'silence') return server.put(`${path}/${id}/silence`, { silence: what.silence });
      return server.put(`${path}/${id}/hidden`, { hidden: what.does === 'hide' });
    },
    onMutate: ({ to: { id } }) => {
      setPending((before) => new Set([...before, id]));
      setTroubles((before) => new Map([...before].filter(([each]) => each !== id)));
    },
    onSuccess: (_, { to: { id }, act: what }) => {
      if (what.does === 'answer' && answering?.key === what.key) leaveAnswer(id);
    },
    onError: (error, { to: { id, writer } }) => setTroubles((before) => new Map([...before, [id, `${writer}: ${wordsOf(error)}`]])),
    onSettled: (_, __, { to: { id } }) => {
      setPending((before) => new Set([...before].filter((each) => each !== id)));
      return mailbag.refetch();
    },
  });
  const section = useRef<HTMLElement>(null);
  /** Whoever has answered by keys goes on by keys from there. */
  const leaveAnswer = (id: string) => {
    setAnswering(null);
    const list = section.current?.querySelector<HTMLElement>(`[data-message="${id}"]`) ?? section.current?.querySelector<HTMLElement>('[role="feed"]');
    list?.focus();
  };
  const { sources = [], messages = [] } = mailbag.data ?? {};
  const wanted = useMemo(() => messages.filter((each) => belongsTo(view, each) && (!from || each.channelId === from)), [messages, view, from]);
  const onNow = air && cueOnAt(show.cues, air.ran, Infinity);
  /** What was on when its writer saw it: later than it was made, by what the channel's viewers are late. Null also where that is still on. */
  const seeing = (message: MessageView): string | null => {
    const late = lateFor(message);
    const seen = air && late !== null ? cueOnAt(show.cues, air.ran, message.writtenAt - late) : null;
    return seen === onNow ? null : seen;
  };
  /** How late whoever wrote it sees and hears the show, in ms: on the house page as their own page said; null: nobody knows. */
  const lateFor = ({ channelId, behindMs }: MessageView): number | null => {
    const airingId = show.airings.find((each) => each.channel.id === channelId)?.id;
    return behindMs ?? air?.airings.find((each) => each.airingId === airingId)?.behind?.ms ?? null;
  };
  const counts = useMemo(() => messages.filter((each) => belongsTo('unanswered', each)).length, [messages]);
  if (!mailbag.data || show.rehearsal) return null;
  if (!sources.length && !messages.length) return null;
  return (
    <section ref={section} className="mailbag small-words" aria-labelledby="mailbag-title">
      <div className="mailbag-head">
        <h2 id="mailbag-title">Mailbag</h2>
        <span className="soft">{messages.length ? `${messages.length} messages, ${counts} unanswered` : 'Nothing has been written yet.'}</span>
        <span className="mailbag-filters">
          <Form.Select size="sm" aria-label="Which messages" value={view} onChange={({ target }) => setView(target.value as MailbagView)}>
            {MAILBAG_VIEWS.map((each) => (
              <option key={each} value={each}>
                {VIEWS[each]}
              </option>
            ))}
          </Form.Select>
          <Form.Select size="sm" aria-label="From which channel" value={from} onChange={({ target }) => setFrom(target.value)}>
            <option value="">From all channels</option>
            {sources.map(({ channelId, name }) => (
              <option key={channelId} value={channelId}>
                {name}
              </option>
            ))}
          </Form.Select>
        </span>
      </div>
      {sources
        .filter(({ trouble }) => trouble)
        .map(({ channelId, name, trouble }) => (
          <Notice key={channelId} kind="caution">
            No messages come from {name}: {trouble}
          </Notice>
        ))}
      {[...troubles].map(([id, words]) => (
        <Notice key={id} kind="refusal">
          {words}
        </Notice>
      ))}
      {messages.length > 0 && (
        <MessageList
          key={`${view} ${from}`}
          messages={wanted}
          all={messages}
          sources={sources}
          zone={show.zone}
          seeing={seeing}
          lateFor={lateFor}
          pending={pending}
          onAnswer={(to) => setAnswering({ to, key: newKey() })}
          onAct={(to, what) => act.mutate({ to, act: what })}
        />
      )}
      {answering && (
        <AnswerForm
          key={answering.key}
          message={answering.to}
          pageUrl={show.shortUrl}
          prepared={mailbag.data.prepared}
          source={sources.find(({ channelId }) => channelId === answering.to.channelId) ?? null}
          busy={pending.has(answering.to.id)}
          onLeave={() => leaveAnswer(answering.to.id)}
          onSend={(words) => act.mutate({ to: answering.to, act: { does: 'answer', words, key: answering.key } })}
        />
      )}
      <Rules rules={mailbag.data.rules} path={path} onSet={() => mailbag.refetch()} />
      <Prepared answers={mailbag.data.prepared} path={path} onSet={() => mailbag.refetch()} />
      <Writers sources={sources} path={path} onSet={() => mailbag.refetch()} />
      {sources.length > 0 && <ToAll path={path} onSaid={() => void mailbag.refetch()} />}
    </section>
  );
}

interface ListProps {
  messages: readonly MessageView[];
  /** Also those that are not looked at: what is answered may be among them. */
  all: readonly MessageView[];
  sources: readonly MessageSource[];
  zone: string;
  /** What a message's writer was seeing; null: nobody knows. */
  seeing: (message: MessageView) => string | null;
  /** How late its writer sees and hears the show, in ms; null: nobody knows. */
  lateFor: (message: MessageView) => number | null;
  /** Those of which something has been asked that is not done. */
  pending: ReadonlySet<string>;
  onAnswer: (to: MessageView) => void;
  onAct: (to: MessageView, act: MessageAct) => void;
}

function MessageList({ messages, all, sources, zone, seeing, lateFor, pending, onAnswer, onAct }: ListProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const [chosenId, setChosen] = useState<string | null>(null);
  /** What would be gone for good is asked about first. */
  const [removing, setRemoving] = useState<string | null>(null);
  const [silencing, setSilencing] = useState<string | null>(null);
  const [follows, setFollows] = useState(true);
  const [readTo, setReadTo] = useState(0);
  // eslint-disable-next-line react-hooks/incompatible-library -- what it returns is used here alone, and never memoized
  const rows = useVirtualizer({
    count: messages.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => USUAL_HEIGHT_PX,
    getItemKey: (at) => messages[at]!.id,
    overscan: 8,
  });
  const byId = useMemo(() => new Map(all.map((message) => [message.id, message])), [all]);
  const last = messages.at(-1)?.place ?? 0;
  // Whoever reads further up is left where they are; whoever is at the end sees what comes.
  useEffect(() => {
    if (follows && messages.length) rows.scrollToIndex(messages.length - 1, { align: 'end' });
  }, [follows, messages.length, last, rows]);
  const chosenAt = messages.findIndex(({ id }) => id === chosenId);
  const below = follows ? 0 : messages.filter(({ place }) => place > readTo).length;
  const choose = (at: number) => {
    const message = messages[Math.max(0, Math.min(messages.length - 1, at))];
    if (!message) return;
    setChosen(message.id);
    setRemoving(null);
    setSilencing(null);
    rows.scrollToIndex(messages.indexOf(message));
    requestAnimationFrame(() => scroller.current?.querySelector<HTMLElement>(`[data-message="${message.id}"]`)?.focus());
  };
  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>) => {
    if (event.ctrlKey || event.metaKey || event.altKey || (event.target as HTMLElement).closest('input, textarea, select')) return;
    const chosen = messages[chosenAt];
    const deeds: Record<string, (() => void) | undefined> = {
      ArrowUp: () => choose(chosenAt < 0 ? messages.length - 1 : chosenAt - 1),
      ArrowDown: () => choose(chosenAt < 0 ? messages.length - 1 : chosenAt + 1),
      Home: () => choose(0),
      End: () => choose(messages.length - 1),
      ...(chosen && {
        a: () => mayAnswer(chosen) && onAnswer(chosen),
        h: () => mayHide(chosen) && hideOrShow(chosen),
        u: () => mayGather(chosen) && onAct(chosen, { does: 'gather' }),
        s: () => silenceOrNot(chosen),
      }),
    };
    const deed = deeds[event.key.length === 1 ? event.key.toLowerCase() : event.key];
    if (!deed) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.key.length > 1 || !chosen || !pending.has(chosen.id)) deed();
  };
  /** Whether one of the lines is at hand. */
  const isHeld = () => Boolean(document.activeElement?.closest('[data-message]'));
  const mayHide = (message: MessageView) =>
    message.standing !== 'own' && (message.state === 'shown' || (message.state === 'hidden' && hidingOf(message) !== 'for good'));
  const hideOrShow = (message: MessageView) => {
    if (message.state === 'shown' && hidingOf(message) === 'for good') setRemoving(message.id);
    else onAct(message, { does: message.state === 'shown' ? 'hide' : 'show' });
  };
  const silenceOrNot = ({ id, silence }: MessageView) => {
    if (silence === 'no') setSilencing(id);
    else if (silence !== null) onAct(messages[chosenAt]!, { does: 'silence', silence: 'no' });
  };
  const hidingOf = ({ channelId }: MessageView) => {
    const source = sources.find((each) => each.channelId === channelId);
    return source ? messageRules(source.network).hiding : null;
  };
  return (
    <div className="message-frame">
      <div
        ref={scroller}
        className="message-scroll"
        role="feed"
        aria-label="Messages"
        tabIndex={chosenAt < 0 ? 0 : -1}
        onKeyDown={onKeyDown}
        onBlur={({ currentTarget, relatedTarget }) => {
          const { scrollTop, scrollHeight, clientHeight } = currentTarget;
          if (!currentTarget.contains(relatedTarget) && scrollHeight - scrollTop - clientHeight < AT_END_PX) setFollows(true);
        }}
        onScroll={({ currentTarget: { scrollTop, scrollHeight, clientHeight } }) => {
          const atEnd = scrollHeight - scrollTop - clientHeight < AT_END_PX;
          if (atEnd === follows || (atEnd && isHeld())) return;
          setFollows(atEnd);
          if (!atEnd) setReadTo(last);
        }}
      >
        {messages.length === 0 && <p className="soft mb-0">None of these.</p>}
        <div className="message-all" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ index, start, key }) => {
            const message = messages[index]!;
            return (
              <div
                key={key}
                ref={rows.measureElement}
                data-index={index}
                data-message={message.id}
                role="article"
                aria-posinset={index + 1}
                aria-setsize={messages.length}
                aria-label={`${message.writer}: ${message.words}`}
                tabIndex={message.id === chosenId ? 0 : -1}
                className={`message${message.id === chosenId ? ' chosen' : ''}`}
                style={{ transform: `translateY(${start}px)` }}
                onClick={() => setChosen(message.id)}
                onFocus={() => {
                  setChosen(message.id);
                  // What is about to be answered or hidden does not move away.
                  if (follows) setReadTo(last);
                  setFollows(false);
                }}
              >
                <MessageLine
                  message={message}
                  source={sources.find(({ channelId }) => channelId === message.channelId) ?? null}
                  answers={message.answers === null ? null : (byId.get(message.answers) ?? null)}
                  seeing={seeing(message)}
                  lateMs={lateFor(message)}
                  zone={zone}
                  busy={pending.has(message.id)}
                  chosen={message.id === chosenId}
                  may={{ answer: mayAnswer(message), hide: mayHide(message), gather: mayGather(message) }}
                  onAnswer={() => onAnswer(message)}
                  removing={removing === message.id}
                  onRemoving={setRemoving}
                  silencing={silencing === message.id}
                  onSilencing={setSilencing}
                  onHide={() => hideOrShow(message)}
                  onAct={(what) => {
                    setRemoving(null);
                    setSilencing(null);
                    onAct(message, what);
                  }}
                />
              </div>
            );
          })}
        </div>
      </div>
      {below > 0 && (
        <Button size="sm" className="message-below" onClick={() => setFollows(true)}>
          {below === 1 ? '1 more below' : `${below} more below`}
        </Button>
      )}
    </div>
  );
}

const mayAnswer = ({ state, standing }: MessageView): boolean => state === 'shown' && standing !== 'own';
const mayGather = ({ gathered, standing, state }: MessageView): boolean => !gathered && standing !== 'own' && state === 'shown';

/** The same to all channels, with what became of it on each. */
function ToAll({ path, onSaid }: { path: string; onSaid: () => void }) {
  const [words, setWords] = useState('');
  const [key, setKey] = useState(newKey);
  const say = useMutation({
    mutationFn: () => server.post<SaidView>(path, { words, key }),
    onSuccess: ({ said }) => {
      // Only what stands everywhere is out of the way; sent once more, it goes to those where it does not stand.
      if (said.every(({ refusal }) => !refusal)) {
        setWords('');
        setKey(newKey());
      }
      onSaid();
    },
  });
  const said = say.data?.said ?? [];
  const stands = said.filter(({ refusal }) => !refusal);
  return (
    <>
      <Form
        className="to-all"
        onSubmit={(event) => {
          event.preventDefault();
          if (words.trim()) say.mutate();
        }}
      >
        <Form.Control
          size="sm"
          aria-label="To all channels"
          placeholder="The same to all channels"
          maxLength={1_000}
          value={words}
          onChange={({ target }) => {
            setWords(target.value);
            // Other words are another message; the same, tried again, is the same one.
            setKey(newKey());
            if (!say.isPending) say.reset();
          }}
        />
        <Button size="sm" type="submit" variant="outline-primary" disabled={say.isPending || !words.trim()}>
          Write to all
        </Button>
      </Form>
      <div role="status">
        {stands.length > 0 && <p className="soft mb-0">Stands on {stands.map(({ name }) => name).join(', ')}.</p>}
        {said
          .filter(({ refusal }) => refusal)
          .map(({ channelId, name, refusal }) => (
            <Notice key={channelId} kind="refusal">
              Not on {name}: {refusal}
            </Notice>
          ))}
        {say.error && <Notice kind="refusal">{wordsOf(say.error)}</Notice>}
      </div>
    </>
  );
}
