// The running order: what comes one after the other, for how long, and whether that is on time.
import { MOST_CUES, type CueDraft, type ShowDraft } from '@lantern/contract';
import {
  moved,
  readTypedLength,
  readTypedMoment,
  sayMoment,
  SECOND_MS,
  sayStretch,
  sayTypedLength,
  toShorten,
  type CueTimes,
  type Instant,
  type RunningOrderTimes,
  type Stretch,
  scenesOfShow,
  type Scene,
} from '@lantern/core';
import { GripVertical } from 'lucide-react';
import { useState, type KeyboardEvent } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useFocusOn } from '../look/focus-on';
import { Notice } from '../look/Notice';
import { OrderStrip } from '../look/OrderStrip';
import { useTyped } from '../look/typed';
import { useScenes } from '../scenes/scene-queries';
import { timesOf } from './order-times';
import type { Put } from './sheet-acts';

const newId = () => crypto.randomUUID().slice(0, 13);

/** Four cues to begin with, over the length of the show in seconds. */
function firstCues(lengthS: number): CueDraft[] {
  const short = Math.max(30, Math.round(lengthS / 20 / 30) * 30);
  const cue = (name: string, seconds: number): CueDraft => ({ id: newId(), name, lengthS: Math.max(0, seconds), hardAt: null, who: '', notes: '' });
  return [cue('Opening', short), cue('Main part', lengthS - 3 * short), cue('Questions', short), cue('Closing', short)];
}

export function RunningOrderFields({ draft, startsAt, put }: { draft: ShowDraft; startsAt: Instant | null; put: Put }) {
  const { cues = [], zone } = draft;
  const times = timesOf(draft, startsAt);
  const [carried, setCarried] = useState<number | null>(null);
  // What is moved by keys keeps the focus; what is added gets it.
  const { list, focusOn } = useFocusOn<HTMLOListElement>(cues);
  const change = (id: string, values: Partial<CueDraft>) => put({ cues: cues.map((cue) => (cue.id === id ? { ...cue, ...values } : cue)) });
  const move = (from: number, to: number) => {
    if (to < 0 || to >= cues.length || from === to) return;
    focusOn(`[data-grip="${cues[from]!.id}"]`);
    put({ cues: moved(cues, from, to) });
  };
  const add = () => {
    const cue: CueDraft = { id: newId(), name: '', lengthS: 300, hardAt: null, who: '', notes: '' };
    focusOn(`[data-name="${cue.id}"]`);
    put({ cues: [...cues, cue] });
  };
  return (
    <>
      {!cues.length && (
        <p className="mb-2">
          Nothing is planned.{' '}
          <Button variant="quiet" size="sm" onClick={() => put({ cues: firstCues((draft.lengthMin || 60) * 60) })}>
            Begin with four cues
          </Button>
        </p>
      )}
      {times && cues.length > 0 && <OrderStrip times={times} />}
      {cues.length > 0 && (
        <p className="cue-line soft small-words mb-1" aria-hidden="true">
          <span />
          <span>begins</span>
          <span>what comes</span>
          <span>length</span>
          <span>fixed time</span>
        </p>
      )}
      <ol className="cues" ref={list}>
        {cues.map((cue, at) => (
          <CueRow
            own={draft.scenes ?? []}
            key={cue.id}
            cue={cue}
            times={times?.cues[at] ?? null}
            zone={zone}
            at={at}
            carried={carried === at}
            onCarry={setCarried}
            onDrop={() => {
              if (carried !== null) move(carried, at);
              setCarried(null);
            }}
            onMove={(by) => move(at, at + by)}
            onChange={(values) => change(cue.id, values)}
            onRemove={() => put({ cues: cues.filter(({ id }) => id !== cue.id) })}
          />
        ))}
      </ol>
      {times && cues.length > 0 && <Verdicts times={times} draft={draft} put={put} />}
      <Button variant="quiet" size="sm" disabled={cues.length >= MOST_CUES} onClick={add}>
        Add a cue
      </Button>
    </>
  );
}

/** What is over or free, each with what to do and a press that does it. */
function Verdicts({ times, draft, put }: { times: RunningOrderTimes; draft: ShowDraft; put: Put }) {
  const { cues = [], zone } = draft;
  const shorten = ({ from, to, overMs }: Stretch) => {
    const by = new Map(toShorten(cues.slice(from, to), overMs).by.map(({ cue, seconds }) => [cue.id, seconds]));
    put({ cues: cues.map((cue) => ({ ...cue, lengthS: cue.lengthS - (by.get(cue.id) ?? 0) })) });
  };
  const said = times.stretches.flatMap((stretch) => {
    const words = sayStretch(stretch, cues, zone);
    return words ? [{ stretch, words }] : [];
  });
  if (!said.length) return <Notice kind="done">On time.</Notice>;
  return (
    <>
      {said.map(({ stretch, words }) =>
        stretch.overMs > 0 ? (
          <Notice key={words} kind="caution">
            {words}{' '}
            {toShorten(cues.slice(stretch.from, stretch.to), stretch.overMs).by.length > 0 && (
              <Button variant="quiet" size="sm" onClick={() => shorten(stretch)}>
                Shorten so
              </Button>
            )}
          </Notice>
        ) : (
          <p key={words} className="soft small-words mb-2">
            {words}
          </p>
        ),
      )}
    </>
  );
}

interface RowProps {
  /** Scenes that are the show's own. */
  own: readonly Scene[];
  cue: CueDraft;
  times: CueTimes | null;
  zone: string;
  at: number;
  carried: boolean;
  onCarry: (at: number | null) => void;
  onDrop: () => void;
  onMove: (by: number) => void;
  onChange: (values: Partial<CueDraft>) => void;
  onRemove: () => void;
}

function CueRow({ cue, own, times, zone, at, carried, onCarry, onDrop, onMove, onChange, onRemove }: RowProps) {
  const [open, setOpen] = useState(false);
  const called = cue.name.trim() || `cue ${at + 1}`;
  const length = useTyped({
    value: String(cue.lengthS),
    onChange: (seconds) => onChange({ lengthS: Number(seconds) }),
    read: (typed) => readTypedLength(typed)?.toString() ?? null,
    show: (seconds) => sayTypedLength(Number(seconds)),
  });
  const hard = useTyped({ value: cue.hardAt ?? '', onChange: (time) => onChange({ hardAt: time || null }), read: readTypedMoment, show: (time) => time });
  const byKeys = (event: KeyboardEvent) => {
    const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    if (!by) return;
    event.preventDefault();
    onMove(by);
  };
  const late = times !== null && times.endsAt > times.endBy;
  return (
    <li className={carried ? 'carried' : ''} onDragOver={(event) => event.preventDefault()} onDrop={onDrop}>
      <div className="cue-line">
        <button
          type="button"
          className="cue-grip"
          draggable
          data-grip={cue.id}
          aria-label={`Move ${called}, by the arrow keys`}
          onDragStart={() => onCarry(at)}
          onDragEnd={() => onCarry(null)}
          onKeyDown={byKeys}
        >
          <GripVertical size={16} aria-hidden="true" />
        </button>
        <span className="cue-time">{times ? sayMoment(times.startsAt, zone) : '–'}</span>
        <Form.Control
          size="sm"
          data-name={cue.id}
          aria-label={`Name of cue ${at + 1}`}
          placeholder="What comes"
          maxLength={120}
          value={cue.name}
          onChange={({ target }) => onChange({ name: target.value })}
        />
        <Form.Control size="sm" className="cue-length" aria-label={`Length of ${called}`} isInvalid={!!length.unread} {...length.input} />
        <Form.Control size="sm" className="cue-hard" aria-label={`${called} begins at`} placeholder="follows" isInvalid={!!hard.unread} {...hard.input} />
      </div>
      {length.unread && <p className="text-danger small-words mb-1">“{length.unread}” is no length that can be understood. Write it as 5:30 or 90 s.</p>}
      {hard.unread && <p className="text-danger small-words mb-1">“{hard.unread}” is no time that can be understood. Write it as 21:22 or 21:22:09.</p>}
      <div className="cue-under">
        {times && (
          <p className={`cue-end small-words ${late ? 'late-word' : 'soft'}`}>
            to {sayMoment(times.endsAt, zone)}
            {late && `, ${sayTypedLength(Math.ceil((times.endsAt - times.endBy) / SECOND_MS))} too late`}; must end by {sayMoment(times.endBy, zone)}
            {cue.who && ` · ${cue.who}`}
          </p>
        )}
        <span className="button-row small-words">
          <Button variant="quiet" size="sm" aria-expanded={open} onClick={() => setOpen(!open)}>
            {cue.notes || cue.scene || cue.who ? 'More' : 'Add more'}
            <span className="visually-hidden"> of {called}</span>
          </Button>
          <Button variant="quiet" size="sm" onClick={onRemove}>
            Take out <span className="visually-hidden">{called}</span>
          </Button>
        </span>
      </div>
      {open && (
        <div className="cue-more">
          <Form.Control
            size="sm"
            aria-label={`Who is in ${called}`}
            placeholder="Who"
            maxLength={120}
            value={cue.who}
            onChange={({ target }) => onChange({ who: target.value })}
          />
          <SceneOfCue called={called} own={own} scene={cue.scene ?? null} onChange={(scene) => onChange({ scene })} />
          <Form.Control
            as="textarea"
            size="sm"
            rows={3}
            aria-label={`Notes of ${called}, for whoever runs the show`}
            placeholder="Notes, for whoever runs the show"
            maxLength={4_000}
            value={cue.notes}
            onChange={({ target }) => onChange({ notes: target.value })}
          />
        </div>
      )}
    </li>
  );
}

interface SceneOfCueProps {
  called: string;
  /** Scenes that are the show's own. */
  own: readonly Scene[];
  scene: string | null;
  onChange: (scene: string | null) => void;
}

function SceneOfCue({ called, own, scene, onChange }: SceneOfCueProps) {
  const station = useScenes();
  const scenes = scenesOfShow(station.data ?? [], own);
  const gone = scene !== null && station.data !== undefined && !scenes.some(({ id }) => id === scene);
  return (
    <Form.Select size="sm" aria-label={`Scene that comes with ${called}`} value={scene ?? ''} onChange={({ target }) => onChange(target.value || null)}>
      <option value="">The scene stays as it is</option>
      {scenes.map(({ id, name }) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
      {gone && <option value={scene}>A scene that was taken out</option>}
    </Form.Select>
  );
}
