// What is played into the show, in the order of use, and whose it is.
import {
  MOST_CLIPS_IN_SHOW,
  type ArtworkView,
  type ClipChange,
  type ClipInShowDraft,
  type ClipView,
  type CueDraft,
  type ShowDraft,
  ShowView,
} from '@lantern/contract';
import { moved, notCleared, sayClock, type ClipEnd, type ClipSource } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { ARTWORK, useArtwork } from '../app/artwork';
import { server, wordsOf } from '../app/server';
import { CLIPS, useClips } from '../clips/clip-queries';
import { lookOfShow } from '../looks/look-content';
import { playableOf, worksOf, type Playable, type WorkOfShow } from '../clips/clips-of-show';
import { useFocusOn } from '../look/focus-on';
import { Notice } from '../look/Notice';
import type { Put } from './sheet-acts';

const ENDS: Record<ClipEnd, string> = { back: 'Then the scene before', next: 'Then what stands next' };

export function ClipsFields({ draft, show, put }: { draft: ShowDraft; show: ShowView; put: Put }) {
  const { clips = [], cues = [] } = draft;
  const library = useClips().data ?? [];
  const { pieces, looks } = useArtwork().data ?? { pieces: [], looks: [] };
  const { list, focusOn } = useFocusOn<HTMLOListElement>(clips);
  const change = (id: string, values: Partial<ClipInShowDraft>) => put({ clips: clips.map((clip) => (clip.id === id ? { ...clip, ...values } : clip)) });
  const add = (from: ClipSource, item: string) => {
    const id = crypto.randomUUID().slice(0, 13);
    focusOn(`[data-clip="${id}"]`);
    put({ clips: [...clips, { id, from, item, cue: null, then: 'back' }] });
  };
  return (
    <>
      <ol className="graphics" ref={list}>
        {clips.map((clip, at) => (
          <ClipRow
            key={clip.id}
            clip={clip}
            playable={playableOf(clip, library, pieces)}
            cues={cues}
            onChange={(values) => change(clip.id, values)}
            onEarlier={at === 0 ? null : () => put({ clips: moved(clips, at, at - 1) })}
            onRemove={() => put({ clips: clips.filter(({ id }) => id !== clip.id) })}
          />
        ))}
      </ol>
      <AddClip clips={library} pieces={pieces} full={clips.length >= MOST_CLIPS_IN_SHOW} onAdd={add} />
      <Clearance works={worksOf(draft, lookOfShow(show, looks), library, pieces)} pieces={pieces} />
    </>
  );
}

function AddClip({
  clips,
  pieces,
  full,
  onAdd,
}: {
  clips: ClipView[];
  pieces: ArtworkView['pieces'];
  full: boolean;
  onAdd: (from: ClipSource, item: string) => void;
}) {
  const ready = (kind: ClipView['kind']) => clips.filter((clip) => clip.kind === kind && clip.state === 'ready');
  const pictures = pieces.filter(({ kind }) => kind === 'picture' || kind === 'logo');
  const groups = [
    { label: 'Films', from: 'clip' as const, all: ready('film') },
    { label: 'Sounds', from: 'clip' as const, all: ready('sound') },
    { label: 'Pictures', from: 'still' as const, all: pictures },
  ].filter(({ all }) => all.length);
  return (
    <p className="button-row small-words mb-2">
      {groups.length > 0 && (
        <Form.Select
          size="sm"
          className="w-auto"
          aria-label="Add a clip"
          value=""
          disabled={full}
          onChange={({ target }) => {
            const [from, item] = target.value.split(' ');
            if (item) onAdd(from as ClipSource, item);
          }}
        >
          <option value="">Add a film, a sound or a picture…</option>
          {groups.map(({ label, from, all }) => (
            <optgroup key={label} label={label}>
              {all.map(({ id, name }) => (
                <option key={id} value={`${from} ${id}`}>
                  {name}
                </option>
              ))}
            </optgroup>
          ))}
        </Form.Select>
      )}
      <Link to="/artwork#clips">{groups.length ? 'Bring others into the library' : 'Bring films and sounds into the library first'}</Link>
    </p>
  );
}

interface RowProps {
  clip: ClipInShowDraft;
  playable: Playable;
  cues: readonly CueDraft[];
  onChange: (values: Partial<ClipInShowDraft>) => void;
  onEarlier: (() => void) | null;
  onRemove: () => void;
}

function ClipRow({ clip: { id, cue, then }, playable: { kind, name, lengthMs }, cues, onChange, onEarlier, onRemove }: RowProps) {
  return (
    <li>
      <div className="clip-head">
        <b>{name}</b>{' '}
        <span className="soft small-words">
          {kind === null ? 'cannot be played' : kind === 'still' ? 'picture, stays until you take it away' : `${kind}, ${sayClock(lengthMs)}`}
        </span>
      </div>
      <div className="graphic-foot small-words">
        {kind !== 'sound' && (
          <Form.Select size="sm" aria-label={`What comes after ${name}`} value={then} onChange={({ target }) => onChange({ then: target.value as ClipEnd })}>
            {Object.entries(ENDS).map(([end, words]) => (
              <option key={end} value={end}>
                {words}
              </option>
            ))}
          </Form.Select>
        )}
        {cues.length > 0 && (
          <Form.Select
            size="sm"
            aria-label={`Cue that begins with ${name}`}
            value={cue ?? ''}
            onChange={({ target }) => onChange({ cue: target.value || null })}
          >
            <option value="">When I press P</option>
            {cues.map(({ id: cueId, name: cueName }, index) => (
              <option key={cueId} value={cueId}>
                Begins “{cueName.trim() || `cue ${index + 1}`}”
              </option>
            ))}
          </Form.Select>
        )}
        <Button variant="quiet" size="sm" data-clip={id} disabled={onEarlier === null} onClick={() => onEarlier?.()}>
          Earlier<span className="visually-hidden">: {name}</span>
        </Button>
        <Button variant="quiet" size="sm" onClick={onRemove}>
          Take out<span className="visually-hidden"> {name}</span>
        </Button>
      </div>
    </li>
  );
}

/** Whose each work is: asked for before it goes out, and never in the way. */
function Clearance({ works, pieces }: { works: WorkOfShow[]; pieces: ArtworkView['pieces'] }) {
  const queries = useQueryClient();
  const [trouble, setTrouble] = useState('');
  if (!works.length) return null;
  const open = notCleared(works);
  const keep = async (work: WorkOfShow, rights: string) => {
    const { from, item } = work;
    setTrouble('');
    try {
      if (from === 'clip') {
        queries.setQueryData(CLIPS, await server.patch<ClipView[]>(`/api/clips/${item}`, { name: work.name, rights } satisfies ClipChange));
      } else {
        const { name, alternative } = pieces.find(({ id }) => id === item)!;
        queries.setQueryData(ARTWORK, await server.patch<ArtworkView>(`/api/artwork/${item}`, { name, alternative, rights }));
      }
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <details className="clearance small-words" open={open.length > 0}>
      <summary>{open.length ? `Whose it is has still to be said of ${open.length} of ${works.length}` : `Whose it is: said of all ${works.length}`}</summary>
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      <ul>
        {works.map((work) => (
          <li key={work.item}>
            <label htmlFor={`rights-${work.item}`}>{work.name}</label>
            <Form.Control
              // What was kept meanwhile stands in it anew.
              key={work.rights}
              id={`rights-${work.item}`}
              size="sm"
              maxLength={200}
              placeholder="Whose it is, and by what right you play it"
              defaultValue={work.rights}
              onBlur={({ target }) => target.value.trim() !== work.rights && void keep(work, target.value)}
              onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
            />
          </li>
        ))}
      </ul>
    </details>
  );
}
