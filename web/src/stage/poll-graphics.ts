// Polls as they can be laid over the picture.
import { asPictureLines } from '@lantern/core';
import { useMemo } from 'react';
import { usePolls } from '../polls/use-polls';
import type { StageGraphic } from './stage-store';

/** What was opened, the newest first, as it can be laid over the picture: with its votes as they are by now. */
export function usePollGraphics(showId: string): readonly StageGraphic[] {
  const { data } = usePolls(showId);
  return useMemo(
    () =>
      (data ?? [])
        .filter(({ state }) => state !== 'prepared')
        .sort((a, b) => (b.openedAt ?? 0) - (a.openedAt ?? 0))
        .map(({ id, question, options, counts, state }) => ({
          ...{ id, kind: 'poll' as const, text: question, more: asPictureLines(options, counts, state), hidesAfterS: null, cue: null, stale: false },
        })),
    [data],
  );
}
