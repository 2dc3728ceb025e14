// The polls of a show as the team sees them.
import type { PollView } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { useAskEvery } from '../app/changes';
import { server } from '../app/server';

export const pollsPath = (showId: string): string => `/api/shows/${showId}/polls`;
export const pollsKey = (showId: string): readonly string[] => ['show', showId, 'polls'];

export function usePolls(showId: string) {
  return useQuery({ queryKey: pollsKey(showId), queryFn: () => server.get<PollView[]>(pollsPath(showId)), refetchInterval: useAskEvery(3_000) });
}
