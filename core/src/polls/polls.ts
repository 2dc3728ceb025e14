// Polls: what is asked, how answers in messages are read, and how votes are counted and said.

export const FEWEST_OPTIONS = 2;
export const MOST_OPTIONS = 5;
export const LONGEST_POLL_QUESTION = 90;
export const LONGEST_OPTION = 40;

/** `prepared`: nobody has been asked yet. */
export type PollState = 'prepared' | 'open' | 'closed';

/** The letter by which an option is answered in a message: A, B, C… */
export const letterOf = (option: number): string => String.fromCharCode(65 + option);

/** Longer messages say more than an answer, and are none. */
export const LONGEST_VOTE = 60;

/** An answer by its letter, with whatever people put around it: “b”, “B!”, “(c)”, “A.” */
const BY_LETTER = /^[^\p{L}\p{N}]*([a-z])[^\p{L}\p{N}]*$/iu;

const plain = (words: string): string =>
  words
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

/** Which option a message answers with: by its letter, or by the option's own words and nothing else; null: it is no answer. */
export function voteIn(words: string, options: readonly string[]): number | null {
  if (words.length > LONGEST_VOTE) return null;
  const letter = BY_LETTER.exec(words.normalize('NFKC'))?.[1]?.toUpperCase();
  const byLetter = letter === undefined ? -1 : letter.charCodeAt(0) - 65;
  if (byLetter >= 0 && byLetter < options.length) return byLetter;
  const said = plain(words);
  const byWords = said ? options.findIndex((option) => plain(option) === said) : -1;
  return byWords < 0 ? null : byWords;
}

/** Whole per cent of each count that add up to 100, by the largest remainder; of no votes at all, nothing each. */
export function shares(counts: readonly number[]): number[] {
  const all = counts.reduce((sum, count) => sum + count, 0);
  if (!all) return counts.map(() => 0);
  const exact = counts.map((count) => (count * 100) / all);
  const whole = exact.map(Math.floor);
  const left = 100 - whole.reduce((sum, share) => sum + share, 0);
  const byRemainder = exact.map((share, at) => ({ at, rest: share - Math.floor(share) })).sort((a, b) => b.rest - a.rest || a.at - b.at);
  for (const { at } of byRemainder.slice(0, left)) whole[at]! += 1;
  return whole;
}

export const sayVotes = (votes: number): string => (votes === 1 ? '1 vote' : `${votes} votes`);

/** As it is written to all channels: what is asked, and how one answers. */
export const sayPoll = (question: string, options: readonly string[]): string =>
  `${question} ${options.map((option, at) => `${letterOf(at)}: ${option}`).join(' · ')}. Answer with the letter.`;

/** What a poll on the picture is drawn from: a line for each option, its votes before it, and how it stands in the last one. */
export const asPictureLines = (options: readonly string[], counts: readonly number[], state: PollState): string =>
  [
    ...options.map((option, at) => `${counts[at] ?? 0}\t${letterOf(at)}  ${option}`),
    `${state === 'closed' ? 'closed, ' : ''}${sayVotes(counts.reduce((sum, count) => sum + count, 0))}`,
  ].join('\n');
