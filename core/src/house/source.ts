// What led a visitor to the page of a show: as little as tells its host which of the links are of use, and nothing of the visitor.

/** What the page knows as it is opened. `named`: what its address says after `from=`; `referrer`: the host of the page that led to it; '' for none. */
export interface Opening {
  named: string;
  referrer: string;
  /** The page's own host. */
  host: string;
  embedded: boolean;
  invited: boolean;
}

/** A name that somebody gave a link: `?from=poster`. */
export const SOURCE_NAME = /^[\p{L}\p{N}][\p{L}\p{N} ._-]{0,39}$/u;
const LONGEST = 60;

/** '' where nobody knows: the address was typed, or the browser does not say. */
export function sourceOf({ named, referrer, host, embedded, invited }: Opening): string {
  if (SOURCE_NAME.test(named.trim())) return named.trim();
  if (invited) return 'invitation';
  if (embedded) return referrer && referrer !== host ? `within ${referrer}`.slice(0, LONGEST) : 'within another page';
  if (referrer === host) return 'the station’s own pages';
  return referrer.slice(0, LONGEST);
}
