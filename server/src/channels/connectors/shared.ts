// What all connectors do alike.
import { instant, type RuleNotice } from '@lantern/core';
import { NetworkRefusal, type RefusalReader, type RequestOptions } from './connector';
import { textIn } from './network-http';

/** Reads refusals whose reason and words stand under these names. */
export const refusalBy =
  (reasonName: string, textName: string): RefusalReader =>
  (body) => {
    const [reason, text] = [textIn(body, reasonName), textIn(body, textName)];
    return reason !== null && text !== null ? { reason, text } : null;
  };

/** A network's names for the limits that it may announce to change, each with what one of its units comes to in ours. */
export type AnnouncedLimits<Name extends string> = Readonly<Record<Name, { limit: RuleNotice['limit']; unit: number }>>;

/** What a network announced, in our terms; nothing where it is about a limit that is not known here. `from` in ms. */
export function noticeOf<Name extends string>(
  limits: AnnouncedLimits<Name>,
  { id, name, value, from }: { id: string; name: Name; value: number; from: number },
): RuleNotice[] {
  const known = Object.hasOwn(limits, name) ? limits[name] : null;
  return known ? [{ id, limit: known.limit, value: value * known.unit, from: instant(from) }] : [];
}

/** Makes something that is never made twice, however often it is asked for with the same `once`. */
export const madeOnce = (once: string) => ({ method: 'POST', headers: { 'idempotency-key': once }, repeatable: true }) as const;

/** Sets or ends something: asking twice does no more than asking once. */
export const set = (method: NonNullable<RequestOptions['method']>, body?: RequestOptions['body']) =>
  ({ method, repeatable: true, ...(body !== undefined && { body }) }) as const;

/** While a show is on air, an answer that comes late is of no use: the next look is due. */
export const ON_AIR = { timeoutMs: 3_000, tries: 1 } as const;

/** What a network has counted; null where it says that it has not yet (409, RFC 9110 section 15.5.10). */
export async function onceCounted<T>(ask: () => Promise<T>): Promise<T | null> {
  try {
    return await ask();
  } catch (error) {
    if (error instanceof NetworkRefusal && error.status === 409) return null;
    throw error;
  }
}
