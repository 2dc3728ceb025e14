// What two people type into one sheet, put together: what only one of them changed is kept, and what both did is said.
// A sheet is a record of fields. Its variants, one a channel, are fields of their own: `variants/<channelId>`.
import { changedTogether } from './sheet';

/** By key, the version in which a field last changed, and by whom. */
export type FieldVersions = Readonly<Record<string, { version: number; by: string } | undefined>>;

interface Variant {
  channelId: string;
}
type Sheet = { variants: readonly Variant[] };

export interface Merge<Whole> {
  /** The sheet with what is accepted. */
  merged: Whole;
  /** The keys that change by it. */
  accepted: string[];
  /** Fields that somebody else changed since, to something else: left as they are. */
  conflicts: { field: string; by: string }[];
}

/** The field that a key is about: `variants` of `variants/<channelId>`. */
export const fieldOfKey = (key: string): string => key.split('/')[0]!;

/** The keys of a change, each variant for itself. */
export function keysOfChange(changes: Partial<Sheet>): string[] {
  return Object.keys(changes).flatMap((field) => (field === 'variants' ? (changes.variants ?? []).map(({ channelId }) => `variants/${channelId}`) : [field]));
}

/**
 * Puts `changes`, typed by somebody who saw version `base`, into the sheet as it stands now. What says the same already is neither
 * accepted nor a conflict.
 */
export function mergeChanges<Whole extends Sheet>(current: Whole, versions: FieldVersions, base: number, changes: Partial<Whole>): Merge<Whole> {
  const conflicts: Merge<Whole>['conflicts'] = [];
  const accepted: string[] = [];
  const merged = { ...current };
  for (const key of keysOfChange(changes)) {
    const mine = valueOf(changes, key);
    if (sameValue(valueOf(current, key), mine)) continue;
    const rival = changedTogether(key)
      .map((each) => versions[each])
      .find((known) => known !== undefined && known.version > base);
    if (rival) {
      conflicts.push({ field: fieldOfKey(key), by: rival.by });
      continue;
    }
    accepted.push(key);
    if (fieldOfKey(key) !== 'variants') Object.assign(merged, { [key]: mine });
    else merged.variants = [...merged.variants.filter(({ channelId }) => `variants/${channelId}` !== key), mine as Variant];
  }
  return { merged, accepted, conflicts };
}

/** A channel without a variant says what all say, as one whose variant says nothing does. */
function valueOf(sheet: Partial<Sheet>, key: string): unknown {
  const [field, channelId] = key.split('/');
  if (field !== 'variants') return (sheet as Record<string, unknown>)[key];
  return sheet.variants?.find((variant) => variant.channelId === channelId) ?? { channelId, title: null, description: null, choices: {} };
}

/** Whether two values are the same as JSON, in whatever order their fields stand. */
function sameValue(a: unknown, b: unknown): boolean {
  return JSON.stringify(inOrder(a)) === JSON.stringify(inOrder(b));
}

function inOrder(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(inOrder);
  if (typeof value !== 'object' || value === null) return value ?? null;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([, each]) => each !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([name, each]) => [name, inOrder(each)]),
  );
}
