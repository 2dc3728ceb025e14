// What strangers wrote, as it may stand in a picture that everybody sees: their words, and no way to anywhere.

/** More is not read from a picture while somebody speaks. */
export const LONGEST_ON_PICTURE = 160;

/** What comes after it could not be shown anyway, and patterns take their time with very long words. */
const LOOKED_AT = 2_000;

const ADDRESS = /\b[a-z][a-z0-9+.-]*:\/\/\S*|\bwww\.\S+|\b[\w.+-]+@[\w-]+(\.[\w-]+)+|\b([a-z0-9-]+\.)+[a-z]{2,}\b(\/\S*)?/gi;
/** A full stop that somebody forgot to leave a space after is no address: “late.Then”. */
const IS_SENTENCE = /^[a-z]+\.[A-Z][a-z]+$/;
/** As keys and passes look: long, without spaces, letters and figures together. */
const SECRET = /\b(?=[\w-]*\d)(?=[\w-]*[a-z])[\w-]{18,}\b/gi;
/** What changes the direction or the look of what stands around it, or cannot be seen (Unicode Standard, chapter 23). */
const UNSEEN = /[\u0000-\u001f\u007f-\u009f\u00ad\u061c\u180e\u200b-\u200f\u2028-\u202e\u2060-\u206f\ufe00-\ufe0f\ufeff]/g;
/** More marks upon one letter than any language has: they would grow over what stands above. */
const PILED_UP = /(\p{M}{3})\p{M}+/gu;

/** Whether there is an address in it that leads somewhere. */
export const hasAddress = (words: string): boolean => [...words.slice(0, LOOKED_AT).matchAll(ADDRESS)].some(([found]) => !IS_SENTENCE.test(found));

/** The words without addresses, keys and what cannot be seen, and not longer than can be read; empty: nothing is left. */
export function fitForPicture(words: string): string {
  const plain = words
    .slice(0, LOOKED_AT)
    .normalize('NFC')
    .replace(/\s+/g, ' ')
    .replace(UNSEEN, '')
    .replace(PILED_UP, '$1')
    .replace(ADDRESS, (found) => (IS_SENTENCE.test(found) ? found : ''))
    .replace(SECRET, '')
    .replace(/\s+/g, ' ')
    .replace(/ ([,.;:!?])/g, '$1')
    .trim();
  if (!/[\p{L}\p{N}]/u.test(plain)) return '';
  const letters = [...plain];
  if (letters.length <= LONGEST_ON_PICTURE) return plain;
  const cut = letters.slice(0, LONGEST_ON_PICTURE - 1).join('');
  const atWord = cut.lastIndexOf(' ');
  return `${(atWord > LONGEST_ON_PICTURE / 2 ? cut.slice(0, atWord) : cut).replace(/[\s,.;:–-]+$/, '')}…`;
}
