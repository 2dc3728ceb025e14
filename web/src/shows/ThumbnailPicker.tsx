import { THUMBNAIL_MAX_BYTES, type ShowDraft, type ShowView } from '@lantern/contract';
import { useState, type ClipboardEvent, type DragEvent } from 'react';
import { Form } from 'react-bootstrap';
import { useFormContext } from 'react-hook-form';
import { server, wordsOf } from '../app/server';
import { Renditions } from './Renditions';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';

interface Props {
  show: ShowView;
  onStored: (show: ShowView) => void;
}

/** One picture for the show: dropped, or chosen from a file. Looked at here first, and again by the server, which keeps it at once. */
export function ThumbnailPicker({ show, onStored }: Props) {
  const { register, formState } = useFormContext<ShowDraft>();
  const [trouble, setTrouble] = useState('');
  const [over, setOver] = useState(false);
  const [sending, setSending] = useState(false);
  const take = async (file: File | undefined) => {
    setTrouble('');
    if (!file) return;
    if (file.size === 0) return setTrouble(`${file.name} is empty. Choose the picture again.`);
    if (file.size > THUMBNAIL_MAX_BYTES) {
      return setTrouble(`${file.name} weighs ${(file.size / 1e6).toFixed(1)} MB. Choose a picture of at most ${THUMBNAIL_MAX_BYTES / 1e6} MB.`);
    }
    const bitmap = await createImageBitmap(file).catch(() => null);
    if (!bitmap) return setTrouble(`${file.name} is not a picture that can be read. Choose a JPEG, PNG, WebP, AVIF or SVG file.`);
    bitmap.close();
    setSending(true);
    try {
      onStored(await server.put<ShowView>(`/api/shows/${show.id}/thumbnail`, file));
    } catch (error) {
      setTrouble(wordsOf(error));
    } finally {
      setSending(false);
    }
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
  return (
    <section aria-labelledby="picture-heading" id="picture" onPaste={paste}>
      <h2 id="picture-heading">Picture</h2>
      <label
        className={`thumbnail-drop${over ? ' over' : ''}`}
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
          accept="image/jpeg,image/png,image/webp,image/avif,image/svg+xml"
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
      {sending && <p className="soft small-words mt-2 mb-0">Keeping the picture…</p>}
      {shown && !sending && <p className="soft small-words mt-2 mb-0">Drop another picture on it, or click it, to change it.</p>}
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
    </section>
  );
}
