// What of the mailbag stands in a column of the scenes, as it is at this moment.
import { forColumn, MOST_IN_COLUMN, type ColumnMessage, type Scene } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { mailbagKey, type Mailbag } from './use-mailbag';

/** What is hidden is gone within a second, and nothing runs faster than it can be read. */
const LOOK_EVERY_MS = 750;
const NOTHING: readonly ColumnMessage[] = [];

/** Looked at from time to time and not with each message: a flood of them draws no more pictures than a trickle. */
export function useColumn(showId: string, scenes: readonly Scene[]): readonly ColumnMessage[] {
  const queries = useQueryClient();
  const wanted = scenes.some((scene) => scene.messages);
  const [column, setColumn] = useState(NOTHING);
  useEffect(() => {
    if (!wanted) return;
    const look = () => {
      const all = queries.getQueryData<Mailbag>(mailbagKey(showId))?.messages ?? [];
      const now = forColumn(all, MOST_IN_COLUMN);
      setColumn((before) => (JSON.stringify(before) === JSON.stringify(now) ? before : now));
    };
    look();
    const timer = setInterval(look, LOOK_EVERY_MS);
    return () => clearInterval(timer);
  }, [queries, showId, wanted]);
  return wanted ? column : NOTHING;
}
