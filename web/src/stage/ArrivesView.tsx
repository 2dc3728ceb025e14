// A rehearsal as it arrives, with how far it is behind: the same way that viewers of the house page have it.
import type { AirView, ShowView } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { useAskEvery, useStationChanges } from '../app/changes';
import { serverNow } from '../app/clock';
import { PageTitle } from '../app/PageTitle';
import { server, wordsOf } from '../app/server';
import { Player } from '../house/Player';
import { Notice } from '../look/Notice';

const ASK_EVERY_MS = 3_000;

export function ArrivesView() {
  const { id } = useParams();
  useStationChanges();
  const refetchInterval = useAskEvery(ASK_EVERY_MS);
  const show = useQuery({ queryKey: ['show', id], queryFn: () => server.get<ShowView>(`/api/shows/${id}`) });
  const air = useQuery({ queryKey: ['show', id, 'air'], queryFn: () => server.get<AirView>(`/api/shows/${id}/air`), refetchInterval });
  const [behindMs, setBehindMs] = useState<number | null>(null);
  if (show.error) return <Notice kind="refusal">{wordsOf(show.error)}</Notice>;
  if (!show.data || !air.data) return null;
  const { title, rehearsal } = show.data;
  const runs = air.data.showState === 'onAir' && air.data.source !== null;
  return (
    <main className="page pt-4 arrives">
      <PageTitle of={`${title}, as it arrives`} />
      <h1 className="mb-1">
        {rehearsal && <span className="rehearsal-word">Rehearsal</span>}
        {title}, as it arrives
      </h1>
      {runs ? (
        <>
          <p role="status" className="soft">
            {behindMs === null
              ? 'The picture is on its way.'
              : `${(Math.max(0, behindMs) / 1_000).toFixed(1)} s behind what the server receives at this moment.`}
          </p>
          <div className="position-relative">
            <Player house={{ playlistUrl: `/api/shows/${id}/arrives/live.m3u8`, playlistBeside: null }} onSeen={(at) => setBehindMs(serverNow() - at)} />
          </div>
        </>
      ) : (
        <p>
          Nothing arrives at this moment. <Link to={`/shows/${id}/stage`}>To the stage</Link>
        </p>
      )}
    </main>
  );
}
