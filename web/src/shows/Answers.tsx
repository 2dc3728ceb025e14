// What the server and the channels answered to the last press of a button on the sheet; it stands in sight, wherever the button was.
import type { ChannelResult } from '@lantern/contract';
import { instant, sayWhen } from '@lantern/core';
import { useEffect, useRef } from 'react';
import { Notice } from '../look/Notice';
import type { Outcome } from './sheet-acts';

export function Answers({ outcome, zone }: { outcome: Outcome; zone: string }) {
  const answer = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!outcome.refused && !outcome.results.length) return;
    answer.current?.scrollIntoView({ block: 'nearest' });
    answer.current?.focus({ preventScroll: true });
  }, [outcome]);
  return (
    <div ref={answer} tabIndex={-1} className="answer">
      {outcome.refused && <Notice kind="refusal">{outcome.refused}</Notice>}
      {outcome.results.map((result) => (
        <Result key={result.airingId} result={result} zone={zone} />
      ))}
    </div>
  );
}

/** What a channel answered and, after placing, what it says itself. */
function Result({ result, zone }: { result: ChannelResult; zone: string }) {
  const { proof } = result;
  return (
    <Notice kind={result.done ? 'done' : 'refusal'}>
      {result.words}
      {proof && (
        <span className="d-block soft">
          Read back: “{proof.title}”, {sayWhen(instant(proof.startsAt), zone)}, for {proof.visibility}
          {proof.same ? '.' : ', which is not what was sent. See beside the sheet.'}{' '}
          {proof.watchUrl && (
            <a href={proof.watchUrl} target="_blank" rel="noreferrer">
              See it there
            </a>
          )}
        </span>
      )}
    </Notice>
  );
}
