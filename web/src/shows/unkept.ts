// Words that the server does not have yet, kept in this browser until it has: a line may be gone for an evening,
// and a page may be closed.
import type { ShowDraft } from '@lantern/contract';

const PREFIX = 'lantern-unkept-';
/** What nobody came back for is let go after this. */
const OLDEST_MS = 14 * 86_400_000;

export interface Unkept {
  at: number;
  changes: Partial<ShowDraft>;
}

/** Writes what is not kept; nothing to write takes the copy away. A browser that takes no more is left as it is. */
export function noteUnkept(showId: string, changes: Partial<ShowDraft>, now: number, storage: Storage = localStorage): void {
  try {
    if (Object.keys(changes).length) storage.setItem(PREFIX + showId, JSON.stringify({ at: now, changes } satisfies Unkept));
    else storage.removeItem(PREFIX + showId);
  } catch {
    // Full, or forbidden: the page itself still has the words.
  }
}

/** What was not kept the last time; null: nothing, or it cannot be read any more. */
export function unkeptOf(showId: string, now: number, storage: Storage = localStorage): Unkept | null {
  try {
    const kept = JSON.parse(storage.getItem(PREFIX + showId) ?? 'null') as Unkept | null;
    if (!kept || typeof kept.changes !== 'object' || !(now - kept.at < OLDEST_MS)) return null;
    return kept;
  } catch {
    return null;
  }
}
