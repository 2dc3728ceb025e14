// What recordings take on the disk, the largest first, and taking one away.
import type { RecordingsOnDisk } from '@lantern/contract';
import { instant, sayDay } from '@lantern/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { server, wordsOf } from '../app/server';
import { AskedButton } from '../look/AskedButton';
import { Notice } from '../look/Notice';
import { sayBytes } from '../look/say-bytes';

const KEY = ['recordings'];

export function RecordingsHere() {
  const queries = useQueryClient();
  const disk = useQuery({ queryKey: KEY, queryFn: () => server.get<RecordingsOnDisk>('/api/recordings') });
  const remove = useMutation({
    mutationFn: (showId: string) => server.delete<RecordingsOnDisk>(`/api/shows/${showId}/recording`),
    onSuccess: (after) => queries.setQueryData(KEY, after),
  });
  if (!disk.data?.recordings.length) return null;
  const { recordings, usedBytes, quotaBytes, state } = disk.data;
  return (
    <section className="mt-4 mb-5">
      <h2>Recordings</h2>
      <p className="mb-2">
        {sayBytes(usedBytes)}
        {quotaBytes !== null && ` of ${sayBytes(quotaBytes)}`}, kept until somebody removes them.
      </p>
      {state !== 'enough' && (
        <Notice kind="caution">
          {state === 'none' ? 'There is no room for more. Remove some before the next show.' : 'There is little room left. Remove what nobody needs any more.'}
        </Notice>
      )}
      <ul className="start-list">
        {recordings.map(({ showId, title, startsAt, zone, bytes, cuts, shown, ownSounds }) => (
          <li key={showId}>
            <div>
              <Link to={`/shows/${showId}/report`}>{title || 'Untitled'}</Link>{' '}
              <span className="soft small-words">
                {sayDay(instant(startsAt), zone)} · {sayBytes(bytes)}
              </span>
            </div>
            <AskedButton
              label="Remove"
              name={`Remove the recording of ${title}, ${sayDay(instant(startsAt), zone)}`}
              question={`The recording${cuts ? `, ${cuts === 1 ? 'its cut' : `its ${cuts} cuts`}` : ''}${ownSounds ? ', the own sound of guests' : ''}${shown ? ' and what the house page shows' : ''} will be gone for good. Figures and notes stay.`}
              yes="Remove it"
              onYes={() => remove.mutate(showId)}
              disabled={remove.isPending}
            />
          </li>
        ))}
      </ul>
      {remove.error && <Notice kind="refusal">{wordsOf(remove.error)}</Notice>}
    </section>
  );
}
