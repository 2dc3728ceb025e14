import type { ClipView } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { useAskEvery } from '../app/changes';
import { server } from '../app/server';

export const CLIPS = ['clips'];
const ASK_EVERY_MS = 2_000;

/** The station's prepared sounds; asked again while one of them is being made ready. */
export function useClips() {
  const every = useAskEvery(ASK_EVERY_MS);
  return useQuery({
    queryKey: CLIPS,
    queryFn: () => server.get<ClipView[]>('/api/clips'),
    refetchInterval: ({ state }) => (state.data?.some((clip) => clip.state === 'making') ? every : false),
  });
}
