import type { AirView, WrapResult } from '@lantern/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { server } from '../app/server';

/** Going on air and wrapping up, from whichever stage; `tab`: this one may send, and is meant to. */
export function useAirActions(showId: string, onAir: (view: AirView) => void, tab: string | null = null) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const goOnAir = useMutation({ mutationFn: (only?: readonly string[]) => server.post<AirView>(`/api/shows/${showId}/air`, { tab, only }), onSuccess: onAir });
  const byItself = useMutation({
    mutationFn: (wanted: boolean) => {
      const path = `/api/shows/${showId}/air/by-itself`;
      return wanted ? server.post<AirView>(path, { tab }) : server.delete<AirView>(path);
    },
    onSuccess: onAir,
  });
  const startOne = useMutation({ mutationFn: (airingId: string) => server.post<AirView>(`/api/shows/${showId}/airings/${airingId}/air`) });
  const makeAnew = useMutation({ mutationFn: (airingId: string) => server.post<AirView>(`/api/shows/${showId}/airings/${airingId}/anew`) });
  const wrap = useMutation({
    mutationFn: () => server.post<WrapResult>(`/api/shows/${showId}/wrap`),
    onSuccess: async ({ results }) => {
      queries.removeQueries({ queryKey: ['show', showId] });
      await navigate(`/shows/${showId}/report`, { state: { results } });
    },
  });
  const takeBack = useMutation({
    mutationFn: () => server.delete<WrapResult>(`/api/shows/${showId}/air`),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['show', showId] }),
  });
  return { goOnAir, byItself, startOne, makeAnew, wrap, takeBack };
}
