// The station's looks: the colours and the mark that composed pictures are made with.
import type { ArtworkView, LookDraft, LookView } from '@lantern/contract';
import { contrastRatio, LEAST_CONTRAST, OWN_PALETTE, rgbOf, STRAP_STYLES, type Palette, type StrapStyle } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { server, ServerError, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { ARTWORK } from './artwork-queries';
import { LookPack } from './LookPack';
import { LookSample, STRAP_WORDS } from './LookSample';

const FRESH: LookDraft = { name: '', palette: OWN_PALETTE, logoId: null, straps: 'edge' };
const COLOURS: { part: keyof Palette; words: string }[] = [
  { part: 'ground', words: 'Ground' },
  { part: 'ink', words: 'Title' },
  { part: 'accent', words: 'Time and edges' },
];

export function LooksSection({ artwork }: { artwork: ArtworkView }) {
  const [open, setOpen] = useState<string | null>(null);
  return (
    <section aria-labelledby="looks" className="shelf">
      <div className="shelf-head">
        <h2 id="looks">Looks</h2>
        {open !== 'new' && (
          <Button variant="quiet" size="sm" onClick={() => setOpen('new')}>
            Add a look
          </Button>
        )}
        <LookPack />
      </div>
      {!artwork.looks.length && <p className="soft small-words mb-2">Colours and a mark of your own, for all your pictures.</p>}
      <ul className="looks">
        {artwork.looks.map((look) => (
          <li key={look.id}>
            {open !== look.id && <Sample look={look} artwork={artwork} />}
            <Button
              variant="quiet"
              size="sm"
              aria-expanded={open === look.id}
              aria-label={`Change the look ${look.name}`}
              onClick={() => setOpen(open === look.id ? null : look.id)}
            >
              {open === look.id ? 'Close' : 'Change'}
            </Button>
            {open === look.id && <LookForm first={look} id={look.id} artwork={artwork} done={() => setOpen(null)} />}
          </li>
        ))}
        {open === 'new' && (
          <li>
            <LookForm first={FRESH} id={null} artwork={artwork} done={() => setOpen(null)} />
          </li>
        )}
      </ul>
    </section>
  );
}

function Sample({ look, artwork }: { look: LookDraft; artwork: ArtworkView }) {
  return <LookSample look={{ ...look, logoUrl: artwork.pieces.find(({ id }) => id === look.logoId)?.url ?? null }} />;
}

function LookForm({ first, id, artwork, done }: { first: LookDraft | LookView; id: string | null; artwork: ArtworkView; done: () => void }) {
  const queries = useQueryClient();
  const [look, setLook] = useState<LookDraft>({ name: first.name, palette: first.palette, logoId: first.logoId, straps: first.straps });
  const [trouble, setTrouble] = useState('');
  const [inUse, setInUse] = useState('');
  const { palette } = look;
  const [title, time] = [palette.ink, palette.accent].map((colour) => contrastRatio(rgbOf(colour), rgbOf(palette.ground))) as [number, number];
  const act = async (work: () => Promise<unknown>) => {
    try {
      await work();
      await queries.invalidateQueries({ queryKey: ARTWORK });
      done();
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  const remove = async (meant: boolean) => {
    try {
      await server.delete(`/api/looks/${id}${meant ? '?meant=yes' : ''}`);
      await queries.invalidateQueries({ queryKey: ARTWORK });
    } catch (error) {
      if (error instanceof ServerError && error.status === 409) setInUse(error.words);
      else setTrouble(wordsOf(error));
    }
  };
  return (
    <div className="look-form small-words">
      <Sample look={look} artwork={artwork} />
      <Form.Control
        size="sm"
        aria-label="Name of the look"
        placeholder="Name"
        value={look.name}
        maxLength={40}
        onChange={({ target }) => setLook({ ...look, name: target.value })}
      />
      <div className="look-colours">
        {COLOURS.map(({ part, words }) => (
          <label key={part}>
            <input type="color" value={palette[part]} onChange={({ target }) => setLook({ ...look, palette: { ...palette, [part]: target.value } })} />
            {words}
          </label>
        ))}
      </div>
      <Form.Select size="sm" aria-label="Mark" value={look.logoId ?? ''} onChange={({ target }) => setLook({ ...look, logoId: target.value || null })}>
        <option value="">The lantern for a mark</option>
        {artwork.pieces
          .filter(({ kind }) => kind === 'logo')
          .map((piece) => (
            <option key={piece.id} value={piece.id}>
              {piece.name}
            </option>
          ))}
      </Form.Select>
      <Form.Select
        size="sm"
        aria-label="Names and captions"
        value={look.straps}
        onChange={({ target }) => setLook({ ...look, straps: target.value as StrapStyle })}
      >
        {STRAP_STYLES.map((style) => (
          <option key={style} value={style}>
            {STRAP_WORDS[style]}
          </option>
        ))}
      </Form.Select>
      {title < LEAST_CONTRAST.title && <Notice kind="caution">The title stands out too little on the ground, {title.toFixed(1)} to 1.</Notice>}
      {time < LEAST_CONTRAST.other && <Notice kind="caution">The time stands out too little on the ground, {time.toFixed(1)} to 1.</Notice>}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      {inUse && (
        <Notice kind="caution">
          {inUse} They take the product’s own colours then.{' '}
          <Button variant="quiet" size="sm" onClick={() => void remove(true)}>
            Take it out all the same
          </Button>
        </Notice>
      )}
      <span className="button-row">
        <Button
          variant="outline-primary"
          size="sm"
          disabled={!look.name.trim()}
          onClick={() => void act(() => (id ? server.put(`/api/looks/${id}`, look) : server.post('/api/looks', look)))}
        >
          Keep
        </Button>
        {id && (
          <>
            <a className="btn btn-quiet btn-sm" href={`/api/looks/${id}/pack`} download>
              As a file, for others
            </a>
            <Button variant="quiet" size="sm" onClick={() => void remove(false)}>
              Take out
            </Button>
          </>
        )}
      </span>
    </div>
  );
}
