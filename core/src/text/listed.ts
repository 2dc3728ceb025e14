/** "a", "a and b", "a, b and c": words as a sentence lists them. */
export const listed = (words: readonly string[], joint: 'and' | 'or' = 'and'): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} ${joint} ${words[words.length - 1]}`;
