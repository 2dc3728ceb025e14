// The rhythm of speech, without any.

/** After so many seconds it begins anew. */
export const MURMUR_S = 10;
const SENTENCES: readonly (readonly [number, number])[] = [
  [0.3, 2.9],
  [3.5, 5.2],
  [5.7, 6.1],
  [6.9, 9.4],
];
const SYLLABLES_A_SECOND = 4.3;

/** How loud it is `seconds` after its beginning, 0 to 1: syllables within sentences, silence between them. */
export function murmurAt(seconds: number): number {
  const within = seconds % MURMUR_S;
  const sentence = SENTENCES.find(([from, to]) => within >= from && within < to);
  if (!sentence) return 0;
  const syllable = Math.sin(Math.PI * SYLLABLES_A_SECOND * within) ** 2;
  const stress = 0.6 + 0.4 * Math.sin(within * 1.7) ** 2;
  // Into a sentence and out of it without a click.
  const edge = Math.min(1, (within - sentence[0]) / 0.05, (sentence[1] - within) / 0.05);
  return syllable * stress * edge;
}
