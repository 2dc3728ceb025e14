// The chapters of a recording, from the running order or by hand.
import type { CutsView } from '@lantern/contract';
import { chapterLines, chaptersOfCut, partsOfCut, sayClock, type Chapter, type Passage } from '@lantern/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { CopyButton } from '../look/CopyButton';
import { Notice } from '../look/Notice';
import { cutsKey } from './use-cut';

interface Props {
  view: CutsView;
  kept: readonly Passage[];
  /** How long a card stands before them. */
  cardMs: number;
  atMs: number;
  onGo: (ms: number) => void;
}

export function ChaptersHere({ view: { showId, chapters, chaptersRevision, lengthMs }, kept, cardMs, atMs, onGo }: Props) {
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: (next: readonly Chapter[]) => server.put<CutsView>(`/api/shows/${showId}/chapters`, { base: chaptersRevision, chapters: next }),
    onSuccess: (after) => queries.setQueryData(cutsKey(showId), after),
  });
  const inCut = chaptersOfCut(chapters, partsOfCut(kept, cardMs), lengthMs);
  const here = chapters.findLast((each) => each.atMs <= atMs + 1);
  return (
    <>
      <h2 className="h3">Chapters</h2>
      <p className="soft small-words">From the running order as it ran and the questions that were on the picture. They move along with every cut.</p>
      <ol className="cut-list">
        {chapters.map((chapter, index) => (
          <li key={`${chapter.atMs} ${chapter.name}`} className={chapter === here ? 'here' : ''}>
            <Button variant="quiet" size="sm" onClick={() => onGo(chapter.atMs)} aria-label={`Go to ${sayClock(chapter.atMs)}`}>
              {sayClock(chapter.atMs)}
            </Button>
            <Named
              name={chapter.name}
              label={`Name at ${sayClock(chapter.atMs)}`}
              onName={(name) => keep.mutate(chapters.map((each, at) => (at === index ? { ...each, name } : each)))}
            />
            {chapters.length > 1 && (
              <Button variant="quiet" size="sm" disabled={keep.isPending} onClick={() => keep.mutate(chapters.filter((_, at) => at !== index))}>
                Take out<span className="visually-hidden"> {chapter.name}</span>
              </Button>
            )}
          </li>
        ))}
      </ol>
      <div className="button-row">
        <Button
          variant="outline-primary"
          size="sm"
          disabled={keep.isPending || chapters.some((each) => Math.abs(each.atMs - atMs) < 1_000)}
          onClick={() => keep.mutate([...chapters, { atMs: Math.round(atMs), name: 'A new chapter' }])}
        >
          Begin one at {sayClock(atMs)}
        </Button>
        {chaptersRevision > 0 && (
          <Button variant="quiet" size="sm" disabled={keep.isPending} onClick={() => keep.mutate([])}>
            Take those of the running order again
          </Button>
        )}
        {inCut.length > 0 && <CopyButton text={chapterLines(inCut)} what="the chapters as lines for a text" />}
      </div>
      {keep.error && <Notice kind="refusal">{wordsOf(keep.error)}</Notice>}
    </>
  );
}

/** Kept when one leaves it. */
function Named({ name, label, onName }: { name: string; label: string; onName: (name: string) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const leave = () => {
    const words = typed?.trim();
    // What was typed stays until it is kept: then this is another chapter.
    if (words && words !== name) onName(words);
    else setTyped(null);
  };
  return (
    <Form.Control
      size="sm"
      aria-label={label}
      maxLength={100}
      value={typed ?? name}
      onChange={({ target }) => setTyped(target.value)}
      onBlur={leave}
      onKeyDown={({ key, currentTarget }) => key === 'Enter' && currentTarget.blur()}
    />
  );
}
