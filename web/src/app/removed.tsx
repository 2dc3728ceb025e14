// What was removed a moment ago, on whichever page one is by now, with the way back.
import type { RemovedView } from '@lantern/contract';
import { sayDistance } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { create } from 'zustand';
import { Notice } from '../look/Notice';
import { serverNow } from './clock';
import { server, wordsOf } from './server';

const useRemoved = create<{ removed: RemovedView | null }>(() => ({ removed: null }));

/** Offers to take a removal back, until another one or until it is dismissed. */
export const offerUndo = (removed: RemovedView | null): void => useRemoved.setState({ removed });

/** Brings something back and leads to it. Answers with what is against it; empty: nothing. */
function useRestore(): (id: string) => Promise<string> {
  const queries = useQueryClient();
  const navigate = useNavigate();
  return async (id) => {
    try {
      const { showId } = await server.post<{ showId: string | null }>(`/api/removed/${id}/restore`);
      if (useRemoved.getState().removed?.id === id) offerUndo(null);
      await queries.invalidateQueries();
      if (showId) await navigate(`/shows/${showId}`);
      return '';
    } catch (error) {
      return wordsOf(error);
    }
  };
}

/** All that can still be brought back, for whoever has closed the notice or thinks again in the evening. */
export function RemovedList() {
  const removed = useQuery({ queryKey: ['removed'], queryFn: () => server.get<RemovedView[]>('/api/removed') });
  const restore = useRestore();
  const [trouble, setTrouble] = useState('');
  if (!removed.data?.length) return null;
  return (
    <section aria-labelledby="removed" className="mt-4">
      <h2 id="removed">Removed in the last day</h2>
      <ul className="list-unstyled">
        {removed.data.map(({ id, title, until }) => (
          <li key={id} className="mb-2">
            {title}{' '}
            <span className="soft small-words">
              · gone for good {sayDistance(until - serverNow())}{' '}
              <Button variant="quiet" size="sm" className="ms-2" onClick={() => void restore(id).then(setTrouble)}>
                Bring it back
              </Button>
            </span>
          </li>
        ))}
      </ul>
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </section>
  );
}

export function RemovedNotice() {
  const { removed } = useRemoved();
  const restore = useRestore();
  const [trouble, setTrouble] = useState('');
  if (!removed) return null;
  return (
    <div className="removed-notice">
      <Notice kind={trouble ? 'refusal' : 'done'}>
        {trouble || `“${removed.title}” is removed. For a day it can be brought back, here or under Station.`}{' '}
        <span className="button-row">
          {!trouble && (
            <Button variant="quiet" size="sm" onClick={() => void restore(removed.id).then(setTrouble)}>
              Bring it back
            </Button>
          )}
          <Button variant="quiet" size="sm" onClick={() => offerUndo(null)}>
            Close
          </Button>
        </span>
      </Notice>
    </div>
  );
}
