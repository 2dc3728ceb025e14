// All shows in time. For now a list: what is on air, what is coming, what was.
import type { ShowState, ShowSummary } from '@lantern/contract';
import { HOUR_MS, instant, sayDistance, sayLength, sayTime, type Instant } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { Button } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router';
import { useNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { LampGlyph } from '../look/LampGlyph';
import { Notice } from '../look/Notice';

const PLACING_WORDS = { none: 'not placed', placed: 'placed', refused: 'refused', unsure: 'unsure', withdrawn: 'withdrawn', 'awaits air': 'ready' };

export function AlmanacView() {
  const shows = useQuery({ queryKey: ['shows'], queryFn: () => server.get<ShowSummary[]>('/api/shows'), refetchInterval: 15_000 });
  const navigate = useNavigate();
  const now = useNow(10_000);
  const running = shows.data?.filter(({ state }) => state === 'onAir' || state === 'interrupted') ?? [];
  const coming = shows.data?.filter(({ state }) => state === 'draft' || state === 'placed') ?? [];
  const past = shows.data?.filter(({ state }) => state === 'over' || state === 'withdrawn').reverse() ?? [];
  return (
    <>
      <div className="d-flex flex-wrap gap-3 align-items-end justify-content-between mb-4">
        <h1 className="mb-0">Almanac</h1>
        <Button onClick={() => void navigate('/shows/new')}>
          New show <kbd className="key ms-1">N</kbd>
        </Button>
      </div>
      {shows.error && <Notice kind="refusal">{wordsOf(shows.error)}</Notice>}
      {shows.data?.length === 0 && <FirstShow />}
      <Shows title="Now" shows={running} now={now} />
      <Shows title="Coming" shows={coming} now={now} />
      <Shows title="Past" shows={past} now={now} />
    </>
  );
}

function FirstShow() {
  return (
    <div className="narrow">
      <p>No shows yet. A show is one broadcast: you write it down once, tick the channels on which it airs, and place it.</p>
      <p>
        To begin, <Link to="/channels">link a channel</Link>, then draft your first show.
      </p>
    </div>
  );
}

function Shows({ title, shows, now }: { title: string; shows: ShowSummary[]; now: Instant }) {
  if (!shows.length) return null;
  return (
    <section className="mb-5" aria-labelledby={`shows-${title}`}>
      <h2 id={`shows-${title}`} className="soft h3 pb-2 mb-0 border-bottom">
        {title}
      </h2>
      {shows.map((show) => (
        <ShowRow key={show.id} show={show} now={now} />
      ))}
    </section>
  );
}

function ShowRow({ show, now }: { show: ShowSummary; now: Instant }) {
  const starts = instant(show.startsAt);
  const inZone = (options: Intl.DateTimeFormatOptions) => new Intl.DateTimeFormat('en-GB', { timeZone: show.zone, ...options }).format(starts);
  return (
    <article className="show-row">
      <div className="day">
        {inZone({ weekday: 'short' })}
        <b>{inZone({ day: 'numeric' })}</b>
        {inZone({ month: 'short' })}
      </div>
      <div>
        <h3>
          <Link to={`/shows/${show.id}`}>{show.title}</Link>
        </h3>
        <div>
          {sayTime(starts, show.zone)} <span className="soft">for {sayLength(show.lengthMs)}</span>
        </div>
        <div className="soft small-words mt-1">
          {show.airings.length
            ? show.airings.map((airing) => `${airing.channelName} (${airing.network === 'typed-in' ? 'typed in' : capital(airing.network)})`).join(', ')
            : 'No channel ticked'}
        </div>
      </div>
      <div className="step">
        <StateWords show={show} now={now} />
        <NextStep show={show} now={now} />
      </div>
    </article>
  );
}

function StateWords({ show, now }: { show: ShowSummary; now: Instant }) {
  const placed = show.airings.filter(({ placing }) => placing === 'placed' || placing === 'awaits air').length;
  const away = sayDistance(show.startsAt - now);
  const words: Record<ShowState, string> = {
    draft: show.startsAt < now ? `Draft; its time has passed` : `Draft, ${away}`,
    placed: placed === show.airings.length ? `Placed, ${away}` : `Placed on ${placed} of ${show.airings.length}, ${away}`,
    onAir: 'On air',
    interrupted: 'Interrupted',
    over: 'Over',
    withdrawn: 'Withdrawn',
  };
  if (show.state === 'onAir') {
    return (
      <div className="lamp lit">
        <LampGlyph lamp="lit" /> {words.onAir}
      </div>
    );
  }
  return <div className={show.state === 'interrupted' ? 'fw-bold' : ''}>{words[show.state]}</div>;
}

/** The one thing that a host would do next with this show. */
function NextStep({ show, now }: { show: ShowSummary; now: Instant }) {
  const troubled = show.airings.filter(({ placing }) => placing === 'refused' || placing === 'unsure');
  if (show.state === 'onAir' || show.state === 'interrupted') return <Link to={`/shows/${show.id}/stage`}>Go to the stage</Link>;
  if (show.state === 'over') return <Link to={`/shows/${show.id}/report`}>Read the report</Link>;
  if (show.state === 'withdrawn') return null;
  if (show.state === 'placed' && show.startsAt - now < HOUR_MS) return <Link to={`/shows/${show.id}/stage`}>Open the stage</Link>;
  if (troubled.length) {
    return (
      <Link to={`/shows/${show.id}`}>
        {troubled[0]!.channelName}: {PLACING_WORDS[troubled[0]!.placing]}
      </Link>
    );
  }
  return <Link to={`/shows/${show.id}`}>{show.state === 'draft' ? 'Finish and place it' : 'Open the sheet'}</Link>;
}

const capital = (word: string) => word[0]!.toUpperCase() + word.slice(1);
