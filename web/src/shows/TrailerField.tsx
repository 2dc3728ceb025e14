// A film for those who wait on the show's own page: taken as it is, and made ready by the server.
import { TRAILER_MAX_BYTES, TRAILER_MAX_MS, type ShowView } from '@lantern/contract';
import { sayClock, sayLength } from '@lantern/core';
import { useState } from 'react';
import { Button, ProgressBar } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';

export function TrailerField({ show, onStored }: { show: ShowView; onStored: (show: ShowView) => void }) {
  const [sent, setSent] = useState<number | null>(null);
  const [request, setRequest] = useState<XMLHttpRequest | null>(null);
  const [trouble, setTrouble] = useState('');
  const { trailer } = show;
  const take = (file: File) => {
    setTrouble('');
    if (file.size > TRAILER_MAX_BYTES)
      return setTrouble(`${file.name} weighs ${Math.round(file.size / 1e6)} MB. Choose a film of at most ${TRAILER_MAX_BYTES / 1e6} MB.`);
    // fetch tells nothing of how far a body has been sent.
    const sending = new XMLHttpRequest();
    sending.open('PUT', `/api/shows/${show.id}/trailer`);
    sending.setRequestHeader('content-type', 'application/octet-stream');
    sending.upload.onprogress = ({ loaded, total }) => setSent(Math.round((100 * loaded) / total));
    sending.onloadend = () => {
      setSent(null);
      setRequest(null);
      if (sending.status === 200) onStored(JSON.parse(sending.responseText) as ShowView);
      else if (sending.status > 0)
        setTrouble((JSON.parse(sending.responseText || '{}') as { words?: string }).words ?? 'The film could not be kept. Try again.');
    };
    sending.onerror = () => setTrouble('The film could not be sent. Check that the server runs, then try again.');
    setSent(0);
    setRequest(sending);
    sending.send(file);
  };
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
      {sent !== null && (
        <div className="d-flex gap-3 align-items-center">
          <ProgressBar now={sent} label={`${sent} %`} className="flex-grow-1" aria-label="How much of the film is sent" />
          <Button variant="quiet" size="sm" onClick={() => request?.abort()}>
            Stop sending
          </Button>
        </div>
      )}
      {sent === null && (
        <span className="button-row small-words">
          <label className="btn btn-quiet btn-sm file-button">
            <input
              type="file"
              className="visually-hidden"
              accept="video/mp4,video/quicktime,video/webm,video/x-matroska,.mkv"
              onChange={({ target }) => {
                const file = target.files?.[0];
                target.value = '';
                if (file) take(file);
              }}
            />
            {trailer ? 'Choose another film' : `Choose a film of at most ${sayLength(TRAILER_MAX_MS)}`}
          </label>
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
        </span>
      )}
      {trailer?.words && <Notice kind="refusal">{trailer.words}</Notice>}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </div>
  );
}
