// What differs between an airing here and its event on the channel, and which side is to win.
import type { Visibility } from '../channels/rules';

/** What an airing says and what its event says: the facts that either side may change. */
export interface AiringFacts {
  title: string;
  text: string;
  /** Ms since the epoch. */
  startsAt: number;
  lengthMs: number;
  visibility: Visibility;
}

export type AiringField = keyof AiringFacts;
export const AIRING_FIELDS: readonly AiringField[] = ['title', 'text', 'startsAt', 'lengthMs', 'visibility'];

/** One field that differs. `changed`: who moved away from what the channel was last told: `here`, `there` or both. */
export interface Difference {
  field: AiringField;
  ours: AiringFacts[AiringField];
  theirs: AiringFacts[AiringField];
  changed: 'here' | 'there' | 'both';
}

/**
 * Field by field, what is not the same. `told` is what the channel was last told, and kept; null: not known,
 * as for an event that was attached, and then everything was changed there.
 */
export function differencesOf(ours: AiringFacts, theirs: AiringFacts, told: AiringFacts | null): Difference[] {
  return AIRING_FIELDS.flatMap((field): Difference[] => {
    if (same(field, ours, theirs)) return [];
    const here = told !== null && !same(field, ours, told);
    const there = told === null || !same(field, theirs, told);
    return [{ field, ours: ours[field], theirs: theirs[field], changed: here && there ? 'both' : here ? 'here' : 'there' }];
  });
}

function same(field: AiringField, a: AiringFacts, b: AiringFacts): boolean {
  if (field === 'title' || field === 'text') return tidy(a[field]) === tidy(b[field]);
  // Networks keep whole minutes.
  if (field === 'lengthMs') return Math.ceil(a.lengthMs / 60_000) === Math.ceil(b.lengthMs / 60_000);
  return a[field] === b[field];
}

/** Networks trim, and some bring line ends with them. */
const tidy = (text: string): string => text.replace(/\r\n/g, '\n').trim();

/** Which side wins a field. */
export type Sides = Partial<Record<AiringField, 'ours' | 'theirs'>>;

/** What both sides say after the host chose; fields not chosen stay as they are on each side. */
export function reconciled(ours: AiringFacts, theirs: AiringFacts, sides: Sides): { ours: AiringFacts; theirs: AiringFacts } {
  const after = { ours: { ...ours }, theirs: { ...theirs } };
  const copy = <F extends AiringField>(field: F) => {
    if (sides[field] === 'ours') after.theirs[field] = ours[field];
    if (sides[field] === 'theirs') after.ours[field] = theirs[field];
  };
  AIRING_FIELDS.forEach(copy);
  return after;
}
