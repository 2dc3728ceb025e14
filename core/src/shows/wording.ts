// What of a show's words goes to a channel, and how a network counts them.
import type { RuleSheet } from '../channels/rules';
import { fillPlaceholders, type Filling } from './placeholders';

const LINKS = /https?:\/\/\S+/g;

/** Two code units that make one character (Unicode 16, section 3.8). */
const PAIRS = /[\uD800-\uDBFF][\uDC00-\uDFFF]/g;
const codePoints = (text: string): number => text.length - (text.match(PAIRS)?.length ?? 0);

/** Length as the networks count it: Unicode code points, each web address counting `linkCounts` where that is given. */
export function countCharacters(text: string, linkCounts: number | null = null): number {
  if (linkCounts === null) return codePoints(text);
  const links = text.match(LINKS)?.length ?? 0;
  return codePoints(text.replace(LINKS, '')) + links * linkCounts;
}

/** What looks like one character (Unicode Standard Annex 29, section 3): a family, a flag, a letter with its marks. */
const CLUSTERS = new Intl.Segmenter('en', { granularity: 'grapheme' });

/** An address, or a placeholder that becomes one, with which a text ends. */
const LINK_AT_END = /\s+(?:https?:\/\/\S+|\{\s*(?:watch link|house page)\s*\})\s*$/i;

/**
 * Cuts `text` to `max` characters as counted by `countCharacters`, with an ellipsis, at a word's end
 * where one lies in the last third. What looks like one character is never cut, nor is a web address: it stays whole or
 * goes. One at the very end stays where there is room, since it is what the text was written for.
 */
export function shorten(text: string, max: number, linkCounts: number | null = null): string {
  if (countCharacters(text, linkCounts) <= max) return text;
  const end = LINK_AT_END.exec(text);
  if (end) {
    const tail = end[0].trimEnd();
    const room = max - countCharacters(tail, linkCounts);
    // The words before it are worth more than the address where hardly any would be left.
    if (room >= max / 3) return `${shortenPlain(text.slice(0, end.index), room, linkCounts)}${tail}`;
  }
  return shortenPlain(text, max, linkCounts);
}

function shortenPlain(text: string, max: number, linkCounts: number | null): string {
  const characters = [...text];
  const most = linkCounts === null ? Math.max(0, max - 1) : longestHead(text, max - 1, linkCounts);
  const cut = characters.slice(0, most).join('').length;
  const head = text.slice(0, CLUSTERS.segment(text).containing(cut)?.index ?? cut);
  // A cut that falls between two words needs no going back.
  const next = text[head.length];
  const lastGap = next !== undefined && /\s/.test(next) ? head.length : Math.max(head.lastIndexOf(' '), head.lastIndexOf('\n'));
  return `${(lastGap > (head.length * 2) / 3 ? head.slice(0, lastGap) : head).trimEnd()}…`;
}

/** How many characters from the start count `max` at most, without cutting into a web address. In one pass: this runs at each key press. */
function longestHead(text: string, max: number, linkCounts: number): number {
  let counted = 0;
  let length = 0;
  let at = 0;
  const takePlain = (to: number): boolean => {
    const plain = codePoints(text.slice(at, to));
    const taken = Math.max(0, Math.min(plain, max - counted));
    counted += taken;
    length += taken;
    return taken === plain;
  };
  for (const link of text.matchAll(LINKS)) {
    if (!takePlain(link.index) || counted + linkCounts > max) return length;
    counted += linkCounts;
    length += codePoints(link[0]);
    at = link.index + link[0].length;
  }
  takePlain(text.length);
  return length;
}

/** Title and text as they are sent; `shortened` when not all of the text has room. */
export interface Wording {
  title: string;
  text: string;
  shortened: boolean;
}

/** The words of a show, or of its variant for one channel. Without a `filling` brackets are plain text. */
export interface Words {
  title: string;
  description: string;
  filling?: Filling | null;
}

export function filled(text: string, filling: Filling | null | undefined): string {
  return (filling ? fillPlaceholders(text, filling).text : text).trim();
}

/** The words for one channel. Where there is no title, it leads the text, which is shortened to fit. */
export function wordingFor(show: Words, rules: Pick<RuleSheet, 'takesTitle' | 'textMax' | 'linkCounts'>): Wording {
  const title = filled(show.title, show.filling);
  const text = filled(show.description, show.filling);
  if (rules.takesTitle) return { title, text, shortened: false };
  const whole = text ? `${title}\n\n${text}` : title;
  const sent = rules.textMax === null ? whole : shorten(whole, rules.textMax, rules.linkCounts);
  return { title: '', text: sent, shortened: sent !== whole };
}

/** Cuts a text that still has its placeholders so that it fits once they are filled. None is cut in two. */
export function shortenToFit(text: string, max: number, linkCounts: number | null, filling: Filling | null | undefined): string {
  let room = max;
  for (;;) {
    const cut = shorten(text, room, linkCounts);
    const open = cut.lastIndexOf('{');
    const whole = filling && open > cut.lastIndexOf('}') ? `${cut.slice(0, open).trimEnd()}…` : cut;
    const over = countCharacters(filled(whole, filling), linkCounts) - max;
    if (over <= 0 || room <= 1) return over <= 0 ? whole : '';
    room = Math.max(1, Math.min(room, countCharacters(whole, linkCounts)) - over);
  }
}
