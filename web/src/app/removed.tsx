// What was removed a moment ago, on whichever page one is by now, with the way back.
import type { RemovedView } from '@lantern/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { create } from 'zustand';
import { Notice } from '../look/Notice';
import { server, wordsOf } from './server';

const useRemoved = create<{ removed: RemovedView | null }>(() => ({ removed: null }));

/** Offers to take a removal back, until another one or until it is dismissed. */
export const offerUndo = (removed: RemovedView | null): void => useRemoved.setState({ removed });

export function RemovedNotice() {
  const { removed } = useRemoved();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [trouble, setTrouble] = useState('');
  if (!removed) return null;
  const restore = async () => {
    try {
      const { showId } = await server.post<{ showId: string | null }>(`/api/removed/${removed.id}/restore`);
      offerUndo(null);
      await queries.invalidateQueries();
      if (showId) await navigate(`/shows/${showId}`);
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <div className="removed-notice">
      <Notice kind={trouble ? 'refusal' : 'done'}>
        {trouble || `“${removed.title}” is removed. For a day it can be brought back.`}{' '}
        <span className="button-row">
          {!trouble && (
            <Button variant="quiet" size="sm" onClick={() => void restore()}>
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
