// What changed at the station, heard by one of the browser's tabs for all of them: browsers keep but a few connections to one server.
// Where nothing can be heard, pages ask again and again, as they do for whatever was missed.
import type { StationChanges } from '@lantern/contract';
import { useQueryClient, type QueryClient, type QueryKey } from '@tanstack/react-query';
import { useEffect } from 'react';
import { create } from 'zustand';

const NAME = 'lantern-changes';
/** The server says something every ten seconds. Silent for so long, nothing is heard any more, whatever the connection says. */
const SILENT_MS = 25_000;
const LISTEN_EVERY_MS = 5_000;
/** As EventSource.CLOSED (HTML, section 9.2). */
const GIVEN_UP = 2;
/** What is heard of need not be asked for; now and then it is all the same. */
const NET_MS = 60_000;

type Heard = { kind: 'begun' } | { kind: 'here' } | { kind: 'changes'; changes: StationChanges };

const useHearing = create<{ hears: boolean }>(() => ({ hears: false }));

/** How often a page asks for something of which it would hear: `ms` where it hears nothing. */
export const useAskEvery = (ms: number): number => (useHearing(({ hears }) => hears) ? NET_MS : ms);

/** Has everything that is on a page follow what changes at the station, for as long as the page is open. */
export function useStationChanges(): void {
  const queries = useQueryClient();
  useEffect(() => listen((heard) => take(queries, heard)), [queries]);
}

/** Which answers of the server are out of date by what was heard. */
export function outOfDate({ shows, air, recordings, questions, messages, polls, channels, library, jobs, team }: StationChanges): QueryKey[] {
  return [
    ...shows.flatMap((id): QueryKey[] => [
      ['show', id],
      ['audience', id],
      ['renditions', id],
    ]),
    ...questions.map((id): QueryKey => ['show', id, 'questions']),
    ...polls.map((id): QueryKey => ['show', id, 'polls']),
    // Not below the show: what is new is asked for, never the whole list.
    ...messages.map((id): QueryKey => ['messages', id]),
    ...recordings.map((id): QueryKey => ['report', id]),
    ...(shows.length || channels ? ([['shows'], ['plan'], ['series']] as const) : []),
    ...(shows.length || air.length ? ([['on-air']] as const) : []),
    ...(channels ? ([['channels'], ['lines']] as const) : []),
    ...(library ? ([['artwork'], ['clips'], ['scenes']] as const) : []),
    ...(jobs ? ([['jobs']] as const) : []),
    ...(team ? ([['team'], ['me']] as const) : []),
  ];
}

function take(queries: QueryClient, heard: Heard): void {
  if (heard.kind === 'here') return;
  // What happened before the stream was there, nobody has heard.
  const keys = heard.kind === 'begun' ? [undefined] : outOfDate(heard.changes);
  for (const queryKey of keys) void queries.invalidateQueries(queryKey && { queryKey });
}

function listen(onHeard: (heard: Heard) => void): () => void {
  if (!navigator.locks || !window.BroadcastChannel || !window.EventSource) return () => undefined;
  const others = new BroadcastChannel(NAME);
  const over = new AbortController();
  let heardAt = 0;
  let source: EventSource | null = null;
  const hear = (heard: Heard) => {
    heardAt = performance.now();
    useHearing.setState({ hears: true });
    onHeard(heard);
  };
  others.onmessage = ({ data }: MessageEvent<Heard>) => hear(data);
  const open = () => {
    // Where nobody is signed in it is closed at once: asked for again only after a while.
    heardAt = performance.now();
    source?.close();
    source = new EventSource('/api/changes');
    const tell = (heard: Heard) => {
      hear(heard);
      others.postMessage(heard);
    };
    source.addEventListener('begun', () => tell({ kind: 'begun' }));
    source.addEventListener('here', () => tell({ kind: 'here' }));
    // Given up by the browser, since the server is there and refuses: whoever was signed in here may be so no more, and learns it by asking.
    source.onerror = () => source?.readyState === GIVEN_UP && onHeard({ kind: 'begun' });
    source.onmessage = ({ data }: MessageEvent<string>) => tell({ kind: 'changes', changes: JSON.parse(data) as StationChanges });
  };
  const watch = window.setInterval(() => {
    if (performance.now() - heardAt < SILENT_MS) return;
    useHearing.setState({ hears: false });
    if (source) open();
  }, LISTEN_EVERY_MS);
  // The tab that has the lock listens; when it is closed another takes its place.
  navigator.locks
    .request(NAME, { signal: over.signal }, () => {
      open();
      return new Promise<void>((release) => over.signal.addEventListener('abort', () => release(), { once: true }));
    })
    .catch(() => undefined); // Closed before its turn came.
  return () => {
    over.abort();
    clearInterval(watch);
    source?.close();
    others.close();
    useHearing.setState({ hears: false });
  };
}
