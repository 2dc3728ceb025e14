// The few things of a look that are chosen.
import type { ArtworkView, LookDraft } from '@lantern/contract';
import {
  CARD_STYLES,
  contrastRatio,
  isShipped,
  LEAST_CONTRAST,
  MOST_SPONSORS,
  rgbOf,
  SHIPPED_LETTERS,
  SKY_MOODS,
  STRAP_STYLES,
  type CardStyle,
  type Palette,
  type SkyMood,
  type StrapStyle,
  type TypeFace,
} from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { server, wordsOf } from '../app/server';
import { ARTWORK } from '../app/artwork';
import { useClips } from '../clips/clip-queries';
import { FileInput } from '../look/FileInput';
import { Notice } from '../look/Notice';
import { CARD_WORDS, FONT_FILES, lettersCalled, MOOD_WORDS, STRAP_WORDS } from './look-words';

const COLOURS: { part: keyof Palette; words: string }[] = [
  { part: 'ground', words: 'Ground' },
  { part: 'ink', words: 'Words' },
  { part: 'accent', words: 'Time and edges' },
];
const FACES: { face: TypeFace; words: string }[] = [
  { face: 'display', words: 'Headings and times' },
  { face: 'text', words: 'All else' },
];

interface Props {
  look: LookDraft;
  artwork: ArtworkView;
  troubles: Partial<Record<string, string>>;
  onChange: (look: LookDraft) => void;
}

export function LookFields({ look, artwork, troubles, onChange }: Props) {
  const set = (change: Partial<LookDraft>) => onChange({ ...look, ...change });
  const clips = useClips().data ?? [];
  const { palette } = look;
  const contrast = (colour: string) => contrastRatio(rgbOf(colour), rgbOf(palette.ground));
  const [words, time] = [contrast(palette.ink), contrast(palette.accent)];
  const logos = artwork.pieces.filter(({ kind }) => kind === 'logo');
  return (
    <>
      <Form.Group className="mb-3" controlId="look-name">
        <Form.Label>Name</Form.Label>
        <Form.Control value={look.name} maxLength={40} isInvalid={!!troubles.name} onChange={({ target }) => set({ name: target.value })} />
        {troubles.name && <Form.Control.Feedback type="invalid">{troubles.name}</Form.Control.Feedback>}
      </Form.Group>
      <Part legend="Colours">
        <div className="look-colours">
          {COLOURS.map(({ part, words: called }) => (
            <label key={part}>
              <input type="color" value={palette[part]} onChange={({ target }) => set({ palette: { ...palette, [part]: target.value } })} />
              {called}
            </label>
          ))}
        </div>
        <p className="soft small-words mb-0">
          On the ground, words stand out {words.toFixed(1)} to 1, the time {time.toFixed(1)} to 1.
        </p>
        {words < LEAST_CONTRAST.title && (
          <Notice kind="caution">The words stand out too little: at least {LEAST_CONTRAST.title} to 1 is read with ease.</Notice>
        )}
        {time < LEAST_CONTRAST.other && <Notice kind="caution">The time stands out too little: at least {LEAST_CONTRAST.other} to 1 is read with ease.</Notice>}
      </Part>
      <Letters look={look} artwork={artwork} onChange={set} />
      <Part legend="Names and captions">
        <Choices name="straps" all={STRAP_STYLES} chosen={look.straps} words={STRAP_WORDS} onChoose={(straps: StrapStyle) => set({ straps })} />
      </Part>
      <Part legend="Cards">
        <Choices name="cards" all={CARD_STYLES} chosen={look.cards} words={CARD_WORDS} onChoose={(cards: CardStyle) => set({ cards })} />
      </Part>
      <Behind look={look} artwork={artwork} onChange={set} />
      <Part legend="Mark">
        <Form.Select size="sm" aria-label="Mark" value={look.logoId ?? ''} onChange={({ target }) => set({ logoId: target.value || null })}>
          <option value="">The lantern</option>
          {logos.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Form.Select>
        <p className="soft small-words mt-2 mb-0">
          Marks are logos of <Link to="/artwork">Artwork</Link>.
        </p>
      </Part>
      <Part legend="Sponsors">
        {!logos.length && <p className="soft small-words mb-0">Put their marks into Artwork as logos: then they can be chosen here.</p>}
        {logos.map(({ id, name }) => (
          <Form.Check
            key={id}
            id={`sponsor-${id}`}
            label={name}
            checked={look.sponsors.includes(id)}
            disabled={!look.sponsors.includes(id) && look.sponsors.length >= MOST_SPONSORS}
            onChange={({ target }) => set({ sponsors: target.checked ? [...look.sponsors, id] : look.sponsors.filter((each) => each !== id) })}
          />
        ))}
        {look.sponsors.length > 0 && (
          <Form.Check
            id="sponsors-corner"
            className="mt-2"
            label="In a corner by turns, wherever the mark stands"
            checked={look.sponsorsInCorner}
            onChange={({ target }) => set({ sponsorsInCorner: target.checked })}
          />
        )}
      </Part>
      <Part legend="Sting">
        <Form.Select size="sm" aria-label="Sting" value={look.stingId ?? ''} onChange={({ target }) => set({ stingId: target.value || null })}>
          <option value="">None</option>
          {clips.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Form.Select>
        <p className="soft small-words mt-2 mb-0">A short film or sound between two parts: one key on the stage.</p>
      </Part>
    </>
  );
}

const Part = ({ legend, children }: { legend: string; children: ReactNode }) => (
  <fieldset className="scene-part">
    <legend>{legend}</legend>
    <div>{children}</div>
  </fieldset>
);

interface ChoicesProps<One extends string> {
  name: string;
  all: readonly One[];
  chosen: One;
  words: Record<One, string>;
  onChoose: (one: One) => void;
}

function Choices<One extends string>({ name, all, chosen, words, onChoose }: ChoicesProps<One>) {
  return all.map((each) => (
    <Form.Check
      key={each}
      type="radio"
      id={`${name}-${each}`}
      name={name}
      label={words[each].replace(/^./, (first) => first.toUpperCase())}
      checked={chosen === each}
      onChange={() => onChoose(each)}
    />
  ));
}

type PartProps = Pick<Props, 'look' | 'artwork'> & { onChange: (change: Partial<LookDraft>) => void };

function Letters({ look, artwork, onChange }: PartProps) {
  const queries = useQueryClient();
  const [trouble, setTrouble] = useState('');
  const fonts = artwork.pieces.filter(({ kind }) => kind === 'font');
  const own = (['display', 'text'] as const).map((face) => fonts.find(({ id }) => id === look.letters[face])).find((font) => font !== undefined);
  const add = async (file: File) => {
    setTrouble('');
    try {
      const after = await server.post<ArtworkView>('/api/artwork?kind=font&name=', file);
      queries.setQueryData(ARTWORK, after);
      const made = after.pieces.find(({ id, kind }) => kind === 'font' && !fonts.some((each) => each.id === id));
      if (made) onChange({ letters: { ...look.letters, display: made.id } });
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <Part legend="Letters">
      {FACES.map(({ face, words }) => (
        <label key={face} className="d-block mb-2 small-words">
          {words}
          <Form.Select size="sm" value={look.letters[face]} onChange={({ target }) => onChange({ letters: { ...look.letters, [face]: target.value } })}>
            {!isShipped(look.letters[face]) && !fonts.some(({ id }) => id === look.letters[face]) && (
              <option value={look.letters[face]}>{lettersCalled(look.letters[face], fonts)}</option>
            )}
            {Object.entries(SHIPPED_LETTERS).map(([id, { name, like }]) => (
              <option key={id} value={id} title={like}>
                {name}
              </option>
            ))}
            {fonts.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}, of your own
              </option>
            ))}
          </Form.Select>
          {isShipped(look.letters[face]) && <span className="soft">{SHIPPED_LETTERS[look.letters[face]].like}</span>}
        </label>
      ))}
      <FileInput accept={FONT_FILES} onFile={(file) => void add(file)}>
        Add a font…
      </FileInput>
      {own && (
        <p className="soft small-words mb-0">
          {own.rights ? `${own.name}: ${own.rights}` : `Nobody has said by what right “${own.name}” is used: say so in Artwork, under Letters.`}
        </p>
      )}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </Part>
  );
}

/** As many skies as there are numbers: another one at a press. */
const MOST_SEED = 1_000_000;
const anotherSky = (seed: number) => (seed * 7 + 3) % MOST_SEED;

function Behind({ look, artwork, onChange }: PartProps) {
  const { background } = look;
  const pictures = artwork.pieces.filter(({ kind }) => kind === 'picture');
  const value = background === null ? 'evening' : background.kind === 'sky' ? background.mood : background.kind === 'colour' ? 'colour' : background.pieceId;
  const choose = (chosen: string) => {
    if (chosen === 'evening') return onChange({ background: null });
    if (chosen === 'colour') return onChange({ background: { kind: 'colour' } });
    if ((SKY_MOODS as readonly string[]).includes(chosen)) return onChange({ background: { kind: 'sky', mood: chosen as SkyMood, seed: 3 } });
    onChange({ background: { kind: 'picture', pieceId: chosen } });
  };
  return (
    <Part legend="Behind cards and people">
      <Form.Select size="sm" aria-label="Behind cards and people" value={value} onChange={({ target }) => choose(target.value)}>
        <option value="evening">An evening in the ground colour</option>
        <option value="colour">The ground colour alone</option>
        {SKY_MOODS.map((mood) => (
          <option key={mood} value={mood}>
            {MOOD_WORDS[mood]}
          </option>
        ))}
        {pictures.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </Form.Select>
      {background?.kind === 'sky' && (
        <Button variant="quiet" size="sm" className="mt-2" onClick={() => onChange({ background: { ...background, seed: anotherSky(background.seed) } })}>
          Another sky
        </Button>
      )}
    </Part>
  );
}
