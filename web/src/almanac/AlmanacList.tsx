// All shows as a list: as complete as the lanes, sorted as one likes, and to be taken along as a table.
import type { ShowState, ShowSummary } from '@lantern/contract';
import { instant, sayDistance, sayLength, sayTime, wallTimeOf, type Instant } from '@lantern/core';
import { useMutation } from '@tanstack/react-query';
import { Repeat2 } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { useNow } from '../app/clock';
import { wordsOf } from '../app/server';
import { inFull } from '../look/channel-words';
import { LampGlyph } from '../look/LampGlyph';
import { Notice } from '../look/Notice';
import { csvOf } from './csv';
import { NextStep, PLACING_WORDS } from './NextStep';
import { saveAs } from '../app/save-as';

const STATE_WORDS: Record<ShowState, string> = {
  draft: 'Draft',
  placed: 'Placed',
  onAir: 'On air',
  interrupted: 'Interrupted',
  over: 'Over',
  withdrawn: 'Withdrawn',
};

type SortBy = 'time' | 'latest' | 'title' | 'state' | 'channel';
const SORTS: Record<SortBy, (a: ShowSummary, b: ShowSummary) => number> = {
  time: (a, b) => a.startsAt - b.startsAt,
  latest: (a, b) => b.startsAt - a.startsAt,
  title: (a, b) => a.title.localeCompare(b.title) || a.startsAt - b.startsAt,
  state: (a, b) => a.state.localeCompare(b.state) || a.startsAt - b.startsAt,
  channel: (a, b) => (a.airings[0]?.channelName ?? '').localeCompare(b.airings[0]?.channelName ?? '') || a.startsAt - b.startsAt,
};
/** As many as one reads at once; the rest at a touch. */
const FEW = 12;

interface Props {
  shows: readonly ShowSummary[];
  /** Fetches more of what is past; null: there is no more. */
  earlier: (() => void) | null;
  /** All shows of any time, by the same choice. */
  everything: () => Promise<readonly ShowSummary[]>;
}

export function AlmanacList({ shows, earlier, everything }: Props) {
  const now = useNow(10_000);
  const [sortBy, setSortBy] = useState<SortBy>('time');
  const save = useMutation({
    mutationFn: async () => {
      saveAs('almanac.csv', new Blob([csvOf([...(await everything())].sort(SORTS[sortBy]), PLACING_WORDS)], { type: 'text/csv' }));
    },
  });
  const groups =
    sortBy === 'time'
      ? [
          { title: 'Now', shows: shows.filter(({ state }) => state === 'onAir' || state === 'interrupted') },
          { title: 'Coming', shows: shows.filter(({ state }) => state === 'draft' || state === 'placed').sort(SORTS.time) },
          { title: 'Past', shows: shows.filter(({ state }) => state === 'over' || state === 'withdrawn').sort(SORTS.latest) },
        ]
      : [{ title: 'All shows', shows: [...shows].sort(SORTS[sortBy]) }];
  return (
    <>
      <div className="d-flex flex-wrap gap-3 align-items-center mb-3">
        <label className="sort-choice small-words">
          Sorted by{' '}
          <Form.Select size="sm" value={sortBy} onChange={({ target }) => setSortBy(target.value as SortBy)}>
            <option value="time">what comes next</option>
            <option value="latest">the latest first</option>
            <option value="title">title</option>
            <option value="state">state</option>
            <option value="channel">channel</option>
          </Form.Select>
        </label>
        <Button variant="quiet" size="sm" disabled={save.isPending} onClick={() => save.mutate()}>
          Save as a table (CSV)
        </Button>
        {save.error && <Notice kind="refusal">{wordsOf(save.error)}</Notice>}
      </div>
      {groups.map((group) => (
        <Group key={group.title} title={group.title} shows={group.shows} now={now} />
      ))}
      {earlier && (
        <Button variant="quiet" size="sm" onClick={earlier}>
          Earlier shows
        </Button>
      )}
    </>
  );
}

function Group({ title, shows, now }: { title: string; shows: readonly ShowSummary[]; now: Instant }) {
  const [all, setAll] = useState(false);
  if (!shows.length) return null;
  return (
    <section className="mb-5" aria-labelledby={`shows-${title}`}>
      <h2 id={`shows-${title}`} className="soft h3 pb-2 mb-0 border-bottom">
        {title}
      </h2>
      {(all ? shows : shows.slice(0, FEW)).map((show) => (
        <ShowRow key={show.id} show={show} now={now} />
      ))}
      {!all && shows.length > FEW && (
        <Button variant="quiet" size="sm" className="mt-2" onClick={() => setAll(true)}>
          Show all {shows.length}
        </Button>
      )}
    </section>
  );
}

function ShowRow({ show, now }: { show: ShowSummary; now: Instant }) {
  const starts = instant(show.startsAt);
  const inZone = (options: Intl.DateTimeFormatOptions) => new Intl.DateTimeFormat('en-GB', { timeZone: show.zone, ...options }).format(starts);
  const other = wallTimeOf(starts, show.zone).date.slice(0, 4) !== wallTimeOf(now, show.zone).date.slice(0, 4);
  return (
    <article className="show-row">
      <div className="day">
        {inZone({ weekday: 'short' })}
        <b>{inZone({ day: 'numeric' })}</b>
        {inZone({ month: 'short', ...(other && { year: 'numeric' }) })}
      </div>
      <div className="pictured">
        {show.pictureUrl && <img src={show.pictureUrl} alt="" width={96} height={54} loading="lazy" />}
        <div>
          <h3>
            <Link to={`/shows/${show.id}`}>{show.title || 'Untitled show'}</Link>
            {show.seriesId && <Repeat2 size={15} className="soft ms-2" aria-label="one of a series" />}
          </h3>
          <div>
            {sayTime(starts, show.zone)} <span className="soft">for {sayLength(show.lengthMs)}</span>
          </div>
          <div className="soft small-words mt-1">
            {show.airings.length ? show.airings.map(({ channelName, network }) => inFull(channelName, network)).join(', ') : 'No channel ticked'}
          </div>
          {(show.people.length > 0 || show.room) && (
            <div className="soft small-words">{[show.people.map(({ name }) => name).join(', '), show.room].filter(Boolean).join(' · ')}</div>
          )}
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
  const placed = show.airings.filter(({ placing }) => placing === 'placed' || placing === 'awaits air' || placing === 'awaits reach').length;
  const away = sayDistance(show.startsAt - now);
  if (show.state === 'onAir') {
    return (
      <div className="lamp lit">
        <LampGlyph lamp="lit" /> {STATE_WORDS.onAir}
      </div>
    );
  }
  if (show.state === 'draft' && show.placedAt !== null) return <div>Withdrawn, a draft again</div>;
  if (show.state === 'draft') return <div>{show.startsAt < now ? 'Draft; its time has passed' : `Draft, ${away}`}</div>;
  if (show.state === 'placed')
    return <div>{placed === show.airings.length ? `Placed, ${away}` : `Placed on ${placed} of ${show.airings.length}, ${away}`}</div>;
  return <div className={show.state === 'interrupted' ? 'fw-bold' : ''}>{STATE_WORDS[show.state]}</div>;
}
