// Where shows were put on this page, until what the server tells has caught up with it.
import type { ShowSummary } from '@lantern/contract';

export interface Put {
  startsAt: number;
  lengthMs: number;
  /** Of the sheet once it was moved; null while the server has not answered. */
  version: number | null;
}

/**
 * Shows with what was moved here laid over them. A list that was asked for before a move, and arrives after it, would
 * otherwise put the show back under somebody's hands: the next key would begin from where it no longer is.
 */
export function asMovedHere(shows: readonly ShowSummary[], put: ReadonlyMap<string, Put>): readonly ShowSummary[] {
  if (!put.size) return shows;
  return shows.map((show) => {
    const here = put.get(show.id);
    if (!here || (here.version !== null && show.version >= here.version)) return show;
    return { ...show, startsAt: here.startsAt, lengthMs: here.lengthMs };
  });
}
