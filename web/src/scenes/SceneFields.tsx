// The choices of one scene: few, and no free canvas.
import type { SceneDraft } from '@lantern/contract';
import { HOLDING, MOST_ZOOM, SCENE_LAYOUTS, SEATS, type CardKind, type SceneLayout, type SceneSeat, type Seat, type View } from '@lantern/core';
import { Button, Form } from 'react-bootstrap';
import { Field } from '../look/Field';
import { SceneSchematic } from './SceneSchematic';
import { LAYOUT_WORDS, SEAT_WORDS } from './scene-words';

interface Props {
  id: string;
  draft: SceneDraft;
  troubles: Partial<Record<string, string>>;
  onChange: (draft: SceneDraft) => void;
}

/** Who stands in the outline of a layout that has nobody yet. */
const SOMEBODY: SceneSeat[] = (['host', 'second host', 'guest 1'] as const).map((seat) => ({ seat, view: null }));

export function SceneFields({ id, draft, troubles, onChange }: Props) {
  const set = (change: Partial<SceneDraft>) => onChange({ ...draft, ...change });
  const isCard = draft.layout === 'card';
  const layouts = id === HOLDING ? (['card'] as const) : SCENE_LAYOUTS;
  const chooseLayout = (layout: SceneLayout) =>
    set(
      layout === 'card'
        ? { layout, card: 'closing', microphones: 'shut' }
        : { layout, card: null, seats: draft.seats.length ? draft.seats : [{ seat: 'host', view: null }], microphones: isCard ? 'open' : draft.microphones },
    );
  return (
    <>
      <Field id="scene-name" label="Name" trouble={troubles.name}>
        <Form.Control value={draft.name} maxLength={40} isInvalid={!!troubles.name} onChange={({ target }) => set({ name: target.value })} />
      </Field>
      {layouts.length > 1 && (
        <fieldset className="scene-part">
          <legend>Arrangement</legend>
          <div className="arrangements" role="radiogroup" aria-label="Arrangement">
            {layouts.map((layout) => (
              <label key={layout} className="arrangement">
                <input type="radio" name="layout" checked={draft.layout === layout} onChange={() => chooseLayout(layout)} />
                <SceneSchematic scene={{ layout, seats: draft.seats.length > 1 ? draft.seats : SOMEBODY }} />
                <span>{LAYOUT_WORDS[layout]}</span>
              </label>
            ))}
          </div>
        </fieldset>
      )}
      {isCard && id !== HOLDING && (
        <Field id="scene-card" label="What the card says">
          <Form.Select value={draft.card ?? 'closing'} onChange={({ target }) => set({ card: target.value as CardKind })}>
            <option value="closing">Thank you for watching</option>
            <option value="sponsors">With thanks to the sponsors of the look</option>
          </Form.Select>
        </Field>
      )}
      {!isCard && <SeatsFields draft={draft} trouble={troubles.seats} onChange={(seats) => set({ seats })} />}
      <fieldset className="scene-part">
        <legend>Over and around it</legend>
        {!isCard && <Form.Check id="scene-straps" label="Names of people" checked={draft.straps} onChange={({ target }) => set({ straps: target.checked })} />}
        {!isCard && (
          <Form.Check id="scene-bug" label="The station’s mark in the corner" checked={draft.bug} onChange={({ target }) => set({ bug: target.checked })} />
        )}
        {!isCard && (
          <Form.Check
            id="scene-messages"
            label="Messages as they come, in a column beside it"
            checked={draft.messages ?? false}
            onChange={({ target }) => set({ messages: target.checked })}
          />
        )}
        <Form.Check
          id="scene-microphones"
          label="Microphones are open"
          checked={draft.microphones === 'open'}
          onChange={({ target }) => set({ microphones: target.checked ? 'open' : 'shut' })}
        />
        <Form.Check
          id="scene-comes"
          label="Comes by a short dissolve, not by a cut"
          checked={draft.comes === 'dissolve'}
          onChange={({ target }) => set({ comes: target.checked ? 'dissolve' : 'cut' })}
        />
      </fieldset>
    </>
  );
}

function SeatsFields({ draft, trouble, onChange }: { draft: SceneDraft; trouble: string | undefined; onChange: (seats: SceneSeat[]) => void }) {
  const { seats } = draft;
  const left = SEATS.filter((seat) => !seats.some((each) => each.seat === seat));
  const move = (at: number, by: -1 | 1) => {
    const moved = [...seats];
    const [taken] = moved.splice(at, 1);
    moved.splice(at + by, 0, taken!);
    onChange(moved);
  };
  const setView = (seat: Seat, view: View | null) => onChange(seats.map((each) => (each.seat === seat ? { seat, view } : each)));
  return (
    <fieldset className="scene-part">
      <legend>Who and what is seen</legend>
      <p className="soft small-words mb-2">In this order. Whoever is not in the show takes no room.</p>
      <ol className="scene-seats">
        {seats.map(({ seat, view }, at) => (
          <li key={seat}>
            <span className="seat-name">{SEAT_WORDS[seat]}</span>
            {seat !== 'clip' && <ViewFields seat={seat} view={view} onChange={(next) => setView(seat, next)} />}
            <Button variant="quiet" size="sm" disabled={at === 0} aria-label={`${SEAT_WORDS[seat]} earlier`} onClick={() => move(at, -1)}>
              Earlier
            </Button>
            <Button variant="quiet" size="sm" aria-label={`Leave ${SEAT_WORDS[seat]} out`} onClick={() => onChange(seats.filter((each) => each.seat !== seat))}>
              Leave out
            </Button>
          </li>
        ))}
      </ol>
      {trouble && (
        <p className="small-words text-danger" role="alert">
          {trouble}
        </p>
      )}
      {left.length > 0 && (
        <Form.Select
          size="sm"
          aria-label="Bring in"
          value=""
          onChange={({ target }) => target.value && onChange([...seats, { seat: target.value as Seat, view: null }])}
        >
          <option value="">Bring in…</option>
          {left.map((seat) => (
            <option key={seat} value={seat}>
              {SEAT_WORDS[seat]}
            </option>
          ))}
        </Form.Select>
      )}
    </fieldset>
  );
}

const MIDDLE: View = { zoom: 1, x: 0.5, y: 0.5 };

/** Which part of somebody's picture is taken. */
function ViewFields({ seat, view, onChange }: { seat: Seat; view: View | null; onChange: (view: View | null) => void }) {
  const now = view ?? MIDDLE;
  const set = (change: Partial<View>) => {
    const next = { ...now, ...change };
    onChange(next.zoom === 1 && next.x === 0.5 && next.y === 0.5 ? null : next);
  };
  const slider = (label: string, part: keyof View, min: number, max: number, step: number) => (
    <label className="view-slider">
      {label}
      <Form.Range
        aria-label={`${SEAT_WORDS[seat]}: ${label}`}
        min={min}
        max={max}
        step={step}
        value={now[part]}
        onChange={({ target }) => set({ [part]: Number(target.value) })}
      />
    </label>
  );
  return (
    <details className="view-fields small-words">
      <summary aria-label={`${SEAT_WORDS[seat]}: ${view ? 'a part of the picture' : 'the whole picture'}`}>{view ? 'Part' : 'Whole'}</summary>
      {slider('Closer', 'zoom', 1, MOST_ZOOM, 0.05)}
      {slider('Left to right', 'x', 0, 1, 0.01)}
      {slider('Up and down', 'y', 0, 1, 0.01)}
    </details>
  );
}
