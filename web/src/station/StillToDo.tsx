// What the server does by itself and could not do at the first try: told with its reason, tried again by hand, or left.
import type { JobView } from '@lantern/contract';
import { sayDistance } from '@lantern/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { useAskEvery } from '../app/changes';
import { useNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';

function useJobs() {
  const refetchInterval = useAskEvery(20_000);
  return useQuery({ queryKey: ['jobs'], queryFn: () => server.get<JobView[]>('/api/jobs'), refetchInterval });
}

export function StillToDo() {
  const jobs = useJobs();
  const queries = useQueryClient();
  const now = useNow(5_000);
  const onSettled = () => queries.invalidateQueries({ queryKey: ['jobs'] });
  const again = useMutation({ mutationFn: (id: string) => server.post(`/api/jobs/${id}/now`), onSettled });
  const leave = useMutation({ mutationFn: (id: string) => server.delete(`/api/jobs/${id}`), onSettled });
  const error = again.error ?? leave.error;
  if (!jobs.data?.length) return null;
  return (
    <section aria-labelledby="still-to-do-heading" id="still-to-do" className="mb-5">
      <h2 id="still-to-do-heading">Not done yet</h2>
      <p className="soft small-words">What the station does by itself, and what kept it from being done. It is tried again until it is done or left.</p>
      <ul className="start-list">
        {jobs.data.map(({ id, words, trouble, nextTryAt }) => (
          <li key={id} className="flex-wrap">
            <span style={{ flex: '1 1 18rem' }}>
              <b>{words}</b>
              <span className="d-block">{trouble}</span>
              <span className="soft small-words d-block">
                {nextTryAt === null ? 'Given up; it waits for you.' : `Tried again ${nextTryAt <= now ? 'at once' : sayDistance(nextTryAt - now)}.`}
              </span>
            </span>
            <span className="d-flex gap-3 align-items-start text-nowrap">
              <Button variant="quiet" size="sm" aria-label={`${words}: try now`} disabled={again.isPending} onClick={() => again.mutate(id)}>
                Try now
              </Button>
              <Button variant="quiet" size="sm" aria-label={`${words}: leave it`} disabled={leave.isPending} onClick={() => leave.mutate(id)}>
                Leave it
              </Button>
            </span>
          </li>
        ))}
      </ul>
      {error && <Notice kind="refusal">{wordsOf(error)}</Notice>}
    </section>
  );
}

/** A line that leads there, on pages that are about something else. */
export function StillToDoLine() {
  const waiting = useJobs().data?.filter(({ nextTryAt }) => nextTryAt === null).length ?? 0;
  if (!waiting) return null;
  return (
    <div className="mb-3">
      <Notice kind="caution">
        {waiting === 1 ? 'One thing was given up and waits for you.' : `${waiting} things were given up and wait for you.`}{' '}
        <Link to="/station">Look at {waiting === 1 ? 'it' : 'them'}</Link>
      </Notice>
    </div>
  );
}
