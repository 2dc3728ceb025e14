// The sheet's values, as they are typed, and what of them differs from what is kept.
import type { DraftField, ShowDraft, ShowView, VariantDraft } from '@lantern/contract';
import { sheetOf } from '@lantern/core';

export function draftOf(show: ShowView): ShowDraft {
  return sheetOf(
    show,
    show.airings.map(({ channel, lineId, title, description, choices }) => ({ channelId: channel.id, lineId, title, description, choices })),
  );
}

export const blankVariant = (channelId: string): VariantDraft => ({ channelId, title: null, description: null, choices: {} });
export const variantOf = (draft: Pick<ShowDraft, 'variants'>, channelId: string): VariantDraft =>
  draft.variants?.find((variant) => variant.channelId === channelId) ?? blankVariant(channelId);

/** As the server compares: what JSON keeps of it. */
export const same = (a: unknown, b: unknown): boolean => JSON.stringify(ordered(a) ?? null) === JSON.stringify(ordered(b) ?? null);

function ordered(value: unknown): unknown {
  // What stands around a text is not kept, so it is no difference either.
  if (typeof value === 'string') return value.trim();
  if (Array.isArray(value)) return value.map(ordered);
  if (typeof value !== 'object' || value === null) return value;
  const entries = Object.entries(value).filter(([, each]) => each !== undefined);
  return Object.fromEntries(entries.sort(([a], [b]) => (a < b ? -1 : 1)).map(([name, each]) => [name, ordered(each)]));
}

const byChannel = (variants: readonly VariantDraft[]) => [...variants].sort((a, b) => (a.channelId < b.channelId ? -1 : 1));
const FIELDS = new Set<DraftField>();

/** The fields in which `now` differs from `before`; of the variants only those that do. Fields named in `wrong` are left out. */
export function changesBetween(before: ShowDraft, now: ShowDraft, wrong: ReadonlySet<string> = FIELDS): Partial<ShowDraft> {
  const changes: Partial<Record<DraftField, unknown>> = {};
  for (const field of Object.keys(before) as DraftField[]) {
    if (wrong.has(field)) continue;
    if (field === 'variants') {
      const ids = [...new Set([...before.variants, ...now.variants].map(({ channelId }) => channelId))].filter((id) => now.channelIds.includes(id));
      const differing = ids.filter((id) => !same(variantOf(before, id), variantOf(now, id))).map((id) => variantOf(now, id));
      if (differing.length) changes.variants = byChannel(differing);
    } else if (field === 'channelIds' ? !same([...before.channelIds].sort(), [...now.channelIds].sort()) : !same(before[field], now[field])) {
      changes[field] = now[field];
    }
  }
  // A time is only whole with its date and zone.
  if (wrong.has('time') || wrong.has('date') || wrong.has('zone')) for (const field of ['date', 'time', 'zone', 'fold'] as const) delete changes[field];
  return changes as Partial<ShowDraft>;
}

/** `draft` with changes put over it; variants each for itself. */
export function withChanges(draft: ShowDraft, changes: Partial<ShowDraft>): ShowDraft {
  const { variants, ...fields } = changes;
  const others = draft.variants.filter(({ channelId }) => !variants?.some((variant) => variant.channelId === channelId));
  return { ...draft, ...fields, variants: variants ? [...others, ...variants] : draft.variants };
}

/** The values that `draft` has in the fields of `changes`; of the variants those of the same channels. */
export function valuesLike(changes: Partial<ShowDraft>, draft: ShowDraft): Partial<ShowDraft> {
  const fields = Object.keys(changes).filter((field) => field in draft) as DraftField[];
  return Object.fromEntries(
    fields.map((field) => [field, field === 'variants' ? changes.variants!.map(({ channelId }) => variantOf(draft, channelId)) : draft[field]]),
  );
}
