// What is hidden as it comes, until somebody has looked at it: by words that a station will not have, and by links.
import { hasAddress } from '../questions/on-picture';

export interface HoldingRules {
  /** Words or short phrases, as they were typed. */
  words: readonly string[];
  /** Whether whatever holds an address is held back. */
  links: boolean;
}

export const NO_RULES: HoldingRules = { words: [], links: false };

/** What comes after it nobody reads, and it takes its time. */
const LOOKED_AT = 2_000;

/** Letters and figures alone, small, without their marks; what was between them is one space. Letters that are said over and over count twice at the most. */
const plain = (text: string): string =>
  text
    .slice(0, LOOKED_AT)
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .replace(/(.)\1{2,}/gu, '$1$1')
    .trim();

/** Why a message is held back; null: it is not. Words count whole: “ass” does not hold back “assembly”. */
export function heldBecause(words: string, rules: HoldingRules): 'word' | 'link' | null {
  const said = ` ${plain(words)} `;
  const isSaid = (word: string) => {
    const looked = plain(word);
    return looked !== '' && said.includes(` ${looked} `);
  };
  if (rules.words.some(isSaid)) return 'word';
  return rules.links && hasAddress(words) ? 'link' : null;
}
