// What differs between an airing here and its event on the channel, and which side is to win.
import type { AiringSettings, Share } from '../channels/defaults';
import type { Visibility } from '../channels/rules';

/** What an airing says and what its event says: the facts that either side may change. */
export interface AiringFacts {
  title: string;
  text: string;
  /** Ms since the epoch. */
  startsAt: number;
  lengthMs: number;
  visibility: Visibility;
  /** What else is chosen; of an event, what its network tells of that. What either side leaves out is no difference. */
  choices?: AiringChosen;
  /** Of an event: on whose pages it is shared, and what they have answered. Told, and no difference. */
  shares?: Share[];
}

export type AiringChosen = Partial<Omit<AiringSettings, 'visibility'>>;

/** What will stand there of what is chosen: a programme for children has no messages, whatever was asked for. */
export function asItWillStand({ visibility: _, ...chosen }: AiringSettings): AiringChosen {
  return { ...chosen, ...(chosen.audience === 'children' && chosen.messages !== null && { messages: 'off' }) };
}

export type AiringField = Exclude<keyof AiringFacts, 'shares'>;
export const AIRING_FIELDS: readonly AiringField[] = ['title', 'text', 'startsAt', 'lengthMs', 'visibility', 'choices'];

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
    const changed = here && there ? 'both' : here ? 'here' : 'there';
    if (field === 'choices') return [{ field, ...choicesApart(ours, theirs), changed }];
    return [{ field, ours: ours[field], theirs: theirs[field], changed }];
  });
}

/** The choices that are not the same, of each side. */
function choicesApart(ours: AiringFacts, theirs: AiringFacts): { ours: AiringChosen; theirs: AiringChosen } {
  const apart = differentChoices(ours, theirs);
  const only = (chosen: AiringChosen) => Object.fromEntries(apart.map((name) => [name, chosen[name]]));
  return { ours: only(ours.choices!), theirs: only(theirs.choices!) };
}

function differentChoices({ choices: a = {} }: AiringFacts, { choices: b = {} }: AiringFacts): (keyof AiringChosen)[] {
  const both = (Object.keys(a) as (keyof AiringChosen)[]).filter((name) => (a[name] ?? null) !== null && (b[name] ?? null) !== null);
  return both.filter((name) => JSON.stringify(a[name]) !== JSON.stringify(b[name]));
}

function same(field: AiringField, a: AiringFacts, b: AiringFacts): boolean {
  if (field === 'title' || field === 'text') return tidy(a[field]) === tidy(b[field]);
  // Networks keep whole minutes.
  if (field === 'lengthMs') return Math.ceil(a.lengthMs / 60_000) === Math.ceil(b.lengthMs / 60_000);
  if (field === 'choices') return differentChoices(a, b).length === 0;
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
  // A network tells some of them only.
  if (sides.choices === 'theirs') after.ours.choices = { ...ours.choices, ...theirs.choices };
  return after;
}
