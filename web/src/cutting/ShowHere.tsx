// A cut as a file: made, watched exactly as it is, and put in the place of the recording.
import type { CutsView, CutView } from '@lantern/contract';
import { sayClock } from '@lantern/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { Button, ProgressBar } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { AskedButton } from '../look/AskedButton';
import { Recording } from '../look/Chapters';
import { Notice } from '../look/Notice';
import { useCaptions } from './CaptionsHere';
import { PlacesHere } from './PlacesHere';
import { cutsKey } from './use-cut';

interface Props {
  view: CutsView;
  cut: CutView;
  /** Whether all that was changed is kept. */
  kept: boolean;
  onRemoved: () => void;
}

export function ShowHere({ view: { showId, title }, cut, kept, onRemoved }: Props) {
  const queries = useQueryClient();
  const video = useRef<HTMLVideoElement>(null);
  const captions = useCaptions(showId);
  const base = `/api/shows/${showId}/cuts/${cut.id}`;
  const act = useMutation({
    mutationFn: (work: () => Promise<CutsView>) => work(),
    onSuccess: (after) => queries.setQueryData(cutsKey(showId), after),
  });
  const { made, state } = cut;
  const changed = made !== null && made.revision !== cut.revision;
  const make = (
    <Button disabled={act.isPending || !kept} onClick={() => act.mutate(() => server.post<CutsView>(`${base}/make`))}>
      {made ? 'Make it anew' : 'Make the cut'}
    </Button>
  );
  return (
    <>
      <h2 className="h3">{cut.name}</h2>
      <p className="soft">{sayClock(cut.lengthMs)} long. The recording itself stays as it is.</p>
      {state === 'making' ? (
        <div className="d-flex gap-3 align-items-center mb-3">
          <ProgressBar
            className="flex-grow-1"
            now={Math.round(cut.progress * 100)}
            label={`${Math.round(cut.progress * 100)} %`}
            aria-label="How much of the cut is made"
          />
          <Button variant="quiet" size="sm" onClick={() => act.mutate(() => server.delete<CutsView>(`${base}/make`))}>
            Stop
          </Button>
        </div>
      ) : (
        (!made || changed || state === 'failed') && <div className="mb-3">{make}</div>
      )}
      {state === 'failed' && <Notice kind="refusal">It could not be made: {cut.trouble}</Notice>}
      {changed && (
        <Notice kind="caution" live={false}>
          It was changed since it was made: what is watched here, and shown, is as it was before.
        </Notice>
      )}
      {act.error && <Notice kind="refusal">{wordsOf(act.error)}</Notice>}
      {made && (
        <>
          <Recording
            video={video}
            url={made.url}
            label={`The cut “${cut.name}”`}
            chaptersUrl={`${base}/chapters.vtt?v=${made.revision}`}
            captions={
              captions.data?.captions.length
                ? { url: `${base}/captions.vtt?v=${made.revision}-${captions.data.revision}`, language: captions.data.language }
                : null
            }
            className="w-100 mb-2"
            style={{ maxWidth: '20rem', background: '#061215', borderRadius: 3 }}
          />
          <p className="mb-2">{cut.shown ? 'It stands on the house page, in the place of the whole recording.' : 'It is seen by nobody but your station.'}</p>
          <div className="button-row">
            <Button
              variant={cut.shown ? 'quiet' : 'primary'}
              size="sm"
              disabled={act.isPending}
              onClick={() => act.mutate(() => server.put<CutsView>(`${base}/shown`, { shown: !cut.shown }))}
            >
              {cut.shown ? 'Show the whole recording there again' : 'Show it on the house page'}
            </Button>
            <a href={made.url} download={`${title}, ${cut.name}.mp4`}>
              Download it (MP4)
            </a>
          </div>
        </>
      )}
      <PlacesHere showId={showId} cut={cut} />
      {!cut.shown && (
        <div className="mt-4">
          <AskedButton
            label="Remove this cut"
            question={`Remove “${cut.name}”? The recording stays.`}
            yes="Remove"
            onYes={() => act.mutate(() => server.delete<CutsView>(base), { onSuccess: onRemoved })}
          />
        </div>
      )}
    </>
  );
}
