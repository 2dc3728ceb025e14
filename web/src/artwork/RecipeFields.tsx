// The parts of a composition: how it is laid out, what lies behind, what is written, who is on it.
import type { ArtworkView, CompositionPreview, ShowView } from '@lantern/contract';
import { PICTURE_LAYOUTS, SKY_MOODS, type PictureLayout, type PictureRecipe, type SkyMood } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { Button, Form } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { ARTWORK } from '../app/artwork';
import { PictureInput } from '../look/PictureInput';

const LAYOUT_WORDS: Record<PictureLayout, string> = { horizon: 'Horizon', slip: 'Slip', moon: 'Moon', row: 'Row' };
const MOOD_WORDS: Record<SkyMood, string> = { dusk: 'dusk', night: 'night', day: 'day' };

interface Props {
  show: ShowView;
  artwork: ArtworkView;
  recipe: PictureRecipe;
  preview: CompositionPreview | null;
  change: (part: Partial<PictureRecipe>) => void;
  onTrouble: (words: string) => void;
}

export function RecipeFields({ show, artwork, recipe, preview, change, onTrouble }: Props) {
  const queries = useQueryClient();
  const { background } = recipe;
  const pictures = artwork.pieces.filter(({ kind }) => kind === 'picture');
  const compositions = artwork.pieces.filter(({ kind }) => kind === 'composition');
  const guests = show.people.filter(({ role }) => role === 'guest');
  const add = async (kind: 'picture' | 'portrait', name: string, file: File): Promise<ArtworkView | null> => {
    onTrouble('');
    try {
      const after = await server.post<ArtworkView>(`/api/artwork?kind=${kind}&name=${encodeURIComponent(name)}`, file);
      queries.setQueryData(ARTWORK, after);
      return after;
    } catch (error) {
      onTrouble(wordsOf(error));
      return null;
    }
  };
  const addBehind = async (file: File) => {
    const known = new Set(pictures.map(({ id }) => id));
    const after = await add('picture', file.name.replace(/\.\w+$/, ''), file);
    const fresh = after?.pieces.find(({ id, kind }) => kind === 'picture' && !known.has(id));
    if (fresh) change({ background: { kind: 'picture', pieceId: fresh.id } });
  };
  return (
    <>
      <fieldset className="composer-part">
        <legend>Layout</legend>
        <div className="layout-choices">
          {PICTURE_LAYOUTS.map((layout) => (
            <label key={layout} className="layout-choice">
              <input type="radio" name="layout" className="visually-hidden" checked={recipe.layout === layout} onChange={() => change({ layout })} />
              <LayoutSketch layout={layout} />
              {LAYOUT_WORDS[layout]}
            </label>
          ))}
        </div>
        {compositions.length > 0 && (
          <Form.Select
            size="sm"
            className="mt-2"
            aria-label="Begin from one of the library"
            value=""
            onChange={({ target }) => change(compositions.find(({ id }) => id === target.value)!.recipe!)}
          >
            <option value="">Begin from one of the library …</option>
            {compositions.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Form.Select>
        )}
      </fieldset>

      <fieldset className="composer-part">
        <legend>Behind</legend>
        <Form.Select
          aria-label="What lies behind"
          value={background.kind === 'sky' ? background.mood : background.kind === 'picture' ? background.pieceId : 'colour'}
          onChange={({ target: { value } }) =>
            change({
              background:
                value === 'colour'
                  ? { kind: 'colour' }
                  : SKY_MOODS.includes(value as SkyMood)
                    ? { kind: 'sky', mood: value as SkyMood, seed: background.kind === 'sky' ? background.seed : 1 }
                    : { kind: 'picture', pieceId: value },
            })
          }
        >
          {SKY_MOODS.map((mood) => (
            <option key={mood} value={mood}>
              A drawn sky: {MOOD_WORDS[mood]}
            </option>
          ))}
          <option value="colour">Plain colour of the look</option>
          {background.kind === 'picture' && !pictures.some(({ id }) => id === background.pieceId) && (
            <option value={background.pieceId}>A picture that was taken out</option>
          )}
          {pictures.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Form.Select>
        <span className="button-row small-words">
          {background.kind === 'sky' && (
            <Button variant="quiet" size="sm" onClick={() => change({ background: { ...background, seed: (background.seed + 1) % 1_000_000 } })}>
              Draw it another way
            </Button>
          )}
          <PictureInput onPicture={(file) => void addBehind(file)} onTrouble={onTrouble}>
            Use a picture of yours
          </PictureInput>
        </span>
      </fieldset>

      <fieldset className="composer-part">
        <legend>Words</legend>
        <Form.Group controlId="picture-title" className="mb-2">
          <Form.Label>Title</Form.Label>
          <Form.Control
            value={recipe.title}
            maxLength={120}
            placeholder={show.title || 'Untitled show'}
            onChange={({ target }) => change({ title: target.value })}
          />
        </Form.Group>
        <Form.Group controlId="picture-line" className="mb-2">
          <Form.Label>One more line</Form.Label>
          <Form.Control value={recipe.line} maxLength={120} placeholder="None" onChange={({ target }) => change({ line: target.value })} />
          <Form.Text>{'May hold placeholders, such as {guests} or {episode}.'}</Form.Text>
        </Form.Group>
        <Form.Group controlId="picture-when">
          <Form.Label>Time</Form.Label>
          <Form.Select value={recipe.when} onChange={({ target }) => change({ when: target.value as PictureRecipe['when'] })}>
            <option value="day and time">Day and time</option>
            <option value="day">Day alone</option>
            <option value="none">None</option>
          </Form.Select>
        </Form.Group>
      </fieldset>

      <fieldset className="composer-part">
        <legend>Appearance</legend>
        <Form.Select aria-label="Look" value={recipe.lookId ?? ''} onChange={({ target }) => change({ lookId: target.value || null })}>
          {artwork.looks.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
          <option value="">Noble Lantern’s own</option>
        </Form.Select>
        <Form.Check
          id="picture-mark"
          className="mt-3"
          label="The station’s mark and name"
          checked={recipe.mark}
          onChange={({ target }) => change({ mark: target.checked })}
        />
        <Form.Check
          id="picture-portraits"
          label={guests.length ? `Portraits of guests (${guests.length})` : 'Portraits of guests: there are none on the sheet'}
          checked={recipe.portraits}
          disabled={!guests.length}
          onChange={({ target }) => change({ portraits: target.checked })}
        />
        {recipe.portraits &&
          preview?.withoutPortrait.map((name) => (
            <PictureInput key={name} onPicture={(file) => void add('portrait', name, file)} onTrouble={onTrouble}>
              Add a portrait of {name}
            </PictureInput>
          ))}
      </fieldset>
    </>
  );
}

/** A layout in a few strokes. */
function LayoutSketch({ layout }: { layout: PictureLayout }) {
  const words = (y: number, x = 5) => (
    <>
      <path d={`M${x} ${y}h16`} className="faint" />
      <path d={`M${x} ${y + 6}h26`} className="strong" />
    </>
  );
  return (
    <svg viewBox="0 0 64 36" aria-hidden="true">
      <rect width="64" height="36" className="ground" />
      {layout === 'horizon' && (
        <>
          <path d="M0 24q16-8 32-3t32-4v19H0z" className="fill" />
          <circle cx="51" cy="22" r="7" className="face" />
          {words(24)}
        </>
      )}
      {layout === 'slip' && (
        <>
          <path d="M0 24q16-8 32-3t32-4v19H0z" className="fill" />
          <rect x="4" y="17" width="35" height="15" className="paper" />
          <circle cx="52" cy="16" r="7" className="face" />
          {words(22, 8)}
        </>
      )}
      {layout === 'moon' && (
        <>
          <circle cx="55" cy="18" r="20" className="fill" />
          <circle cx="52" cy="20" r="7" className="face" />
          {words(22)}
        </>
      )}
      {layout === 'row' && (
        <>
          <rect width="64" height="19" className="fill" />
          <circle cx="30" cy="16" r="7" className="face" />
          <circle cx="43" cy="16" r="7" className="face" />
          <circle cx="56" cy="16" r="7" className="face" />
          {words(25)}
        </>
      )}
    </svg>
  );
}
