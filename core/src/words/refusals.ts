// All refusals that have a code, by it.
import { AIR_REFUSALS } from './air';
import { PLACING_REFUSALS } from './placing';
import type { FactsOf } from './refusal';

export const REFUSALS = { ...AIR_REFUSALS, ...PLACING_REFUSALS };
export type RefusalCode = keyof typeof REFUSALS;
export type RefusalFacts<Code extends RefusalCode> = FactsOf<(typeof REFUSALS)[Code]>;

/** A refusal as a sentence. */
export function sayRefusal<Code extends RefusalCode>(code: Code, facts: RefusalFacts<Code>): string {
  return (REFUSALS[code].say as (facts: RefusalFacts<Code>) => string)(facts);
}
