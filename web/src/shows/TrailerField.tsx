// A film for those who wait on the show's own page: taken as it is, and made ready by the server.
import { TRAILER_MAX_BYTES, TRAILER_MAX_MS, type ShowView } from '@lantern/contract';
import { sayClock, sayLength } from '@lantern/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { SendFile } from '../look/SendFile';

export function TrailerField({ show, onStored }: { show: ShowView; onStored: (show: ShowView) => void }) {
  const [trouble, setTrouble] = useState('');
  const { trailer } = show;
  const forget = async () => {
    try {
      await server.delete(`/api/shows/${show.id}/trailer`);
      onStored(await server.get<ShowView>(`/api/shows/${show.id}`));
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <div className="mt-2">
      <p className="mb-0">
        Trailer{' '}
        <span className="soft small-words">
          {!trailer && 'for those who wait; none so far'}
          {trailer?.state === 'making' && 'is being made ready'}
          {trailer?.state === 'ready' && `${sayClock(trailer.lengthMs)} long`}
        </span>
      </p>
      <SendFile<ShowView>
        {...{ what: 'film', mostBytes: TRAILER_MAX_BYTES, method: 'PUT', onStored, onTrouble: setTrouble }}
        accept="video/mp4,video/quicktime,video/webm,video/x-matroska,.mkv"
        path={() => `/api/shows/${show.id}/trailer`}
        beside={
          <>
            {trailer?.state === 'ready' && (
              <a className="btn btn-quiet btn-sm" href={trailer.url} target="_blank" rel="noreferrer">
                Watch it
              </a>
            )}
            {trailer && (
              <Button variant="quiet" size="sm" onClick={() => void forget()}>
                Do without
              </Button>
            )}
          </>
        }
      >
        {trailer ? 'Choose another film' : `Choose a film of at most ${sayLength(TRAILER_MAX_MS)}`}
      </SendFile>
      {trailer?.words && <Notice kind="refusal">{trailer.words}</Notice>}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </div>
  );
}
