// What the team sets for its mailbag: what is held back, who may write where, and answers that are given often.
import { HOUSE_PAGE, type MessageSource, type TalkChoice, type WritingChoice, type WritingOffer } from '@lantern/contract';
import { LOOKED_AT_FIRST, TALK_INTERVALS_S, WRITING_LIMIT_WORDS, type HoldingRules, type LookedAtFirst, type MessageRule, type TalkRules } from '@lantern/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { placeWords } from './place-words';

const WRITERS: Record<MessageRule, string> = { everyone: 'everyone', followers: 'followers only', members: 'members only', off: 'nobody' };

/** What is held back as it comes: hidden there at once, wherever it can be shown again. */
export function Rules({ rules, path, onSet }: { rules: HoldingRules; path: string; onSet: () => Promise<unknown> }) {
  // What somebody else sets meanwhile takes nothing of what is typed here.
  const [typedWords, setWords] = useState<string | null>(null);
  const [typedLinks, setLinks] = useState<boolean | null>(null);
  const words = typedWords ?? rules.words.join(', ');
  const links = typedLinks ?? rules.links;
  const typed = words.split(/[,\n]/).map((word) => word.trim());
  const set = useMutation({
    mutationFn: () => server.put(`${path}/rules`, { words: typed.filter(Boolean), links }),
    onSuccess: async () => {
      await onSet();
      setWords(null);
      setLinks(null);
    },
  });
  const holds = [rules.words.length > 0 && `${rules.words.length} words`, rules.links && 'links'].filter(Boolean).join(' and ');
  return (
    <details className="writers">
      <summary>Held back: {holds || 'nothing'}</summary>
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          set.mutate();
        }}
      >
        <Form.Label htmlFor="held-words">Words, with commas between them</Form.Label>
        <Form.Control size="sm" as="textarea" rows={2} id="held-words" value={words} onChange={({ target }) => setWords(target.value)} />
        <Form.Check id="held-links" className="my-2" label="Whatever holds a link" checked={links} onChange={({ target }) => setLinks(target.checked)} />
        <Button size="sm" type="submit" variant="outline-primary" disabled={set.isPending}>
          Hold back from now on
        </Button>
        <p className="soft mb-0 mt-2">
          What comes with one of these is hidden there at once, and stands under “Hidden” until somebody shows it again. Where a network takes away for good, it
          is only marked.
        </p>
        {set.error && <Notice kind="refusal">{wordsOf(set.error)}</Notice>}
      </Form>
    </details>
  );
}

/** Answers that are given often: one a line, for all shows of the station. */
export function Prepared({ answers, path, onSet }: { answers: readonly string[]; path: string; onSet: () => Promise<unknown> }) {
  // What somebody else sets meanwhile takes nothing of what is typed here.
  const [typed, setTyped] = useState<string | null>(null);
  const words = typed ?? answers.join('\n');
  const set = useMutation({
    mutationFn: () => server.put(`${path}/prepared`, { answers: words.split('\n').filter((line) => line.trim()) }),
    onSuccess: async () => {
      await onSet();
      setTyped(null);
    },
  });
  return (
    <details className="writers">
      <summary>Prepared answers: {answers.length || 'none'}</summary>
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          set.mutate();
        }}
      >
        <Form.Label htmlFor="prepared-answers">One on each line</Form.Label>
        <Form.Control size="sm" as="textarea" rows={4} id="prepared-answers" value={words} onChange={({ target }) => setTyped(target.value)} />
        <Button size="sm" type="submit" variant="outline-primary" className="mt-2" disabled={set.isPending || typed === null}>
          Keep them
        </Button>
        {set.error && <Notice kind="refusal">{wordsOf(set.error)}</Notice>}
      </Form>
    </details>
  );
}

const LIMITS: Record<Exclude<WritingOffer['name'], 'messages'>, string> = {
  messagesEveryS: 'How often',
  writersAgedDays: 'From which accounts',
  shortestMessage: 'How short',
};
const sayOffered = (name: WritingOffer['name'], value: MessageRule | number): string =>
  name === 'messages' ? WRITERS[value as MessageRule] : WRITING_LIMIT_WORDS[name](value as number);

/** Who may write where, from one place, as far as each network leaves the choice. */
export function Writers({ sources, path, onSet }: { sources: readonly MessageSource[]; path: string; onSet: () => Promise<unknown> }) {
  const set = useMutation({
    mutationFn: ({ channelId, writing }: { channelId: string; writing: WritingChoice }) => server.put(`${path}/writers/${channelId}`, writing),
    onSettled: onSet,
  });
  if (!sources.length) return null;
  return (
    <details className="writers">
      <summary>Who may write</summary>
      {sources
        .flatMap(({ talk }) => talk ?? [])
        .map((talk) => (
          <TalkOnPage key="talk" talk={talk} path={path} onSet={onSet} />
        ))}
      {sources
        .filter(({ network }) => network !== HOUSE_PAGE)
        .map(({ channelId, name, network, writers, offers }) => (
          <fieldset key={channelId} aria-label={`Who may write on ${name}`}>
            {!offers.some((offer) => offer.name === 'messages') && (
              <label>
                {name}
                <span className="soft">
                  {writers ? WRITERS[writers] : 'as it likes'}: {placeWords(network)} leaves no choice
                </span>
              </label>
            )}
            {offers.map((offer) => (
              <label key={offer.name}>
                {offer.name === 'messages' ? name : <span className="soft">{LIMITS[offer.name]}</span>}
                <Form.Select
                  size="sm"
                  aria-label={offer.name === 'messages' ? name : `${LIMITS[offer.name]}, ${name}`}
                  disabled={set.isPending}
                  value={(set.isPending && set.variables.channelId === channelId && set.variables.writing[offer.name]) || offer.now}
                  onChange={({ target }) => set.mutate({ channelId, writing: { [offer.name]: offer.from.find((each) => String(each) === target.value) } })}
                >
                  {offer.from.map((each) => (
                    <option key={each} value={each}>
                      {sayOffered(offer.name, each)}
                    </option>
                  ))}
                </Form.Select>
              </label>
            ))}
          </fieldset>
        ))}
      {set.error && <Notice kind="refusal">{wordsOf(set.error)}</Notice>}
    </details>
  );
}

type Taken = 'nobody' | LookedAtFirst;
const TAKEN: Record<Taken, string> = {
  none: 'everyone, shown at once',
  first: 'everyone, the first message of each looked at',
  every: 'everyone, each message looked at',
  nobody: 'nobody',
};
const INTERVAL: Record<number, string> = { 0: 'as often as they like', 5: 'every 5 seconds', 15: 'every 15 seconds', 60: 'once a minute' };

/** How the house page takes messages: whether, how often, and what of them is looked at first. */
function TalkOnPage({ talk, path, onSet }: { talk: TalkRules; path: string; onSet: () => Promise<unknown> }) {
  const set = useMutation({ mutationFn: (rules: TalkChoice) => server.put(`${path}/talk`, rules), onSuccess: onSet });
  const { open, lookedAt, everyS } = set.isPending ? set.variables : talk;
  return (
    <>
      <label>
        House page
        <Form.Select
          size="sm"
          disabled={set.isPending}
          value={open ? lookedAt : 'nobody'}
          onChange={({ target: { value } }) =>
            set.mutate({ everyS, open: value !== 'nobody', lookedAt: value === 'nobody' ? lookedAt : (value as LookedAtFirst) })
          }
        >
          {([...LOOKED_AT_FIRST, 'nobody'] as const).map((each) => (
            <option key={each} value={each}>
              {TAKEN[each]}
            </option>
          ))}
        </Form.Select>
      </label>
      {open && (
        <label>
          How often, on the house page
          <Form.Select
            size="sm"
            disabled={set.isPending}
            value={everyS}
            onChange={({ target }) => set.mutate({ open, lookedAt, everyS: Number(target.value) })}
          >
            {TALK_INTERVALS_S.map((each) => (
              <option key={each} value={each}>
                {INTERVAL[each]}
              </option>
            ))}
          </Form.Select>
        </label>
      )}
      {set.error && <Notice kind="refusal">{wordsOf(set.error)}</Notice>}
    </>
  );
}
