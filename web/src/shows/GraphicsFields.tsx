// What is laid over the picture at a touch: names make themselves; captions, lists, calls and moving lines are prepared here, in the order of use.
import { MOST_GRAPHICS, type CueDraft, type GraphicDraft, type ShowDraft } from '@lantern/contract';
import { isStale, moved, sayDay, type GraphicKind, type Instant } from '@lantern/core';
import { Button, Form } from 'react-bootstrap';
import { useFocusOn } from '../look/focus-on';
import { Notice } from '../look/Notice';
import type { Put } from './sheet-acts';

const KINDS: { kind: GraphicKind; name: string; text: string; more: string | null }[] = [
  { kind: 'strap', name: 'Caption', text: 'Name or heading', more: 'What stands beneath it' },
  { kind: 'list', name: 'List', text: 'Heading', more: 'One line for each' },
  { kind: 'call', name: 'Call', text: 'What viewers are to do', more: 'Where, as {house page}' },
  { kind: 'crawl', name: 'Moving line', text: 'The line', more: null },
];

export function GraphicsFields({ draft, startsAt, put }: { draft: ShowDraft; startsAt: Instant | null; put: Put }) {
  const { graphics = [], cues = [], people = [], zone } = draft;
  const { list, focusOn } = useFocusOn<HTMLOListElement>(graphics);
  const change = (id: string, values: Partial<GraphicDraft>) =>
    put({ graphics: graphics.map((graphic) => (graphic.id === id ? { ...graphic, ...values, lookedAtFor: startsAt } : graphic)) });
  const add = (kind: GraphicKind) => {
    const id = crypto.randomUUID().slice(0, 13);
    focusOn(`[data-graphic="${id}"]`);
    put({ graphics: [...graphics, { id, kind, text: '', more: '', hidesAfterS: kind === 'strap' ? 8 : null, cue: null, lookedAtFor: startsAt }] });
  };
  return (
    <>
      {people.length > 0 && (
        <p className="soft small-words mb-2">Names of {people.map(({ name }) => name).join(', ')} make themselves, and come after these.</p>
      )}
      <ol className="graphics" ref={list}>
        {graphics.map((graphic, at) => (
          <GraphicRow
            key={graphic.id}
            graphic={graphic}
            at={at}
            cues={cues}
            staleFor={startsAt !== null && isStale(graphic, startsAt) ? sayDay(graphic.lookedAtFor as Instant, zone) : null}
            onChange={(values) => change(graphic.id, values)}
            onEarlier={() => put({ graphics: moved(graphics, at, at - 1) })}
            onRemove={() => put({ graphics: graphics.filter(({ id }) => id !== graphic.id) })}
          />
        ))}
      </ol>
      <span className="button-row">
        {KINDS.map(({ kind, name }) => (
          <Button key={kind} variant="quiet" size="sm" disabled={graphics.length >= MOST_GRAPHICS} onClick={() => add(kind)}>
            Add a {name.toLowerCase()}
          </Button>
        ))}
      </span>
    </>
  );
}

interface RowProps {
  graphic: GraphicDraft;
  at: number;
  cues: readonly CueDraft[];
  /** The evening for which it was made, in words; null: this one. */
  staleFor: string | null;
  onChange: (values: Partial<GraphicDraft>) => void;
  onEarlier: () => void;
  onRemove: () => void;
}

function GraphicRow({ graphic, at, cues, staleFor, onChange, onEarlier, onRemove }: RowProps) {
  const { id, kind, text, more, hidesAfterS, cue } = graphic;
  const words = KINDS.find((each) => each.kind === kind)!;
  const called = text.trim() || `${words.name.toLowerCase()} ${at + 1}`;
  return (
    <li>
      <div className="graphic-head">
        <b className="small-words">{words.name}</b>
        <Form.Control
          size="sm"
          data-graphic={id}
          aria-label={`${words.text} of graphic ${at + 1}`}
          placeholder={words.text}
          maxLength={kind === 'crawl' ? undefined : 120}
          value={text}
          onChange={({ target }) => onChange({ text: target.value })}
        />
      </div>
      {words.more !== null && (
        <Form.Control
          size="sm"
          as={kind === 'list' ? 'textarea' : 'input'}
          {...(kind === 'list' && { rows: 3 })}
          className="mt-1"
          aria-label={`${words.more} of ${called}`}
          placeholder={words.more}
          maxLength={1_000}
          value={more}
          onChange={({ target }) => onChange({ more: target.value })}
        />
      )}
      {staleFor && (
        <Notice kind="caution" live={false}>
          Made for {staleFor}: is it still right?{' '}
          <Button variant="quiet" size="sm" onClick={() => onChange({})}>
            Still right<span className="visually-hidden">: {called}</span>
          </Button>
        </Notice>
      )}
      <div className="graphic-foot small-words">
        <Form.Select
          size="sm"
          aria-label={`When ${called} goes`}
          value={hidesAfterS ?? ''}
          onChange={({ target }) => onChange({ hidesAfterS: target.value ? Number(target.value) : null })}
        >
          <option value="">Stays until it is hidden</option>
          {[...new Set([5, 8, 15, 30, 60, ...(hidesAfterS === null ? [] : [hidesAfterS])])].map((seconds) => (
            <option key={seconds} value={seconds}>
              Goes after {seconds} s
            </option>
          ))}
        </Form.Select>
        {cues.length > 0 && (
          <Form.Select
            size="sm"
            aria-label={`Cue with which ${called} is next`}
            value={cue ?? ''}
            onChange={({ target }) => onChange({ cue: target.value || null })}
          >
            <option value="">In this order</option>
            {cues.map(({ id: cueId, name }, index) => (
              <option key={cueId} value={cueId}>
                With “{name.trim() || `cue ${index + 1}`}”
              </option>
            ))}
          </Form.Select>
        )}
        <Button variant="quiet" size="sm" disabled={at === 0} onClick={onEarlier}>
          Earlier<span className="visually-hidden">: {called}</span>
        </Button>
        <Button variant="quiet" size="sm" onClick={onRemove}>
          Take out<span className="visually-hidden"> {called}</span>
        </Button>
      </div>
    </li>
  );
}
