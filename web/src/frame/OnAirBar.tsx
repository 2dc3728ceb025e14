// On every planning page, while a show is on air: which, since when, who watches, and the way back to its stage.
import type { OnAirSummary } from '@lantern/contract';
import { sayClock } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { LampGlyph } from '../look/LampGlyph';
import { useAskEvery } from '../app/changes';
import { useNow } from '../app/clock';
import { server } from '../app/server';

const ASK_EVERY_MS = 5_000;

export function OnAirBar() {
  const refetchInterval = useAskEvery(ASK_EVERY_MS);
  const { data } = useQuery({ queryKey: ['on-air'], queryFn: () => server.get<OnAirSummary[]>('/api/on-air'), refetchInterval, staleTime: 0 });
  if (!data?.length) return null;
  return (
    <aside className="on-air-bar" aria-label="On air">
      {data.map((show) => (
        <Row key={show.showId} show={show} />
      ))}
    </aside>
  );
}

function Row({ show: { showId, title, onAirSince, watching, state, rehearsal } }: { show: OnAirSummary }) {
  const now = useNow();
  return (
    <p>
      {!rehearsal && <LampGlyph lamp={state === 'onAir' ? 'lit' : 'fault'} />}
      <span>
        {rehearsal ? 'Rehearsal' : state === 'onAir' ? 'On air' : 'Interrupted'}: <b>{title || 'Untitled'}</b>
        {state === 'onAir' && <span className="clock-words"> · {sayClock(now - onAirSince)}</span>}
        {state === 'onAir' && !rehearsal && ` · ${watching} watching`}
      </span>
      <Link to={`/shows/${showId}/stage`}>Back to the stage</Link>
    </p>
  );
}
