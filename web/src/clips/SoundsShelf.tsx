// The shelf of prepared sounds: brought in, heard, named with whose they are, and where each is used.
import { SOUND_MAX_BYTES, SOUND_MAX_MS, type ClipView } from '@lantern/contract';
import { sayClock, sayLength } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useId, useRef, useState } from 'react';
import { useLocation } from 'react-router';
import { Button, Form } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { SendFile } from '../look/SendFile';
import { CLIPS, useClips } from './clip-queries';

const ACCEPTED = 'audio/wav,audio/mpeg,audio/mp4,audio/ogg,audio/flac,audio/webm,.wav,.mp3,.m4a,.ogg,.opus,.flac';

export function SoundsShelf() {
  const clips = useClips();
  const queries = useQueryClient();
  const [trouble, setTrouble] = useState('');
  const take = (after: ClipView[]) => queries.setQueryData(CLIPS, after);
  const shelf = useRef<HTMLElement>(null);
  const { hash } = useLocation();
  // Who was led here finds it in sight: it comes in last, beneath all pictures.
  const here = hash === '#sounds' && clips.data !== undefined;
  useEffect(() => {
    if (here) shelf.current?.scrollIntoView();
  }, [here]);
  return (
    <section ref={shelf} aria-labelledby="shelf-sounds" className="shelf" id="sounds">
      <div className="shelf-head">
        <h2 id="shelf-sounds">Sounds</h2>
        <SendFile<ClipView[]>
          {...{ what: 'sound', accept: ACCEPTED, mostBytes: SOUND_MAX_BYTES, method: 'POST', onStored: take, onTrouble: setTrouble }}
          path={(name) => `/api/clips?name=${encodeURIComponent(name.replace(/\.\w+$/, ''))}`}
        >
          Add a sound
        </SendFile>
      </div>
      {clips.data?.length === 0 && (
        <p className="soft small-words mb-2">
          Music that is heard over the break card. A file of at most {sayLength(SOUND_MAX_MS)}; it is brought to the loudness of a show by itself.
        </p>
      )}
      {clips.error && <Notice kind="refusal">{wordsOf(clips.error)}</Notice>}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      <ul className="sounds">
        {clips.data?.map((clip) => (
          <Sound key={clip.id} clip={clip} take={take} />
        ))}
      </ul>
    </section>
  );
}

/** “3:05 · made 6.4 dB quieter, to the loudness of a show · by whom”. */
function factsOf({ state, lengthMs, gainDb, rights }: ClipView): string {
  if (state === 'making') return 'is being made ready…';
  if (state === 'failed') return 'could not be made ready';
  const by = Math.abs(gainDb).toFixed(1);
  const louder = Math.abs(gainDb) < 0.5 ? 'as loud as a show' : `made ${by} dB ${gainDb > 0 ? 'louder' : 'quieter'}, as loud as a show`;
  return [sayClock(lengthMs), louder, rights || 'nobody has said whose it is'].join(' · ');
}

function Sound({ clip, take }: { clip: ClipView; take: (after: ClipView[]) => void }) {
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
        <div className="sound-line">
          <span>
            <b>{clip.name}</b> <span className="soft small-words">{factsOf(clip)}</span>
          </span>
          <span className="button-row small-words">
            <Button
              variant="quiet"
              size="sm"
              aria-expanded={open}
              aria-label={`${open ? 'Close' : 'Hear and change'} ${clip.name}`}
              onClick={() => setOpen(!open)}
            >
              {open ? 'Close' : clip.url ? 'Hear and change' : 'Change'}
            </Button>
            <Button variant="quiet" size="sm" aria-label={`Take ${clip.name} out of the library`} onClick={() => void remove()}>
              {clip.state === 'making' ? 'Stop' : 'Take out'}
            </Button>
          </span>
        </div>
        {clip.words && <Notice kind="refusal">{clip.words}</Notice>}
        {trouble && <Notice kind="refusal">{trouble}</Notice>}
        {open && <SoundForm clip={clip} take={take} done={() => setOpen(false)} />}
      </div>
    </li>
  );
}

function SoundForm({ clip, take, done }: { clip: ClipView; take: (after: ClipView[]) => void; done: () => void }) {
  const id = useId();
  const [name, setName] = useState(clip.name);
  const [rights, setRights] = useState(clip.rights);
  const [trouble, setTrouble] = useState('');
  const keep = async () => {
    try {
      take(await server.patch<ClipView[]>(`/api/clips/${clip.id}`, { name, rights }));
      done();
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <div className="sound-form">
      {clip.url && <audio controls preload="none" src={clip.url} aria-label={clip.name} />}
      <Field id={`${id}-name`} label="Name">
        <Form.Control value={name} maxLength={80} onChange={({ target }) => setName(target.value)} />
      </Field>
      <Field id={`${id}-rights`} label="Whose it is, and by what right you play it" help="So that a claim can be answered: “by Juno Ash, with her leave”.">
        <Form.Control value={rights} maxLength={200} onChange={({ target }) => setRights(target.value)} />
      </Field>
      {clip.usedBy.length > 0 && <p className="small-words mb-2">Heard over the break card of {clip.usedBy.join(', ')}.</p>}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      <Button variant="outline-primary" size="sm" disabled={!name.trim()} onClick={() => void keep()}>
        Keep
      </Button>
    </div>
  );
}
