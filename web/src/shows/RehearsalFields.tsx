// Rehearsing a show: made here, run on the stage, thrown away by itself.
import type { RehearsalView, ShowView } from '@lantern/contract';
import { instant, sayDistance, sayLength } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router';
import { server, wordsOf } from '../app/server';
import { useNow } from '../app/clock';
import { Notice } from '../look/Notice';

export const useRehearsals = (showId: string) =>
  useQuery({ queryKey: ['show', showId, 'rehearsals'], queryFn: () => server.get<RehearsalView[]>(`/api/shows/${showId}/rehearsals`) });

/** Has a rehearsal made ready, or finds the one that is, and goes to its stage. Throws what is against it. */
export function useRehearse(showId: string): () => Promise<void> {
  const queries = useQueryClient();
  const navigate = useNavigate();
  return async () => {
    const { id } = await server.post<RehearsalView>(`/api/shows/${showId}/rehearsals`);
    await queries.invalidateQueries({ queryKey: ['show', showId, 'rehearsals'] });
    await navigate(`/shows/${id}/stage`);
  };
}

export function RehearsalFields({ show }: { show: ShowView }) {
  const now = useNow(60_000);
  const rehearse = useRehearse(show.id);
  const rehearsals = useRehearsals(show.id).data ?? [];
  const [trouble, setTrouble] = useState('');
  const [busy, setBusy] = useState(false);
  const open = rehearsals.find(({ state }) => state === 'running');
  const begin = async () => {
    setTrouble('');
    setBusy(true);
    try {
      await rehearse();
    } catch (error) {
      setTrouble(wordsOf(error));
      setBusy(false);
    }
  };
  return (
    <>
      <p className="mb-2">
        The whole show with your devices, scenes, graphics and clips, on the way that it takes on the evening. Nothing of it reaches a channel, the house page
        or anybody’s mail.
      </p>
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      <Button variant="outline-primary" disabled={busy} onClick={() => void begin()}>
        {busy ? 'Making it ready…' : open ? 'To the rehearsal' : 'Rehearse now'}
      </Button>
      {rehearsals.some(({ state }) => state === 'over') && (
        <ul className="rehearsals small-words">
          {rehearsals
            .filter(({ state }) => state === 'over')
            .map(({ id, endedAt, onAirSince, until }) => (
              <li key={id}>
                <Link to={`/shows/${id}/report`}>
                  {endedAt ? `The one ${sayDistance(endedAt - now)}` : 'An earlier one'}
                  {endedAt && onAirSince ? `, ${sayLength(endedAt - onAirSince)}` : ''}
                </Link>{' '}
                <span className="soft">is thrown away {sayDistance(instant(until) - now)}</span>
              </li>
            ))}
        </ul>
      )}
    </>
  );
}
