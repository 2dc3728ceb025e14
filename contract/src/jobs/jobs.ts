/** Something that the server does by itself, and that did not succeed at the first try. */
export interface JobView {
  id: string;
  /** What is to be done, in words. */
  words: string;
  /** Why it was not done the last time. */
  trouble: string;
  tries: number;
  /** Ms since the epoch; null: it was given up, and waits for somebody. */
  nextTryAt: number | null;
}
