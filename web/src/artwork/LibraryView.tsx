// The library: pictures, portraits, logos, compositions, letters and clips, each with where it is used.
import type { ArtworkView, PieceKind, PieceView } from '@lantern/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { server, ServerError, wordsOf } from '../app/server';
import { FileInput } from '../look/FileInput';
import { Notice } from '../look/Notice';
import { ARTWORK, useArtwork } from '../app/artwork';
import { ClipsShelf } from '../clips/ClipsShelf';
import { FontSample } from '../looks/FontSample';
import { FONT_FILES } from '../looks/look-words';
import { PictureInput } from '../look/PictureInput';
import { PageTitle } from '../app/PageTitle';

const SHELVES: { kind: PieceKind; heading: string; add: string | null; empty: string }[] = [
  { kind: 'picture', heading: 'Pictures', add: 'Add a picture', empty: 'Pictures that lie behind the words, or are used as they are.' },
  { kind: 'portrait', heading: 'Portraits', add: 'Add a portrait', empty: 'Call a portrait like the guest, and it stands on the pictures of their shows.' },
  { kind: 'logo', heading: 'Logos', add: 'Add a logo', empty: 'A look takes one of them for its mark, and those of sponsors.' },
  {
    kind: 'font',
    heading: 'Letters',
    add: 'Add a font',
    empty: 'Fonts of your own, for a look: TTF, OTF, WOFF or WOFF2, with what you know of their licence.',
  },
  { kind: 'composition', heading: 'Compositions', add: null, empty: 'Kept from a show’s picture, to begin others from.' },
];

export function LibraryView() {
  const artwork = useArtwork();
  const queries = useQueryClient();
  const [trouble, setTrouble] = useState('');
  if (artwork.error) return <Notice kind="refusal">{wordsOf(artwork.error)}</Notice>;
  if (!artwork.data) return null;
  const take = (after: ArtworkView) => queries.setQueryData(ARTWORK, after);
  const add = async (kind: PieceKind, file: File) => {
    setTrouble('');
    try {
      take(await server.post<ArtworkView>(`/api/artwork?kind=${kind}&name=${encodeURIComponent(file.name.replace(/\.\w+$/, ''))}`, file));
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <>
      <PageTitle of="Artwork" />
      <h1 className="mb-2">Artwork</h1>
      <p className="soft mb-4">What the pictures of your shows are made from, and what is played into them. A show’s own picture is made on its sheet.</p>
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      {SHELVES.map(({ kind, heading, add: adding, empty }) => {
        const pieces = artwork.data.pieces.filter((piece) => piece.kind === kind);
        return (
          <section key={kind} aria-labelledby={`shelf-${kind}`} className="shelf">
            <div className="shelf-head">
              <h2 id={`shelf-${kind}`}>{heading}</h2>
              {adding && kind === 'font' && (
                <FileInput accept={FONT_FILES} onFile={(file) => void add(kind, file)}>
                  {adding}
                </FileInput>
              )}
              {adding && kind !== 'font' && (
                <PictureInput onPicture={(file) => void add(kind, file)} onTrouble={setTrouble}>
                  {adding}
                </PictureInput>
              )}
            </div>
            {(!pieces.length || kind === 'portrait') && <p className="soft small-words mb-2">{empty}</p>}
            <ul className={`pieces of-${kind}`}>
              {pieces.map((piece) => (
                <Piece key={piece.id} piece={piece} take={take} />
              ))}
            </ul>
          </section>
        );
      })}
      <ClipsShelf />
    </>
  );
}

function Piece({ piece, take }: { piece: PieceView; take: (after: ArtworkView) => void }) {
  const [open, setOpen] = useState(false);
  const { name, url, usedBy, kind } = piece;
  return (
    <li>
      {kind === 'font' ? <FontSample piece={piece} /> : <img src={url} alt={piece.alternative || name} loading="lazy" />}
      <div className="piece-words">
        <b>{name}</b>
        <span className="soft small-words">{usedBy.length ? `Used ${usedBy.length === 1 ? 'once' : `${usedBy.length} times`}` : 'Not used'}</span>
        <Button variant="quiet" size="sm" aria-expanded={open} aria-label={`${open ? 'Close' : 'Change'} ${name}`} onClick={() => setOpen(!open)}>
          {open ? 'Close' : kind === 'composition' || kind === 'font' ? 'Name and use' : 'Name, words and use'}
        </Button>
      </div>
      {open && <PieceForm piece={piece} take={take} done={() => setOpen(false)} />}
    </li>
  );
}

function PieceForm({ piece, take, done }: { piece: PieceView; take: (after: ArtworkView) => void; done: () => void }) {
  const [name, setName] = useState(piece.name);
  const [alternative, setAlternative] = useState(piece.alternative);
  const [rights, setRights] = useState(piece.rights);
  const [trouble, setTrouble] = useState('');
  const [inUse, setInUse] = useState('');
  const queries = useQueryClient();
  const keep = async () => {
    try {
      take(await server.patch<ArtworkView>(`/api/artwork/${piece.id}`, { name, alternative, rights }));
      done();
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  const remove = async (meant: boolean) => {
    try {
      await server.delete(`/api/artwork/${piece.id}${meant ? '?meant=yes' : ''}`);
      await queries.invalidateQueries({ queryKey: ARTWORK });
    } catch (error) {
      if (error instanceof ServerError && error.status === 409) setInUse(error.words);
      else setTrouble(wordsOf(error));
    }
  };
  return (
    <div className="piece-form small-words">
      <Form.Control size="sm" aria-label="Name" value={name} maxLength={80} onChange={({ target }) => setName(target.value)} />
      {piece.kind !== 'composition' && piece.kind !== 'font' && (
        <Form.Control
          size="sm"
          as="textarea"
          rows={2}
          aria-label="What it shows"
          placeholder="What it shows, in a sentence"
          value={alternative}
          onChange={({ target }) => setAlternative(target.value)}
        />
      )}
      {piece.kind !== 'composition' && (
        <Form.Control
          size="sm"
          aria-label="Whose it is, and by what right you show it"
          placeholder="Whose it is, and by what right you show it"
          maxLength={200}
          value={rights}
          onChange={({ target }) => setRights(target.value)}
        />
      )}
      {piece.usedBy.length > 0 && (
        <p className="mb-0">
          Used by{' '}
          {piece.usedBy.map(({ showId, words }, at) => (
            <span key={`${showId}${words}`}>
              {at > 0 && ', '}
              {showId ? <Link to={`/shows/${showId}`}>{words}</Link> : words}
            </span>
          ))}
          .
        </p>
      )}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      {inUse && (
        <Notice kind="caution">
          {inUse} Pictures made from it stay as they are, and make themselves no more.{' '}
          <Button variant="quiet" size="sm" onClick={() => void remove(true)}>
            Take it out all the same
          </Button>
        </Notice>
      )}
      <span className="button-row">
        <Button variant="outline-primary" size="sm" disabled={!name.trim()} onClick={() => void keep()}>
          Keep
        </Button>
        <Button variant="quiet" size="sm" onClick={() => void remove(false)}>
          Take out of the library
        </Button>
      </span>
    </div>
  );
}
