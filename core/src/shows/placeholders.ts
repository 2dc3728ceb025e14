// Words in curly brackets that the product fills in: a text is written once and is right for every date,
// zone and channel.
import type { City } from '../series/occurrences';
import type { Instant } from '../time/instant';
import { isZone, sayWhen } from '../time/zones';

/** What texts are filled from, for one airing. `watchUrl` null: the channel has not given its address yet. */
export interface Filling {
  /** Null while the sheet's date, time or zone cannot be read. */
  startsAt: Instant | null;
  zone: string;
  cities: readonly City[];
  watchUrl: string | null;
  houseUrl: string;
  episode: number | null;
  guests: readonly string[];
}

/** A placeholder that cannot be filled: nobody knows it, or there is nothing to fill it with. */
export interface PlaceholderTrouble {
  name: string;
  why: 'unknown' | 'empty';
}

/** What a host may write, with what it stands for. */
export const PLACEHOLDERS = [
  { name: 'start', words: 'day and time in the show’s zone' },
  { name: 'start in …', words: 'the same for a city of yours or a zone' },
  { name: 'watch link', words: 'address on this channel' },
  { name: 'house page', words: 'address of the show’s own page' },
  { name: 'episode', words: 'number of the episode' },
  { name: 'guests', words: 'names of the guests' },
] as const;

/** Long enough for any placeholder; what is longer is somebody's own brackets. */
const WRITTEN = /\{([^{}\n]{1,60})\}/g;
/** The same, where doubled brackets stand for brackets that are meant as they are. */
const WRITTEN_OR_PLAIN = /\{\{([^{}\n]{1,60})\}\}|\{([^{}\n]{1,60})\}/g;

/** A text in which nothing is a placeholder, whatever brackets it has: filled in, it is the same text again. */
export const asPlainText = (text: string): string => text.replace(WRITTEN, '{{$1}}');

/** The text as it goes out. What cannot be filled stays as it is written. */
export function fillPlaceholders(text: string, filling: Filling): { text: string; troubles: PlaceholderTrouble[] } {
  const troubles: PlaceholderTrouble[] = [];
  if (!text.includes('{')) return { text, troubles };
  const filled = text.replace(WRITTEN_OR_PLAIN, (whole, plain: string | undefined, written: string) => {
    if (plain !== undefined) return `{${plain}}`;
    const name = written.trim().replace(/\s+/g, ' ');
    const value = valueOf(name.toLowerCase(), filling);
    if (value === undefined || value === null || value === '') {
      if (!troubles.some((known) => known.name === name)) troubles.push({ name, why: value === undefined ? 'unknown' : 'empty' });
      return whole;
    }
    return value;
  });
  return { text: filled, troubles };
}

/** Undefined: there is no such placeholder. Null or empty: there is nothing to say. */
function valueOf(name: string, filling: Filling): string | null | undefined {
  const { startsAt, zone, cities, watchUrl, houseUrl, episode, guests } = filling;
  if (name.startsWith('start in ')) {
    const place = name.slice('start in '.length);
    const city = cities.find((each) => each.name.toLowerCase() === place);
    const there = city?.zone ?? (isZone(place.replaceAll(' ', '_')) ? place.replaceAll(' ', '_') : null);
    if (there === null) return undefined;
    return startsAt === null ? null : sayWhen(startsAt, there);
  }
  switch (name) {
    case 'start':
      return startsAt === null ? null : sayWhen(startsAt, zone);
    case 'watch link':
      return watchUrl ?? houseUrl;
    case 'house page':
      return houseUrl;
    case 'episode':
      return episode === null ? null : String(episode);
    case 'guests':
      return guests.length < 2 ? (guests[0] ?? null) : `${guests.slice(0, -1).join(', ')} and ${guests[guests.length - 1]}`;
    default:
      return undefined;
  }
}

/** The text without a placeholder, and without the gap that it leaves. */
export function withoutPlaceholder(text: string, name: string): string {
  return text
    .replace(WRITTEN_OR_PLAIN, (whole, plain: string | undefined, written: string) =>
      plain === undefined && written.trim().replace(/\s+/g, ' ') === name ? '' : whole,
    )
    .replace(/[^\S\n]{2,}/g, ' ')
    .replace(/[^\S\n]+$/gm, '')
    .trim();
}
