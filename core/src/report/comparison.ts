// How a show stands among earlier ones.

export interface Standing {
  /** Than how many of the earlier ones it has more. */
  more: number;
  /** How many there are of which this is known. */
  of: number;
}

/** `earlier`: null where it is not known. */
export function standingAmong(own: number, earlier: readonly (number | null)[]): Standing {
  const known = earlier.filter((each) => each !== null);
  return { more: known.filter((each) => own > each).length, of: known.length };
}

/** As “more than 8 of the last 10”; null: there is nothing to compare with. */
export function sayStanding({ more, of }: Standing): string | null {
  if (of === 0) return null;
  if (of === 1) return more ? 'more than the last time' : 'not more than the last time';
  if (more === of) return `more than each of the last ${of}`;
  return more === 0 ? `more than none of the last ${of}` : `more than ${more} of the last ${of}`;
}
