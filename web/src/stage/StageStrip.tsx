// The top of the stage: which show, how long on air, how long to go.
import type { AirView, ShowView } from '@lantern/contract';
import { instant, sayClock, sayTime } from '@lantern/core';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { useNow } from '../app/clock';
import { OthersHere } from '../shows/OthersHere';
import { PageTitle } from '../app/PageTitle';

export function Strip({ show, air, children }: { show: ShowView; air: AirView | null; children: ReactNode }) {
  const now = useNow(250);
  const onAir = air?.showState === 'onAir' && air.onAirSince !== null;
  const toStart = show.startsAt - now;
  const toEnd = show.startsAt + show.lengthMs - now;
  return (
    <div className="strip">
      <div style={{ minWidth: 0 }}>
        <PageTitle of={`${show.rehearsal ? 'Rehearsal' : 'Stage'}: ${show.title}`} />
        <h1>
          {show.rehearsal && <span className="rehearsal-word">Rehearsal</span>}
          {show.title}
        </h1>
        <span className="soft small-words">
          {sayTime(instant(show.startsAt), show.zone)} to {sayTime(instant(show.startsAt + show.lengthMs), show.zone)} ·{' '}
          <Link to={`/shows/${show.rehearsal?.of ?? show.id}`} target={onAir ? '_blank' : undefined} rel="noopener">
            Show sheet{onAir && <span className="visually-hidden"> (opens beside the stage)</span>}
          </Link>
          {air && air.houseWatching > 0 && ` · ${air.houseWatching} on the house page`}
        </span>
        <OthersHere showId={show.id} place="stage" />
      </div>
      <div className="d-flex gap-4">
        {onAir && <Clock value={sayClock(now - air.onAirSince!)} words={show.rehearsal ? 'rehearsed' : 'on air'} />}
        {toStart > 0 ? (
          <Clock value={sayClock(toStart, true)} words="to the start" />
        ) : onAir ? (
          toEnd >= 0 ? (
            <Clock value={sayClock(toEnd, true)} words="left as planned" />
          ) : (
            <Clock value={`+${sayClock(-toEnd)}`} words="over the plan" />
          )
        ) : (
          <Clock value={sayClock(-toStart)} words="past the start" />
        )}
      </div>
      <div className="d-flex flex-wrap gap-3 align-items-center justify-content-end">{children}</div>
    </div>
  );
}

function Clock({ value, words }: { value: string; words: string }) {
  return (
    <div className="text-end">
      <div className="clock">{value}</div>
      <span className="soft small-words">{words}</span>
    </div>
  );
}
