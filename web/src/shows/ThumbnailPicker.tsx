// The show's pictures on its sheet: dropped, pasted, chosen from a file or the library, or made here from parts.
import type { ShowDraft, ShowView } from '@lantern/contract';
import { useState, type ClipboardEvent, type DragEvent } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useFormContext } from 'react-hook-form';
import { Link } from 'react-router';
import { server, wordsOf } from '../app/server';
import { useArtwork } from '../app/artwork';
import { PICTURE_TYPES, PictureInput, troubleWith } from '../look/PictureInput';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { Renditions } from './Renditions';

interface Props {
  show: ShowView;
  onStored: (show: ShowView) => void;
}

export function ThumbnailPicker({ show, onStored }: Props) {
  const { register, formState } = useFormContext<ShowDraft>();
  const [trouble, setTrouble] = useState('');
  const [over, setOver] = useState(false);
  const [sending, setSending] = useState(false);
  const [choosing, setChoosing] = useState(false);
  const store = async (work: () => Promise<ShowView>) => {
    setTrouble('');
    setSending(true);
    try {
      onStored(await work());
      setChoosing(false);
    } catch (error) {
      setTrouble(wordsOf(error));
    } finally {
      setSending(false);
    }
  };
  const take = async (file: File | undefined) => {
    if (!file) return;
    const found = await troubleWith(file);
    if (found) return setTrouble(found);
    await store(() => server.put<ShowView>(`/api/shows/${show.id}/thumbnail`, file));
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void take(event.dataTransfer.files[0]);
  };
  const paste = (event: ClipboardEvent) => {
    const file = [...event.clipboardData.files].find(({ type }) => type.startsWith('image/'));
    if (file) void take(file);
  };
  const shown = show.thumbnail?.url ?? null;
  const composed = !!show.thumbnail?.recipe;
  return (
    <div onPaste={paste}>
      <label
        className={`thumbnail-drop${over ? ' over' : ''}${shown ? '' : ' none'}`}
        style={{ maxWidth: '26rem', ...(shown ? { backgroundImage: `url("${shown}")` } : {}) }}
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
      >
        <input
          type="file"
          className="visually-hidden"
          accept={PICTURE_TYPES}
          aria-label="Picture of the show"
          onChange={(event) => {
            void take(event.target.files?.[0]);
            event.target.value = '';
          }}
        />
        {!shown && (
          <span>
            <b>Drop or paste a picture here</b>, or choose one.
            <span className="d-block soft small-words">Best 1600 × 900 or larger. Each channel gets it in its own shape and size.</span>
          </span>
        )}
      </label>
      <span className="button-row mt-2">
        <Link className="btn btn-quiet btn-sm" to={`/shows/${show.id}/picture`}>
          {composed ? 'Change how it is made' : 'Make one here'}
        </Link>
        <Button variant="quiet" size="sm" aria-expanded={choosing} onClick={() => setChoosing(!choosing)}>
          Take one from the library
        </Button>
      </span>
      {choosing && (
        <LibraryChoice onChoose={(pieceId) => void store(() => server.put<ShowView>(`/api/shows/${show.id}/pictures`, { which: 'thumbnail', pieceId }))} />
      )}
      {sending && <p className="soft small-words mt-2 mb-0">Keeping the picture…</p>}
      {shown && !sending && (
        <p className="soft small-words mt-1 mb-0">
          {composed ? 'It is made from the show’s own words and follows them. ' : ''}Drop another picture on it, or click it, to change it.
        </p>
      )}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      {shown && (
        <Field
          id="alternative"
          label="What it shows"
          className="mt-3 mb-0"
          help="In a sentence, for those who cannot see it. Some networks take no picture without."
          trouble={formState.errors.thumbnailAlternative?.message}
        >
          <Form.Control isInvalid={!!formState.errors.thumbnailAlternative} {...register('thumbnailAlternative')} />
        </Field>
      )}
      {shown && <Renditions show={show} onStored={onStored} />}
      <WaitingPicture show={show} store={store} onTrouble={setTrouble} />
    </div>
  );
}

/** What early viewers see, beside the countdown. */
function WaitingPicture({
  show,
  store,
  onTrouble,
}: {
  show: ShowView;
  store: (work: () => Promise<ShowView>) => Promise<void>;
  onTrouble: (words: string) => void;
}) {
  const { waiting } = show;
  const words = !waiting
    ? 'The picture itself, behind the countdown.'
    : waiting.follows
      ? 'Made from the same parts, with room for the countdown.'
      : 'A picture of its own.';
  const forget = async () => {
    await server.delete(`/api/shows/${show.id}/waiting`);
    return server.get<ShowView>(`/api/shows/${show.id}`);
  };
  return (
    <div className="waiting-row">
      {waiting && <img src={waiting.url} alt="The waiting picture" width={160} height={90} />}
      <div>
        <b>Waiting picture</b> <span className="soft small-words">for those who come early</span>
        <span className="d-block soft small-words">{words}</span>
        <span className="button-row">
          <Link className="btn btn-quiet btn-sm" to={`/shows/${show.id}/picture?which=waiting`}>
            {waiting?.recipe && !waiting.follows ? 'Change how it is made' : 'Make one of its own'}
          </Link>
          <PictureInput onPicture={(file) => void store(() => server.put<ShowView>(`/api/shows/${show.id}/waiting`, file))} onTrouble={onTrouble}>
            Choose a file
          </PictureInput>
          {waiting && !waiting.follows && (
            <Button variant="quiet" size="sm" onClick={() => void store(forget)}>
              Do without
            </Button>
          )}
        </span>
      </div>
    </div>
  );
}

function LibraryChoice({ onChoose }: { onChoose: (pieceId: string) => void }) {
  const artwork = useArtwork();
  const pieces = (artwork.data?.pieces ?? []).filter(({ kind }) => kind === 'picture' || kind === 'composition');
  if (artwork.data && !pieces.length)
    return (
      <p className="small-words mt-2 mb-0">
        The library is empty. <Link to="/artwork">Add pictures to it</Link>, or keep one that you make here.
      </p>
    );
  return (
    <ul className="pieces choice">
      {pieces.map(({ id, url, name, kind }) => (
        <li key={id}>
          <button type="button" onClick={() => onChoose(id)}>
            <img src={url} alt="" loading="lazy" />
            <span>
              {name}
              {kind === 'composition' && <span className="soft d-block">makes itself for this show</span>}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
