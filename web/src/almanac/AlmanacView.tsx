// All shows in time, across all channels: in lanes, as a page of a calendar or as a list, with what is due this week before them.
import type { PlaceResult, SaveResult, ShowState, ShowSummary, ShowView } from '@lantern/contract';
import { DAY_MS, instant, sayDistance, sayWhen, USUAL_TIMES, type Instant, dueSteps, type DueStep } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { CircleAlert, CircleDot } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { useNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { useChannels } from '../channels/channel-queries';
import { inFull } from '../look/channel-words';
import { kindWords } from '../look/Identity';
import { Notice } from '../look/Notice';
import { useShowsInTime } from '../shows/show-queries';
import { StillToDoLine } from '../station/StillToDo';
import { usePlan, useStation } from '../station/station-queries';
import { AlmanacList } from './AlmanacList';
import { Lanes } from './Lanes';
import { MonthPage } from './MonthPage';
import { asMovedHere, type Put } from './moved-here';
import { troublesInWords, useOutlook } from './outlook';
import { NowAndNext } from './NowAndNext';
import { PageTitle } from '../app/PageTitle';

const NARROW = '(max-width: 767px)';
const VIEWS = [
  { name: 'lanes', label: 'Lanes' },
  { name: 'month', label: 'Calendar' },
  { name: 'list', label: 'List' },
] as const;

export function AlmanacView() {
  const channels = useChannels();
  const station = useStation();
  const plan = usePlan();
  const navigate = useNavigate();
  const now = useNow(30_000);
  const [params, setParams] = useSearchParams();
  // What is looked for and how stays in the address: through reload, back and signing in.
  const said = (name: string) => params.get(name) ?? '';
  const say = (name: string, value: string) =>
    setParams(
      (before) => {
        if (value) before.set(name, value);
        else before.delete(name);
        return before;
      },
      { replace: true, preventScrollReset: true },
    );
  const [words, channelId, state] = [said('find'), said('channel'), said('state')];
  const { shows: told, foundIds, error, knownFrom, earlier, everything } = useShowsInTime(words);
  const moving = useMoving();
  const shows = useMemo(() => told && asMovedHere(told, moving.put), [told, moving.put]);
  const view = VIEWS.find(({ name }) => name === said('view'))?.name ?? (window.matchMedia(NARROW).matches ? 'list' : 'lanes');
  const found = useMemo(() => filtered(shows ?? [], foundIds, words, channelId, state), [shows, foundIds, words, channelId, state]);
  const lanes = useMemo(() => channels.data?.filter(({ id }) => !channelId || id === channelId) ?? [], [channels.data, channelId]);
  const due = useMemo(
    () => dueSteps(shows ?? [], channels.data ?? [], station.data?.milestoneTimes ?? USUAL_TIMES, now),
    [shows, channels.data, station.data, now],
  );
  const outlook = useOutlook(channels.data, now);
  const ahead = useMemo(() => {
    const byId = new Map(outlook?.series.map((one) => [one.id, one]));
    return (outlook?.answer.dates ?? []).flatMap(({ seriesId, startsAt, lengthMs }) => {
      const one = byId.get(seriesId)!;
      return startsAt > one.madeUntil ? [{ startsAt, lengthMs, channelIds: one.channelIds }] : [];
    });
  }, [outlook]);
  const draft = async (startsAt: number, lengthMs: number, channelIds: string[]) => {
    const show = await server.post<ShowView>('/api/shows/new', { title: '', startsAt, lengthMs, channelIds });
    await navigate(`/shows/${show.id}`);
  };
  const views = (
    <span role="group" aria-label="As" className="span-choice">
      {VIEWS.map(({ name, label }) => (
        <Button key={name} variant="quiet" size="sm" aria-pressed={view === name} onClick={() => say('view', name)}>
          {label}
        </Button>
      ))}
    </span>
  );
  const filters = (
    <span className="filters">
      <Form.Control
        size="sm"
        type="search"
        placeholder="Find"
        maxLength={100}
        aria-label="Find shows"
        value={words}
        onChange={({ target }) => say('find', target.value)}
      />
      <Form.Select size="sm" aria-label="On channel" value={channelId} onChange={({ target }) => say('channel', target.value)}>
        <option value="">on all channels</option>
        {channels.data?.map((channel) => (
          <option key={channel.id} value={channel.id}>
            {channel.name}, {kindWords(channel)}
          </option>
        ))}
      </Form.Select>
      <Form.Select size="sm" aria-label="In state" value={state} onChange={({ target }) => say('state', target.value)}>
        <option value="">in any state</option>
        <option value="draft">drafts</option>
        <option value="placed">placed</option>
        <option value="trouble">in trouble</option>
        <option value="onAir">on air</option>
        <option value="over">over</option>
        <option value="withdrawn">withdrawn</option>
      </Form.Select>
    </span>
  );
  // A station whose shows are all long past has some all the same.
  const empty = shows?.length === 0 && knownFrom === -Infinity;
  return (
    <>
      <div className="d-flex flex-wrap gap-3 align-items-end justify-content-between mb-3">
        <PageTitle of="Almanac" />
        <h1 className="mb-0">Almanac</h1>
        <Button onClick={() => void navigate('/shows/new')}>
          New show <kbd className="key ms-1">N</kbd>
        </Button>
      </div>
      {error && <Notice kind="refusal">{wordsOf(error)}</Notice>}
      <NowAndNext shows={shows ?? []} now={now} />
      <StillToDoLine />
      {empty && <FirstShow />}
      {!empty && (
        <>
          <Due steps={due} now={now} />
          {view !== 'lanes' && (
            <div className="almanac-bar">
              {views}
              {filters}
            </div>
          )}
          {moving.bar}
          {outlook && channels.data && <YearAhead words={troublesInWords(outlook.answer.troubles, outlook.series, channels.data)} />}
          {view === 'month' && station.data && <MonthPage shows={found} zone={station.data.zone} now={now} knownFrom={knownFrom} onEarlier={earlier} />}
          {view === 'list' && (
            <AlmanacList
              shows={found}
              earlier={knownFrom === -Infinity ? null : earlier}
              everything={async () => filtered(await everything(), foundIds, words, channelId, state)}
            />
          )}
          {/* Not before the shows: what is to be taken hold of must not move away from under the hand. */}
          {view === 'lanes' && shows && channels.data && station.data && (
            <Lanes
              shows={found}
              channels={lanes}
              plan={plan.data ?? null}
              zone={station.data.zone}
              ahead={ahead}
              knownFrom={knownFrom}
              onEarlier={earlier}
              before={views}
              after={filters}
              onMove={moving.ask}
              onOpen={(show) => void navigate(`/shows/${show.id}`)}
              onDraft={(startsAt, lengthMs, ids) => void draft(startsAt, lengthMs, ids)}
            />
          )}
        </>
      )}
    </>
  );
}

/** `foundIds`: those that the words find in what pages do not hold, such as their texts. */
function filtered(shows: readonly ShowSummary[], foundIds: ReadonlySet<string>, words: string, channelId: string, state: string): ShowSummary[] {
  const wanted = words.trim().toLowerCase();
  const trouble = ({ airings, toLook }: ShowSummary) =>
    toLook.length > 0 || airings.some(({ placing, drifted }) => drifted || placing === 'refused' || placing === 'unsure');
  return shows.filter(
    (show) =>
      (!wanted ||
        foundIds.has(show.id) ||
        [show.title, show.room, ...show.people.map(({ name }) => name)].some((text) => text.toLowerCase().includes(wanted))) &&
      (!channelId || show.airings.some((airing) => airing.channelId === channelId)) &&
      (!state || (state === 'trouble' ? trouble(show) : state === 'onAir' ? isOnAir(show) : show.state === (state as ShowState))),
  );
}

const isOnAir = ({ state }: ShowSummary): boolean => state === 'onAir' || state === 'interrupted';

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

const FEW = 4;

/** What is due within a week over all shows, the most urgent first, each a link to where it is done. */
function Due({ steps, now }: { steps: readonly DueStep<ShowSummary>[]; now: Instant }) {
  const [all, setAll] = useState(false);
  if (!steps.length) return null;
  return (
    <section className="due" aria-labelledby="due-heading">
      <h2 id="due-heading">
        Due this week{' '}
        {steps.length > FEW && (
          <Button variant="quiet" size="sm" onClick={() => setAll(!all)}>
            {all ? 'Only the most urgent' : `All ${steps.length}`}
          </Button>
        )}
      </h2>
      <ul>
        {(all ? steps : steps.slice(0, FEW)).map(({ show, words, at, late, shortNotice, to }) => (
          <li key={`${show.id}${words}${at}`} className={late ? 'late' : ''}>
            {late ? <CircleAlert size={15} aria-label="late" /> : <CircleDot size={15} aria-label="due" />}
            <span>
              <Link to={to}>{words}</Link>{' '}
              <span className="soft">
                {show.title || 'Untitled show'},{' '}
                {new Intl.DateTimeFormat('en-GB', { timeZone: show.zone, weekday: 'short', day: 'numeric', month: 'short' }).format(show.startsAt)}
              </span>
            </span>
            <span className="when">
              {late
                ? `late, ${sayDistance(at - now)}`
                : shortNotice
                  ? 'now, at short notice'
                  : at - now < DAY_MS
                    ? sayDistance(at - now)
                    : `by ${new Intl.DateTimeFormat('en-GB', { timeZone: show.zone, weekday: 'long' }).format(at)}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What stands in the way of series within a year, long before their dates are shows. */
function YearAhead({ words }: { words: readonly string[] }) {
  if (!words.length) return null;
  return (
    <details className="year-ahead small-words">
      <summary>{words.length === 1 ? '1 thing stands' : `${words.length} things stand`} in the way of series within a year</summary>
      <ul>
        {words.map((each) => (
          <li key={each}>{each}</li>
        ))}
      </ul>
    </details>
  );
}

interface Wanted {
  show: ShowSummary;
  startsAt: number;
  lengthMs: number;
}

interface Moved {
  show: ShowSummary;
  /** Of the sheet after it was moved: whoever changed it since is not overwritten. */
  version: number;
}
const MOST_UNDONE = 30;

/** Ctrl+Z, or its like, from anywhere but where somebody is typing. */
function useUndoKey(undo: () => void) {
  const latest = useRef(undo);
  useEffect(() => {
    latest.current = undo;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.closest('input, textarea, select');
      if (event.key !== 'z' || !(event.ctrlKey || event.metaKey) || event.shiftKey || typing) return;
      event.preventDefault();
      latest.current();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}

/** Moving a show from the almanac: asked about where it stands on channels, told with a result each, and taken back at a touch. */
function useMoving() {
  const queries = useQueryClient();
  const [wanted, setWanted] = useState<Wanted | null>(null);
  const [done, setDone] = useState<(Wanted & { results: PlaceResult['results']; undone: boolean }) | null>(null);
  /** Moves that can be taken back, the last at the end, each with the show as it was before. */
  const [history, setHistory] = useState<readonly Moved[]>([]);
  const [refused, setRefused] = useState('');
  const [busy, setBusy] = useState(false);
  /** One move after the other, each from what the one before made of the sheet: keys are pressed faster than servers answer. */
  const before = useRef<Promise<void>>(Promise.resolve());
  const moved = useRef(new Map<string, Pick<ShowSummary, 'version' | 'startsAt' | 'lengthMs'>>());
  const [put, setPut] = useState<ReadonlyMap<string, Put>>(new Map());
  /** Unless it was put somewhere else since. */
  const settle = (id: string, was: Put, version: number | null) =>
    setPut((before) => {
      if (before.get(id) !== was) return before;
      const next = new Map(before);
      if (version === null) next.delete(id);
      else next.set(id, { ...was, version });
      return next;
    });
  const move = (wanted: Wanted, base: number, undone: boolean): Promise<void> => {
    const here: Put = { startsAt: wanted.startsAt, lengthMs: wanted.lengthMs, version: null };
    setPut((before) => new Map(before).set(wanted.show.id, here));
    before.current = before.current
      .then(() => moveNow(wanted, Math.max(base, moved.current.get(wanted.show.id)?.version ?? 0), undone))
      .then((version) => settle(wanted.show.id, here, version));
    return before.current;
  };
  /** The version that the sheet has now; null where it was left as it is. */
  const moveNow = async ({ show, startsAt, lengthMs }: Wanted, base: number, undone: boolean): Promise<number | null> => {
    setBusy(true);
    setRefused('');
    setWanted(null);
    try {
      const answer = await server.post<SaveResult & PlaceResult>(`/api/shows/${show.id}/move`, { startsAt, lengthMs, base });
      if (answer.conflicts.length) setRefused(`${answer.conflicts[0]!.by} changed this show meanwhile. It was left as it is; look at it again.`);
      else {
        setDone({ show, startsAt, lengthMs, results: answer.results, undone });
        const { version } = answer.show;
        // What the page was told last may be older than what was moved here.
        const known = moved.current.get(show.id);
        const was = known && known.version >= show.version ? { ...show, ...known } : show;
        moved.current.set(show.id, { version, startsAt, lengthMs });
        setHistory((before) => {
          const kept = undone ? before.slice(0, -1) : [...before, { show: was, version }].slice(-MOST_UNDONE);
          // What was moved here is the version that its earlier moves are taken back from.
          return kept.map((each) => (each.show.id === show.id ? { ...each, version } : each));
        });
        return version;
      }
    } catch (error) {
      setRefused(wordsOf(error));
    } finally {
      setBusy(false);
      // Nobody waits for it: what was put stands meanwhile.
      for (const key of ['shows', 'plan']) void queries.invalidateQueries({ queryKey: [key] });
    }
    return null;
  };
  const ask = (show: ShowSummary, startsAt: number, lengthMs: number) => {
    setDone(null);
    setRefused('');
    const stands = show.airings.some(({ placing }) => placing === 'placed');
    if (stands) setWanted({ show, startsAt, lengthMs });
    else void move({ show, startsAt, lengthMs }, show.version, false);
  };
  const last = history.at(-1);
  const undo = () => {
    if (last) void move({ show: last.show, startsAt: last.show.startsAt, lengthMs: last.show.lengthMs }, last.version, true);
  };
  useUndoKey(undo);
  const standing = wanted?.show.airings.filter(({ placing }) => placing === 'placed') ?? [];
  const bar = (
    <div role="status" className="moving-bar">
      {busy && <p className="soft mb-0">Moving…</p>}
      {wanted && (
        <Notice kind="caution" live={false}>
          {wanted.show.title} stands on {standing.map(({ channelName, network }) => inFull(channelName, network)).join(', ')}. Move it to{' '}
          {sayWhen(instant(wanted.startsAt), wanted.show.zone)}?{' '}
          <span className="d-flex gap-3">
            <Button size="sm" autoFocus onClick={() => void move(wanted, wanted.show.version, false)}>
              Move on {standing.length === 1 ? 'its channel' : `${standing.length} channels`}
            </Button>
            <Button variant="quiet" size="sm" onClick={() => setWanted(null)}>
              Leave it where it was
            </Button>
          </span>
        </Notice>
      )}
      {done && (
        <Notice kind={done.results.every((result) => result.done) ? 'done' : 'refusal'} live={false}>
          {done.undone
            ? `${done.show.title || 'The show'} is back where it was.`
            : `${done.show.title || 'The show'} moved to ${sayWhen(instant(done.startsAt), done.show.zone)}.`}{' '}
          {done.results.map(({ airingId, words }) => (
            <span key={airingId} className="d-block">
              {words}
            </span>
          ))}
          {last && (
            <Button variant="quiet" size="sm" onClick={undo}>
              {done.undone ? `Undo the move before: ${last.show.title || 'a show'}` : 'Undo'}
            </Button>
          )}
        </Notice>
      )}
      {refused && <Notice kind="refusal">{refused}</Notice>}
    </div>
  );
  return { ask, bar, put };
}
