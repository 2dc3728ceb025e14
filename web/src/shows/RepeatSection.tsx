// How the show repeats: the rule, its next dates in words and on a small calendar, what that is for viewers
// elsewhere, and what a change on this date means for the others.
import type { DropResult, NewRuleRequest, SeriesResult, ShowDraft, ShowView } from '@lantern/contract';
import {
  dayNumber,
  instant,
  occurrencesOf,
  repeatTrouble,
  sayDate,
  sayLength,
  sayRepeat,
  sayWhen,
  shiftsFor,
  WEEKDAYS,
  weekdayOfDate,
  type City,
  type Nth,
  type Occurrence,
  type Repeat,
  type Weekday,
  wallTimeOf,
  type DateOrder,
} from '@lantern/core';
import { useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { useNow } from '../app/clock';
import { offerUndo } from '../app/removed';
import { server, wordsOf } from '../app/server';
import { AskedButton } from '../look/AskedButton';
import { DateField } from '../look/DateField';
import { Notice } from '../look/Notice';
import { differing } from './section-words';
import { SmallCalendar } from './SmallCalendar';
import type { Run } from './sheet-acts';

interface Props {
  show: ShowView;
  draft: ShowDraft;
  cities: readonly City[];
  order: DateOrder;
  run: Run;
  busy: boolean;
}

const DAY_WORDS: Record<Weekday, string> = { MO: 'Mon', TU: 'Tue', WE: 'Wed', TH: 'Thu', FR: 'Fri', SA: 'Sat', SU: 'Sun' };
const AHEAD_MS = 400 * 86_400_000;

export function RepeatSection(props: Props) {
  const { show, draft, run, busy } = props;
  const [open, setOpen] = useState(false);
  const [said, setSaid] = useState<{ kind: 'done' | 'refusal' | 'caution'; words: string } | null>(null);
  const { series } = show;
  const ask = async (work: () => Promise<{ words: string; kind?: 'caution' }>) => {
    setSaid(null);
    await run(async () => {
      const { words, kind = 'done' } = await work();
      setSaid({ kind, words });
      return {};
    });
  };
  const tell = ({ made, removed, changed, left, clocks }: SeriesResult): { words: string; kind?: 'caution' } => {
    const parts = [changed && `${dates(changed)} changed`, made && `${dates(made)} made`, removed && `${dates(removed)} removed`].filter(Boolean);
    const words = parts.length ? `${parts.join(', ')}.` : 'No other date had to be changed.';
    const when = (of: SeriesResult['left']) => of.map((each) => sayWhen(instant(each.startsAt), each.zone)).join('; ');
    const minded = [
      ...(left.length ? [`Still on channels, now as single shows: ${when(left)}.`] : []),
      ...(clocks.length ? [`Clocks are changed over this time on one of the dates; look at it before it is placed: ${when(clocks)}.`] : []),
    ];
    return minded.length ? { kind: 'caution', words: [words, ...minded].join(' ') } : { words };
  };
  return (
    <>
      {series ? (
        <OneOfASeries {...props} ask={ask} tell={tell} onRule={() => setOpen(!open)} open={open} />
      ) : (
        !open && (
          <p className="mb-0">
            Once.{' '}
            <Button variant="quiet" size="sm" onClick={() => setOpen(true)}>
              Make it a series…
            </Button>
          </p>
        )
      )}
      {open && (
        <RuleFields
          {...props}
          initial={series?.repeat ?? weekly(draft.date)}
          onCancel={() => setOpen(false)}
          onKeep={(rule, placesByItself, scope) => {
            setOpen(false);
            const body = { ...rule, placesByItself };
            void ask(async () =>
              tell(
                series
                  ? await server.post<SeriesResult>(`/api/shows/${show.id}/series/rule`, { ...body, scope } as NewRuleRequest)
                  : await server.post<SeriesResult>(`/api/shows/${show.id}/series`, body),
              ),
            );
          }}
          busy={busy}
        />
      )}
      {said && <Notice kind={said.kind}>{said.words}</Notice>}
    </>
  );
}

const dates = (n: number) => (n === 1 ? '1 date' : `${n} dates`);

function weekly(date: string): Repeat {
  const on = dayNumber(date ?? '') === null ? 'MO' : weekdayOfDate(date);
  return { pattern: { every: 'week', interval: 1, on: [on] }, from: date, ends: { kind: 'never' }, also: [], dropped: [] };
}

interface OneProps extends Props {
  ask: (work: () => Promise<{ words: string; kind?: 'caution' }>) => Promise<void>;
  tell: (result: SeriesResult) => { words: string; kind?: 'caution' };
  onRule: () => void;
  open: boolean;
}

/** One date: the rule it comes from, in what it differs, and for which dates a change is meant. */
function OneOfASeries({ show, cities, busy, ask, tell, onRule, open }: OneProps) {
  const now = useNow(60_000);
  const navigate = useNavigate();
  const [dropping, setDropping] = useState('');
  const series = show.series!;
  const stands = show.airings.some(({ placing }) => placing === 'placed' || placing === 'unsure');
  const next = useMemo(() => occurrencesOf(series.repeat, series.time, series.zone, now, instant(now + AHEAD_MS), 60), [series, now]);
  const spread = (scope: 'later' | 'all') =>
    ask(async () => tell(await server.post<SeriesResult>(`/api/shows/${show.id}/series/spread`, { scope, fields: series.differs })));
  const drop = async () => {
    try {
      const { refused, removed } = await server.post<DropResult>(`/api/shows/${show.id}/series/drop`);
      if (refused.length) return setDropping(refused.join(' '));
      offerUndo(removed);
      await navigate('/');
    } catch (error) {
      setDropping(wordsOf(error));
    }
  };
  const fields = differing(series);
  return (
    <>
      <p className="mb-2">
        {sayRepeat(series.repeat)}, {series.time}. <span className="soft">This is the date of {sayDate(series.date, true)}.</span>
      </p>
      {fields.length > 0 && (
        <Notice kind="caution" live={false}>
          This date differs from the others: {fields.join(', ')}.{' '}
          <span className="button-row">
            <Button variant="quiet" size="sm" disabled={busy} onClick={() => void spread('later')}>
              Do the same on later dates
            </Button>
            <Button variant="quiet" size="sm" disabled={busy} onClick={() => void spread('all')}>
              On all dates
            </Button>
          </span>
        </Notice>
      )}
      <Shifts occurrences={next} cities={cities} />
      <p className="soft small-words mb-1">
        {series.placesByItself ? 'Each date is placed by itself once its channels take it.' : 'Each date is placed by hand.'}
      </p>
      <span className="button-row">
        <Button variant="quiet" size="sm" aria-expanded={open} onClick={onRule}>
          {open ? 'Leave the rule' : 'Change the rule…'}
        </Button>
        <AskedButton
          label="Drop this date"
          disabled={busy}
          question={stands ? 'It is withdrawn from its channels, and the others stay. Drop it?' : 'The others stay. Drop it?'}
          yes="Drop it"
          onYes={() => void drop()}
        />
      </span>
      {dropping && <Notice kind="refusal">{dropping}</Notice>}
    </>
  );
}

/** "From 28 March an hour earlier for viewers in Kolkata." */
function Shifts({ occurrences, cities }: { occurrences: readonly Occurrence[]; cities: readonly City[] }) {
  const shifts = shiftsFor(occurrences, cities).slice(0, 4);
  const odd = occurrences.filter(({ wall }) => wall !== 'once').slice(0, 2);
  if (!shifts.length && !odd.length) return null;
  return (
    <ul className="shifts small-words">
      {shifts.map(({ city, from, byMs }) => (
        <li key={`${city.name}${from}`}>
          From {sayDate(from)} {sayLength(Math.abs(byMs)) === '1 h' ? 'an hour' : sayLength(Math.abs(byMs))} {byMs < 0 ? 'earlier' : 'later'} for viewers in{' '}
          {city.name}.
        </li>
      ))}
      {odd.map(({ date, wall }) => (
        <li key={date}>
          On {sayDate(date)} clocks {wall === 'skipped' ? 'jump over this time' : 'show this time twice'}; you are asked which is meant.
        </li>
      ))}
    </ul>
  );
}

interface RuleProps extends Props {
  initial: Repeat;
  onKeep: (repeat: Repeat, placesByItself: boolean, scope: 'later' | 'all') => void;
  onCancel: () => void;
}

type Kind = 'day' | 'week' | 'date' | 'weekday' | 'list';

function RuleFields({ show, draft, cities, order, initial, onKeep, onCancel, busy }: RuleProps) {
  const now = useNow(60_000);
  const [repeat, setRepeat] = useState<Repeat>(initial);
  const [scope, setScope] = useState<'later' | 'all'>('later');
  const [byItself, setByItself] = useState(show.series?.placesByItself ?? true);
  const [listed, setListed] = useState([...initial.also].join('\n'));
  const from = show.series?.repeat.from ?? draft.date;
  const rule = useMemo((): Repeat => ({ ...repeat, from }), [repeat, from]);
  const trouble = repeatTrouble(rule);
  const time = show.series?.time ?? draft.time;
  const zone = show.series?.zone ?? draft.zone;
  const next = useMemo(
    () => (trouble === null && /^\d{2}:\d{2}$/.test(time ?? '') ? occurrencesOf(rule, time, zone, now, instant(now + AHEAD_MS), 60) : []),
    [rule, time, zone, now, trouble],
  );
  const { pattern, ends } = repeat;
  const kind: Kind = !pattern ? 'list' : pattern.every !== 'month' ? pattern.every : 'onDate' in pattern ? 'date' : 'weekday';
  const date = dayNumber(from) === null ? 1 : Number(from.slice(8));
  const weekday = dayNumber(from) === null ? ('MO' as const) : weekdayOfDate(from);
  const choose = (chosen: Kind) => {
    const interval = pattern?.interval ?? 1;
    const patterns: Record<Kind, Repeat['pattern']> = {
      day: { every: 'day', interval },
      week: { every: 'week', interval, on: [weekday] },
      date: { every: 'month', interval, onDate: date },
      weekday: { every: 'month', interval, nth: date > 28 ? -1 : (Math.ceil(date / 7) as Nth), on: weekday },
      list: null,
    };
    setRepeat({ ...repeat, pattern: patterns[chosen] });
  };
  const set = (change: object) => setRepeat({ ...repeat, pattern: { ...pattern, ...change } as Repeat['pattern'] });
  const list = (text: string) => {
    setListed(text);
    setRepeat({ ...repeat, also: [...new Set(text.split(/[\s,;]+/).filter(Boolean))].sort() });
  };
  return (
    <div className="rule-fields">
      <div className="rule-row">
        <Form.Select aria-label="Repeats" value={kind} onChange={({ target }) => choose(target.value as Kind)}>
          <option value="day">by days</option>
          <option value="week">by weeks</option>
          <option value="date">each month by date</option>
          <option value="weekday">each month by weekday</option>
          <option value="list">on dates that I list</option>
        </Form.Select>
        {pattern && (
          <label>
            every{' '}
            <Form.Control
              type="number"
              min={1}
              max={60}
              aria-label="Every how many"
              value={pattern.interval || ''}
              onChange={({ target }) => set({ interval: Number(target.value) })}
            />{' '}
            {pattern.interval === 1 ? pattern.every : `${pattern.every}s`}
          </label>
        )}
        {pattern && 'onDate' in pattern && (
          <label>
            on the{' '}
            <Form.Control
              type="number"
              min={1}
              max={31}
              aria-label="Day of the month"
              value={pattern.onDate || ''}
              onChange={({ target }) => set({ onDate: Number(target.value) })}
            />
          </label>
        )}
        {pattern && 'nth' in pattern && (
          <>
            <Form.Select aria-label="Which" value={pattern.nth} onChange={({ target }) => set({ nth: Number(target.value) })}>
              {[1, 2, 3, 4, 5, -1].map((nth) => (
                <option key={nth} value={nth}>
                  {['last', '', 'first', 'second', 'third', 'fourth', 'fifth'][nth + 1]}
                </option>
              ))}
            </Form.Select>
            <Form.Select aria-label="Weekday" value={pattern.on} onChange={({ target }) => set({ on: target.value })}>
              {WEEKDAYS.map((day) => (
                <option key={day} value={day}>
                  {DAY_WORDS[day]}
                </option>
              ))}
            </Form.Select>
          </>
        )}
      </div>
      {pattern?.every === 'week' && (
        <div className="weekday-row" role="group" aria-label="On these days">
          {WEEKDAYS.map((day) => (
            <Form.Check
              key={day}
              id={`on-${day}`}
              inline
              label={DAY_WORDS[day]}
              checked={pattern.on.includes(day)}
              onChange={({ target }) => set({ on: target.checked ? [...pattern.on, day] : pattern.on.filter((each) => each !== day) })}
            />
          ))}
        </div>
      )}
      {!pattern && (
        <Form.Group controlId="listed" className="mb-2">
          <Form.Label>Further dates</Form.Label>
          <Form.Control as="textarea" rows={3} placeholder="2026-12-11 2027-01-08" value={listed} onChange={({ target }) => list(target.value)} />
          <Form.Text>The first is the date of this show. One to a line, as 2026-12-31.</Form.Text>
        </Form.Group>
      )}
      {pattern && (
        <div className="rule-row">
          <Form.Select
            aria-label="Until when"
            value={ends.kind}
            onChange={({ target }) =>
              setRepeat({
                ...repeat,
                ends: target.value === 'until' ? { kind: 'until', date: from } : target.value === 'count' ? { kind: 'count', count: 10 } : { kind: 'never' },
              })
            }
          >
            <option value="never">for ever</option>
            <option value="until">until a date</option>
            <option value="count">so many times</option>
          </Form.Select>
          {ends.kind === 'until' && (
            <DateField
              id="last-date"
              label="Last date"
              className="mb-0"
              value={ends.date}
              today={wallTimeOf(now, zone).date}
              order={order}
              onChange={(typed) => setRepeat({ ...repeat, ends: { kind: 'until', date: typed } })}
            />
          )}
          {ends.kind === 'count' && (
            <label>
              <Form.Control
                type="number"
                min={1}
                aria-label="How many times"
                value={ends.count || ''}
                onChange={({ target }) => setRepeat({ ...repeat, ends: { kind: 'count', count: Number(target.value) } })}
              />{' '}
              {show.series ? 'in all, from the first date of the series' : 'in all'}
            </label>
          )}
        </div>
      )}
      {trouble !== null ? (
        <Notice kind="refusal">{trouble}</Notice>
      ) : (
        <div className="rule-preview">
          <div>
            <b>{sayRepeat(rule)}</b>
            <ol className="small-words">
              {next.slice(0, 5).map((occurrence) => (
                <li key={occurrence.date}>{sayWhen(occurrence.startsAt, zone, false)}</li>
              ))}
            </ol>
            {next.length > 5 && <p className="soft small-words">and so on</p>}
            {!next.length && <p className="soft small-words">No date of it is still to come.</p>}
          </div>
          <SmallCalendar dates={next.map(({ date: each }) => each)} />
        </div>
      )}
      <Shifts occurrences={next} cities={cities} />
      <Form.Check
        id="places-by-itself"
        className="mb-2"
        label="Place each date by itself, as soon as its channels take it"
        checked={byItself}
        onChange={({ target }) => setByItself(target.checked)}
      />
      {show.series && (
        <div role="radiogroup" aria-label="For which dates" className="mb-2">
          <Form.Check
            type="radio"
            name="rule-scope"
            id="scope-later"
            label="From this date on"
            checked={scope === 'later'}
            onChange={() => setScope('later')}
          />
          <Form.Check type="radio" name="rule-scope" id="scope-all" label="For the whole series" checked={scope === 'all'} onChange={() => setScope('all')} />
        </div>
      )}
      <span className="button-row">
        <Button size="sm" disabled={busy || trouble !== null} onClick={() => onKeep(rule, byItself, scope)}>
          {show.series ? 'Keep this rule' : 'Make it a series'}
        </Button>
        <Button size="sm" variant="quiet" onClick={onCancel}>
          Leave it
        </Button>
      </span>
    </div>
  );
}
