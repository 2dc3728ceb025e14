import type { AirView, WrapResult } from '@lantern/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { server } from '../app/server';

/** Going on air and wrapping up, from whichever stage. */
export function useAirActions(showId: string, onAir: (view: AirView) => void) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const goOnAir = useMutation({ mutationFn: () => server.post<AirView>(`/api/shows/${showId}/air`), onSuccess: onAir });
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
  return { goOnAir, wrap, takeBack };
}
