// What all answers have in common.

/** The header with the server's clock, in ms since the epoch. */
export const NOW_HEADER = 'lantern-now';

/** Every error that an endpoint answers with has this shape. */
export interface ErrorReply {
  /** One or two short sentences: the thing, the reason, the way out. */
  words: string;
  /** Where the input is at fault: the field's name and what is wrong with it. */
  fields?: Record<string, string>;
  /** What the person has to do before asking again. */
  needs?: 'password' | 'code';
  /** Which refusal it is, and what it was said with: for whoever asks by program. Not all have a code yet. */
  code?: string;
  facts?: unknown;
}
