// The shelf of films and sounds: brought in, looked at, named with whose they are, and where each is used.
import { CLIP_MAX_BYTES, CLIP_MAX_MS, type ClipChange, type ClipView } from '@lantern/contract';
import { sayClock, sayLength } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useId, useRef, useState, type RefObject } from 'react';
import { useLocation } from 'react-router';
import { Button, Form } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { SendFile } from '../look/SendFile';
import { CLIPS, useClips } from './clip-queries';

const ACCEPTED = 'video/mp4,video/quicktime,video/webm,video/x-matroska,audio/*,.mp4,.mov,.webm,.mkv,.wav,.mp3,.m4a,.ogg,.opus,.flac';

export function ClipsShelf() {
  const clips = useClips();
  const queries = useQueryClient();
  const [trouble, setTrouble] = useState('');
  const take = (after: ClipView[]) => queries.setQueryData(CLIPS, after);
  const shelf = useRef<HTMLElement>(null);
  const { hash } = useLocation();
  // Who was led here finds it in sight: it comes in last, beneath all pictures.
  const here = hash === '#clips' && clips.data !== undefined;
  useEffect(() => {
    if (here) shelf.current?.scrollIntoView();
  }, [here]);
  return (
    <section ref={shelf} aria-labelledby="shelf-clips" className="shelf" id="clips">
      <div className="shelf-head">
        <h2 id="shelf-clips">Clips</h2>
        <SendFile<ClipView[]>
          {...{ what: 'clip', accept: ACCEPTED, mostBytes: CLIP_MAX_BYTES, method: 'POST', onStored: take, onTrouble: setTrouble }}
          path={(name) => `/api/clips?name=${encodeURIComponent(name.replace(/\.\w+$/, ''))}`}
        >
          Add a film or a sound
        </SendFile>
      </div>
      {clips.data?.length === 0 && (
        <p className="soft small-words mb-2">
          Films and sounds that are played into a show, and music for the break card: files of at most {sayLength(CLIP_MAX_MS)}. Size and loudness are made
          right by themselves.
        </p>
      )}
      {clips.error && <Notice kind="refusal">{wordsOf(clips.error)}</Notice>}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      <ul className="clips">
        {clips.data?.map((clip) => (
          <ClipLine key={clip.id} clip={clip} take={take} />
        ))}
      </ul>
    </section>
  );
}

/** “sound · 3:05 · made 6.4 dB quieter, to the loudness of a show · by whom”. */
function factsOf({ kind, state, made, lengthMs, inMs, outMs, cameAt, gainDb, rights }: ClipView): string {
  if (state === 'making') return made === null ? 'is being made ready…' : `is being made ready, ${Math.round(made * 100)} %`;
  if (state === 'failed') return 'could not be made ready';
  const by = Math.abs(gainDb).toFixed(1);
  const louder =
    cameAt === null ? 'without sound' : Math.abs(gainDb) < 0.5 ? 'as loud as a show' : `made ${by} dB ${gainDb > 0 ? 'louder' : 'quieter'}, as loud as a show`;
  const played = inMs > 0 || outMs !== null ? `${sayClock((outMs ?? lengthMs) - inMs)} of ${sayClock(lengthMs)}` : sayClock(lengthMs);
  return [kind, played, louder, rights || 'nobody has said whose it is'].join(' · ');
}

type Part = Pick<ClipView, 'inMs' | 'outMs'>;

function ClipLine({ clip, take }: { clip: ClipView; take: (after: ClipView[]) => void }) {
  const [open, setOpen] = useState(false);
  const [trouble, setTrouble] = useState('');
  const queries = useQueryClient();
  const remove = async () => {
    setTrouble('');
    try {
      await server.delete(`/api/clips/${clip.id}`);
      await queries.invalidateQueries({ queryKey: CLIPS });
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <li>
      <div role="group" aria-label={clip.name}>
        <div className="clip-line">
          <span>
            <b>{clip.name}</b> <span className="soft small-words">{factsOf(clip)}</span>
          </span>
          <span className="button-row small-words">
            <Button
              variant="quiet"
              size="sm"
              aria-expanded={open}
              aria-label={`${open ? 'Close' : 'Play and change'} ${clip.name}`}
              onClick={() => setOpen(!open)}
            >
              {open ? 'Close' : clip.url ? 'Play and change' : 'Change'}
            </Button>
            <Button variant="quiet" size="sm" aria-label={`Take ${clip.name} out of the library`} onClick={() => void remove()}>
              {clip.state === 'making' ? 'Stop' : 'Take out'}
            </Button>
          </span>
        </div>
        {clip.words && <Notice kind="refusal">{clip.words}</Notice>}
        {trouble && <Notice kind="refusal">{trouble}</Notice>}
        {open && <ClipForm clip={clip} take={take} done={() => setOpen(false)} />}
      </div>
    </li>
  );
}

/** Which part is played: chosen where it is seen or heard. */
function PartFields({ clip, part, onPart }: { clip: ClipView; part: Part; onPart: (part: Part) => void }) {
  const player = useRef<HTMLVideoElement>(null);
  const here = () => Math.round((player.current?.currentTime ?? 0) * 1_000);
  const { inMs, outMs } = part;
  const whole = inMs === 0 && outMs === null;
  return (
    <>
      {clip.kind === 'film' ? (
        <video ref={player} controls preload="metadata" playsInline src={clip.url!} aria-label={clip.name} />
      ) : (
        <audio ref={player as RefObject<HTMLAudioElement>} controls preload="metadata" src={clip.url!} aria-label={clip.name} />
      )}
      <p className="small-words mb-1">{whole ? 'All of it is played.' : `Played from ${sayClock(inMs)} to ${sayClock(outMs ?? clip.lengthMs)}.`}</p>
      <p className="button-row small-words">
        <Button variant="quiet" size="sm" onClick={() => onPart({ inMs: here(), outMs: outMs !== null && outMs <= here() ? null : outMs })}>
          Begin here
        </Button>
        <Button variant="quiet" size="sm" onClick={() => onPart({ inMs: inMs >= here() ? 0 : inMs, outMs: here() })}>
          End here
        </Button>
        {!whole && (
          <Button variant="quiet" size="sm" onClick={() => onPart({ inMs: 0, outMs: null })}>
            Play all of it
          </Button>
        )}
      </p>
    </>
  );
}

function ClipForm({ clip, take, done }: { clip: ClipView; take: (after: ClipView[]) => void; done: () => void }) {
  const id = useId();
  const [name, setName] = useState(clip.name);
  const [rights, setRights] = useState(clip.rights);
  const [part, setPart] = useState<Part>({ inMs: clip.inMs, outMs: clip.outMs });
  const [trouble, setTrouble] = useState('');
  const keep = async () => {
    try {
      take(await server.patch<ClipView[]>(`/api/clips/${clip.id}`, { name, rights, ...part } satisfies ClipChange));
      done();
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <div className="clip-form">
      {clip.url && <PartFields clip={clip} part={part} onPart={setPart} />}
      <Field id={`${id}-name`} label="Name">
        <Form.Control value={name} maxLength={80} onChange={({ target }) => setName(target.value)} />
      </Field>
      <Field id={`${id}-rights`} label="Whose it is, and by what right you play it" help="So that a claim can be answered: “by Juno Ash, with her leave”.">
        <Form.Control value={rights} maxLength={200} onChange={({ target }) => setRights(target.value)} />
      </Field>
      {clip.usedBy.length > 0 && <p className="small-words mb-2">Used by {clip.usedBy.join(', ')}.</p>}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      <Button variant="outline-primary" size="sm" disabled={!name.trim()} onClick={() => void keep()}>
        Keep
      </Button>
    </div>
  );
}
