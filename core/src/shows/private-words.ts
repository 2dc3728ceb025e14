// What must not stand in a text that the public reads: ways in, personal links, addresses of one's own machines.

/** Something private in a text. `what`: an ingest address, a link that is one person's own, or an address that only this network knows. */
export interface PrivateWords {
  what: 'ingest address' | 'personal link' | 'inner address';
  text: string;
}

const INGEST = /\brtmps?:\/\/\S+/gi;
const WEB = /\bhttps?:\/\/[^\s<>"']+/gi;
/** Hosts that nobody outside can reach (RFC 1918, RFC 6761, RFC 4193, RFC 6762). */
const INNER =
  /^(localhost|.*\.localhost|.*\.local|.*\.internal|127\.\d+\.\d+\.\d+|10\.\d+\.\d+\.\d+|192\.168\.\d+\.\d+|172\.(1[6-9]|2\d|3[01])\.\d+\.\d+|\[(::1|f[cd][0-9a-f]{2}:.*)\])$/i;
/** Paths of ours that are for people of the station, and parts of an address that are somebody's own. */
const OWN = /\/shows\/[0-9a-f-]{36}|\/reminders\/(confirm|leave)\/|\/calendar\/|\/door#|[?&](pass|key|token|invite|secret)=/i;

/** Everything private in `text`. `publicUrl` is the station's own address, which may well be an inner one while one tries things out. */
export function privateWords(text: string, publicUrl: string | null): PrivateWords[] {
  const found: PrivateWords[] = [...text.matchAll(INGEST)].map(([address]) => ({ what: 'ingest address', text: address }));
  for (const [link] of text.matchAll(WEB)) {
    if (OWN.test(link)) found.push({ what: 'personal link', text: link });
    else if (INNER.test(hostOf(link)) && !(publicUrl !== null && link.startsWith(`${publicUrl}/`))) found.push({ what: 'inner address', text: link });
  }
  return found;
}

function hostOf(link: string): string {
  return /^https?:\/\/(?:[^@/]*@)?(\[[^\]]*\]|[^/:?#]*)/i.exec(link)?.[1] ?? '';
}

/** The text without what is private in it. */
export function withoutPrivate(text: string, found: readonly PrivateWords[]): string {
  return found
    .reduce((left, { text: words }) => left.replaceAll(words, ''), text)
    .replace(/[^\S\n]{2,}/g, ' ')
    .replace(/[^\S\n]+$/gm, '')
    .trim();
}
