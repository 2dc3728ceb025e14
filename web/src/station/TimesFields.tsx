// How long before the start each step is due.
import { DAY_MS, HOUR_MS, MINUTE_MS, USUAL_TIMES, type MilestoneTimes } from '@lantern/core';
import { Form } from 'react-bootstrap';

const UNITS = [
  { words: 'min', ms: MINUTE_MS },
  { words: 'h', ms: HOUR_MS },
  { words: 'days', ms: DAY_MS },
] as const;
const TIME_WORDS: Record<keyof MilestoneTimes, string> = {
  artwork: 'Artwork locked before the start',
  announce: 'Announced before the start',
  guests: 'Guests called before the start',
  'tech check': 'Tech check before the start',
  'holding card': 'Holding card before the start',
  'replay down': 'Replay down after the end',
};

/** How long before the start each step is due; the same fields for a station and for one show. */
export function TimesFields({ times, onChange }: { times: MilestoneTimes; onChange: (times: MilestoneTimes) => void }) {
  return (
    <div className="times-fields small-words">
      {(Object.keys(TIME_WORDS) as (keyof MilestoneTimes)[]).map((name) => {
        const ms = times[name];
        const unit = [...UNITS].reverse().find((each) => ms !== null && ms > 0 && ms % each.ms === 0) ?? UNITS[0];
        const set = (value: number, per: number) => Number.isFinite(value) && value >= 0 && onChange({ ...times, [name]: Math.round(value) * per });
        return (
          <div key={name} className="time-row">
            <Form.Check
              id={`needed-${name.replace(' ', '-')}`}
              label={TIME_WORDS[name]}
              checked={ms !== null}
              onChange={({ target }) => onChange({ ...times, [name]: target.checked ? (USUAL_TIMES[name] ?? 30 * DAY_MS) : null })}
            />
            {ms !== null && (
              <span className="d-flex gap-2">
                <Form.Control
                  size="sm"
                  type="number"
                  min={0}
                  aria-label={`${TIME_WORDS[name]}: how many`}
                  value={ms / unit.ms}
                  onChange={({ target }) => set(Number(target.value), unit.ms)}
                />
                <Form.Select
                  size="sm"
                  aria-label={`${TIME_WORDS[name]}: unit`}
                  value={unit.words}
                  onChange={({ target }) => set(ms / unit.ms, UNITS.find(({ words }) => words === target.value)!.ms)}
                >
                  {UNITS.map(({ words }) => (
                    <option key={words}>{words}</option>
                  ))}
                </Form.Select>
              </span>
            )}
          </div>
        );
      })}
    </div>
  );
}
