// The picture of a show as each of its channels gets it.
import type { RenditionView, ShowView } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { server } from '../app/server';

const NONE: readonly RenditionView[] = [];

export function useRenditionsQuery(show: ShowView) {
  const key = ['renditions', show.id, show.thumbnail?.url, [...show.channelIds].sort().join()];
  return useQuery({
    queryKey: key,
    queryFn: () => server.get<RenditionView[]>(`/api/shows/${show.id}/renditions`),
    enabled: show.thumbnail !== null && show.channelIds.length > 0,
  });
}

/** Empty while they are being made. */
export const useRenditions = (show: ShowView): readonly RenditionView[] => useRenditionsQuery(show).data ?? NONE;
