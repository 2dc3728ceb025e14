// A month to be read as a calendar page.
import type { ShowSummary } from '@lantern/contract';
import { instant, sayTime, wallTimeOf, type Instant } from '@lantern/core';
import { useEffect, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useSearchParams } from 'react-router';
import { monthOn, readMonth, weeksOf, type Day } from './month';
import { ShowMark } from './ShowMark';

/** As many as a day has room for; the rest at a touch. */
const FEW = 3;

interface Props {
  shows: readonly ShowSummary[];
  zone: string;
  now: Instant;
  /** From when on all shows are known, and how more are fetched. */
  knownFrom: number;
  onEarlier: () => void;
}

export function MonthPage({ shows, zone, now, knownFrom, onEarlier }: Props) {
  const [address, setAddress] = useSearchParams();
  const today = wallTimeOf(now, zone).date;
  // Without a month those weeks that come: at the end of a month most of its page would be past.
  const chosen = readMonth(address.get('month'));
  const month = chosen ?? today.slice(0, 7);
  const weeks = weeksOf(chosen ?? today, shows, zone);
  const begins = Date.parse(`${weeks[0]![0]!.date}T00:00:00Z`);
  useEffect(() => {
    if (begins < knownFrom) onEarlier();
  });
  const turn = (to: string | null) =>
    setAddress(
      (before) => {
        if (to === null) before.delete('month');
        else before.set('month', to);
        return before;
      },
      { replace: true, preventScrollReset: true },
    );
  const name =
    chosen === null
      ? 'The coming weeks'
      : new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' }).format(Date.parse(`${month}-01`));
  const weekdays = weeks[0]!.map(({ date }) => new Intl.DateTimeFormat('en-GB', { weekday: 'long', timeZone: 'UTC' }).format(Date.parse(date)));
  return (
    <section aria-labelledby="month-name">
      <div className="d-flex flex-wrap gap-3 align-items-baseline mb-2">
        <h2 id="month-name" className="mb-0" aria-live="polite">
          {name}
        </h2>
        <Button variant="quiet" size="sm" onClick={() => turn(chosen === null ? month : monthOn(month, -1))}>
          {chosen === null ? 'This month' : 'The month before'}
        </Button>
        <Button variant="quiet" size="sm" disabled={chosen === null} onClick={() => turn(null)}>
          The coming weeks
        </Button>
        <Button variant="quiet" size="sm" onClick={() => turn(monthOn(month, 1))}>
          The next month
        </Button>
      </div>
      <table className="month-page">
        <thead>
          <tr>
            {weekdays.map((day) => (
              <th key={day} scope="col">
                <span aria-hidden="true">{day.slice(0, 3)}</span>
                <span className="visually-hidden">{day}</span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {weeks.map((week) => (
            <tr key={week[0]!.date}>
              {week.map((day) => (
                <DayCell key={day.date} day={day} today={day.date === today} />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function DayCell({ day: { date, inMonth, shows }, today }: { day: Day<ShowSummary>; today: boolean }) {
  const [all, setAll] = useState(false);
  const shown = all ? shows : shows.slice(0, FEW);
  return (
    <td className={`${inMonth ? '' : 'other'} ${today ? 'today' : ''}`} aria-current={today ? 'date' : undefined}>
      <span className="number">
        {date.endsWith('-01')
          ? new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' }).format(Date.parse(date))
          : Number(date.slice(8))}
      </span>
      {shows.length > 0 && (
        <ul>
          {shown.map((show) => (
            <li key={show.id}>
              <Link to={`/shows/${show.id}`}>
                {show.pictureUrl && <img src={show.pictureUrl} alt="" width={48} height={27} loading="lazy" />}
                <span>
                  <ShowMark show={show} /> {sayTime(instant(show.startsAt), show.zone, false)} <b>{show.title || 'Untitled show'}</b>
                </span>
              </Link>
            </li>
          ))}
        </ul>
      )}
      {shows.length > shown.length && (
        <Button variant="quiet" size="sm" onClick={() => setAll(true)}>
          {shows.length - shown.length} more
        </Button>
      )}
    </td>
  );
}
