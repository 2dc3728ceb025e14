// What is on air, what should be, and what begins next, with the step to take: before everything else in the almanac.
import type { ShowSummary } from '@lantern/contract';
import { DAY_MS, instant, sayDay, sayDistance, sayTime, type Instant } from '@lantern/core';
import { Link } from 'react-router';
import { LampGlyph } from '../look/LampGlyph';
import { NextStep } from './NextStep';

/** A show that did not begin is spoken of for so long. */
const MISSED_FOR_MS = DAY_MS;

interface Row {
  show: ShowSummary;
  as: 'now' | 'late' | 'next';
}

/** On air first, then what should have begun, then the next to come; of several that begin together all. */
export function nowAndNext(shows: readonly ShowSummary[], now: Instant): Row[] {
  const by = (a: ShowSummary, b: ShowSummary) => a.startsAt - b.startsAt;
  const on = shows.filter(({ state }) => state === 'onAir' || state === 'interrupted').sort(by);
  const late = shows.filter(({ state, startsAt }) => state === 'placed' && startsAt <= now && startsAt > now - MISSED_FOR_MS).sort(by);
  const coming = shows.filter(({ state, startsAt }) => (state === 'placed' || state === 'draft') && startsAt > now).sort(by);
  const next = coming.filter(({ startsAt }) => startsAt === coming[0]!.startsAt);
  return [
    ...on.map((show) => ({ show, as: 'now' as const })),
    ...late.map((show) => ({ show, as: 'late' as const })),
    ...next.map((show) => ({ show, as: 'next' as const })),
  ];
}

export function NowAndNext({ shows, now }: { shows: readonly ShowSummary[]; now: Instant }) {
  const rows = nowAndNext(shows, now);
  if (!rows.length) return null;
  return (
    <section className="now-next" aria-label="Now and next">
      <ul>
        {rows.map(({ show, as }) => (
          <li key={show.id} className={as}>
            <span className="which">
              {as === 'now' && <LampGlyph lamp={show.state === 'onAir' ? 'lit' : 'fault'} size={18} />}
              {as === 'now' ? (show.state === 'onAir' ? 'On air' : 'Interrupted') : as === 'late' ? 'Not begun' : 'Next'}
            </span>
            <span className="what">
              <Link to={`/shows/${show.id}`}>{show.title || 'Untitled show'}</Link>
              <span className="soft">
                {sayDay(instant(show.startsAt), show.zone)}, {sayTime(instant(show.startsAt), show.zone)}
                {show.state === 'draft' ? ' · a draft' : ''}
              </span>
            </span>
            <b className="when">
              {as === 'now' ? '' : as === 'late' ? `since ${sayDistance(show.startsAt - now).replace(/ ago$/, '')}` : sayDistance(show.startsAt - now)}
            </b>
            <NextStep show={show} now={now} className="btn btn-sm btn-outline-primary" />
          </li>
        ))}
      </ul>
    </section>
  );
}
