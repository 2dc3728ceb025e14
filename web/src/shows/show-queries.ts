// Shows of the station as pages ask for them: those that are near, page by page those of before, and those that words find.
import { SHOWS_ON_A_PAGE, type ShowSummary } from '@lantern/contract';
import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useAskEvery } from '../app/changes';
import { server } from '../app/server';

const list = (query = '') => server.get<ShowSummary[]>(`/api/shows${query}`);

/** Whatever is on air is told however long ago it began: it says nothing of what was around it. */
const earliestOf = (shows: readonly ShowSummary[]): number =>
  shows.reduce((earliest, { startsAt, state }) => (state === 'onAir' || state === 'interrupted' ? earliest : Math.min(earliest, startsAt)), LATEST);
const LATEST = 8.64e15;

export interface ShowsInTime {
  /** In no order; undefined until the first answer. */
  shows: ShowSummary[] | undefined;
  /** Those that the server found by the words, also in texts that are not held here. */
  foundIds: ReadonlySet<string>;
  error: Error | null;
  /** The earliest start from which all are there; -Infinity: there are none before. */
  knownFrom: number;
  /** Asks for a page of earlier ones, unless one is on its way. */
  earlier: () => void;
  /** Fetches all that there ever were, page by page: for whoever takes them along. */
  everything: () => Promise<ShowSummary[]>;
}

/** Shows that are near and, once asked for, those of before; with `words` those of any time that they find. */
export function useShowsInTime(words: string): ShowsInTime {
  const wanted = words.trim();
  const refetchInterval = useAskEvery(15_000);
  const near = useQuery({ queryKey: ['shows', 'near'], queryFn: () => list(), refetchInterval });
  const first = near.data ? earliestOf(near.data) : null;
  const older = useInfiniteQuery({
    queryKey: ['shows', 'older'],
    initialPageParam: null as number | null,
    queryFn: ({ pageParam }) => list(`?before=${pageParam ?? first!}`),
    getNextPageParam: (page) => (page.length < SHOWS_ON_A_PAGE ? undefined : page[0]!.startsAt),
    // Nobody looks at what is long past until they do.
    enabled: false,
  });
  const found = useQuery({
    queryKey: ['shows', 'found', wanted],
    queryFn: () => list(`?words=${encodeURIComponent(wanted)}`),
    enabled: wanted !== '',
    placeholderData: keepPreviousData,
  });
  const shows = useMemo(() => {
    if (!near.data) return undefined;
    const all = new Map<string, ShowSummary>();
    for (const show of [...(older.data?.pages.flat() ?? []), ...(wanted ? (found.data ?? []) : []), ...near.data]) all.set(show.id, show);
    return [...all.values()];
  }, [near.data, older.data, found.data, wanted]);
  const foundIds = useMemo(
    () => new Set(wanted && !found.isPlaceholderData ? found.data?.map(({ id }) => id) : []),
    [found.data, found.isPlaceholderData, wanted],
  );
  const pages = older.data?.pages;
  const knownFrom = pages?.length ? (older.hasNextPage ? pages.at(-1)![0]!.startsAt : -Infinity) : (first ?? Infinity);
  const earlier = () => {
    if (first === null || older.isFetching || knownFrom === -Infinity) return;
    void (pages?.length ? older.fetchNextPage() : older.refetch());
  };
  const everything = async () => {
    const all = [...(near.data ?? (await list()))];
    for (let before = earliestOf(all); ;) {
      const page = await list(`?before=${before}`);
      all.push(...page);
      if (page.length < SHOWS_ON_A_PAGE) return all;
      before = page[0]!.startsAt;
    }
  };
  return { shows, foundIds, error: near.error, knownFrom, earlier, everything };
}
