// Words that the server does not have yet, kept in this browser until it has: a line may be gone for an evening,
// and a page may be closed.
import type { DraftField, ShowDraft } from '@lantern/contract';
import { same, valuesLike } from './sheet-draft';

const PREFIX = 'lantern-unkept-';
/** What nobody came back for is let go after this. */
const OLDEST_MS = 14 * 86_400_000;

export interface Unkept {
  at: number;
  changes: Partial<ShowDraft>;
  /** What stood in those fields when they were typed in. */
  before: Partial<ShowDraft>;
}

/** A start is one thing, whichever part of it was typed. */
const WHEN: readonly DraftField[] = ['date', 'time', 'zone', 'fold'];

/** Writes what is not kept, with what it was typed over; nothing to write takes the copy away. A browser that takes no more is left as it is. */
export function noteUnkept(showId: string, changes: Partial<ShowDraft>, base: ShowDraft, now: number, storage: Storage = localStorage): void {
  try {
    if (Object.keys(changes).length) storage.setItem(PREFIX + showId, JSON.stringify({ at: now, changes, before: valuesLike(changes, base) } satisfies Unkept));
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

/** What can be put back on a sheet as it is by now, and what somebody else has changed meanwhile: that is not overwritten unasked. */
export function sortedOut({ changes, before = {} }: Unkept, draft: ShowDraft): { putBack: Partial<ShowDraft>; crossed: Partial<ShowDraft>[] } {
  const now = valuesLike(changes, draft);
  const fields = (Object.keys(changes) as DraftField[]).filter((field) => !same(now[field], changes[field]));
  const isCrossed = (field: DraftField) => !same(now[field], before[field]);
  const whenCrossed = fields.some((field) => WHEN.includes(field) && isCrossed(field));
  const pick = (some: DraftField[]) => Object.fromEntries(some.map((field) => [field, changes[field]])) as Partial<ShowDraft>;
  const crossed = fields.filter((field) => !WHEN.includes(field) && isCrossed(field)).map((field) => pick([field]));
  if (whenCrossed) crossed.push(pick(fields.filter((field) => WHEN.includes(field))));
  return { putBack: pick(fields.filter((field) => (WHEN.includes(field) ? !whenCrossed : !isCrossed(field)))), crossed };
}
