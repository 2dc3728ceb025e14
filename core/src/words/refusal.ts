// How a part of the job says no: a code and facts in, a sentence out. The codes go with the reply, so that what is said can be said in
// another language, and whoever asks by program need not read sentences.

/** A refusal by its code. `status`: as in HTTP (RFC 9110 section 15.5); `say`: the thing, the reason, the way out. */
export interface Refusal<Facts> {
  status: number;
  say: (facts: Facts) => string;
}

/** A refusal that needs no facts. */
export const no = (status: number, words: string): Refusal<void> => ({ status, say: () => words });

/** The facts that a refusal is said with. */
export type FactsOf<Which> = Which extends Refusal<infer Facts> ? Facts : never;
