// What is kept of a recording, and what might be left out.
import { CARD_LENGTHS_MS, type CutsView } from '@lantern/contract';
import { sayClock, sayLength, without, type Passage, type Suggestion } from '@lantern/core';
import { Button, Form } from 'react-bootstrap';
import { CutTime } from './CutTime';
import type { Draft } from './use-cut';

interface Props {
  view: CutsView;
  draft: Draft;
  onChange: (part: Partial<Draft>) => void;
  onGo: (ms: number) => void;
}

const NAMES: Record<Suggestion['kind'], string> = { begin: 'Before the first words', break: 'A break', end: 'After the last words', silence: 'Silence' };

export function KeptHere({ view: { suggestions, lengthMs, survey, surveyTrouble }, draft, onChange, onGo }: Props) {
  const { kept, levelled, cardMs } = draft;
  const set = (index: number, part: Partial<Passage>) => onChange({ kept: kept.map((each, at) => (at === index ? { ...each, ...part } : each)) });
  return (
    <>
      <h2 className="h3">Kept</h2>
      <ol className="cut-list">
        {kept.map((passage, index) => (
          <li key={`${passage.fromMs} ${passage.toMs}`}>
            <CutTime label={`Begin of part ${index + 1}`} ms={passage.fromMs} onMs={(fromMs) => set(index, { fromMs })} />
            <span className="soft">to</span>
            <CutTime label={`End of part ${index + 1}`} ms={passage.toMs} onMs={(toMs) => set(index, { toMs })} />
            <span className="soft small-words">{sayClock(passage.toMs - passage.fromMs)}</span>
            <Button variant="quiet" size="sm" onClick={() => onGo(passage.fromMs)}>
              Go there<span className="visually-hidden"> (part {index + 1})</span>
            </Button>
            {kept.length > 1 && (
              <Button variant="quiet" size="sm" onClick={() => onChange({ kept: kept.filter((_, at) => at !== index) })}>
                Leave out<span className="visually-hidden"> part {index + 1}</span>
              </Button>
            )}
          </li>
        ))}
      </ol>
      <Form.Check
        id="cut-levelled"
        className="mb-2"
        label="Bring the sound to the usual loudness"
        checked={levelled}
        onChange={({ target }) => onChange({ levelled: target.checked })}
      />
      <div className="d-flex gap-2 align-items-center mb-4">
        <Form.Label htmlFor="cut-card" className="mb-0 text-nowrap fw-normal">
          Title card before it
        </Form.Label>
        <Form.Select id="cut-card" size="sm" className="w-auto" value={cardMs} onChange={({ target }) => onChange({ cardMs: Number(target.value) })}>
          {CARD_LENGTHS_MS.map((ms) => (
            <option key={ms} value={ms}>
              {ms ? `for ${ms / 1_000} seconds` : 'none'}
            </option>
          ))}
        </Form.Select>
        {cardMs > 0 && <span className="soft small-words">the title and the day</span>}
      </div>
      <h2 className="h3">Better left out?</h2>
      {!survey && <p className="soft">{surveyTrouble || 'The recording is being looked through. This takes some seconds for each hour.'}</p>}
      {survey && !suggestions.length && <p className="soft">Nothing was found: somebody speaks from the first moment to the last.</p>}
      <ul className="cut-list">
        {suggestions.map((each) => (
          <Suggested
            key={`${each.kind} ${each.fromMs}`}
            suggestion={each}
            kept={kept}
            lengthMs={lengthMs}
            onKept={(next) => onChange({ kept: next })}
            onGo={onGo}
          />
        ))}
      </ul>
    </>
  );
}

function Suggested({
  suggestion: { kind, fromMs, toMs, why },
  kept,
  lengthMs,
  onKept,
  onGo,
}: {
  suggestion: Suggestion;
  kept: readonly Passage[];
  lengthMs: number;
  onKept: (kept: Passage[]) => void;
  onGo: (ms: number) => void;
}) {
  const isOut = !kept.some((each) => each.fromMs < toMs && each.toMs > fromMs);
  return (
    <li className="suggestion">
      <div>
        <b>{NAMES[kind]}</b>{' '}
        <Button variant="quiet" size="sm" onClick={() => onGo(fromMs)} aria-label={`Go to ${sayClock(fromMs)}`}>
          {sayClock(fromMs)}
        </Button>{' '}
        <span className="soft small-words">{sayLength(toMs - fromMs)}</span>
        <div className="small-words soft">{why}</div>
      </div>
      <Button
        variant={isOut ? 'quiet' : 'outline-primary'}
        size="sm"
        onClick={() => onKept(isOut ? [...kept, { fromMs, toMs }] : without(kept, { fromMs, toMs }, lengthMs))}
      >
        {isOut ? 'Keep it after all' : 'Leave it out'}
      </Button>
    </li>
  );
}
