// Wall time in IANA zones. The zone data is the one that the JavaScript engine ships (ECMA-402).
import { DAY_MS, HOUR_MS, Instant, instant } from './instant';

/** A reading of a wall clock, without a zone: `date` is YYYY-MM-DD, `time` is HH:MM (24 h). */
export interface WallTime {
  date: string;
  time: string;
}

/**
 * What a wall time in a zone stands for. A clock that is put forward skips wall times (`skipped`:
 * `instant` is the first moment after the gap); one that is put back shows some twice (`twice`:
 * both instants, the earlier first).
 */
export type WallReading =
  { kind: 'once'; instant: Instant } | { kind: 'skipped'; instant: Instant } | { kind: 'twice'; instant: Instant; later: Instant } | { kind: 'unreadable' };

/** By the zone's name in small letters, as the engine takes it in any: there are some hundreds of zones, however many ways of writing them. */
const formatters = new Map<string, Intl.DateTimeFormat>();

function partsFormatter(zone: string): Intl.DateTimeFormat {
  const key = zone.toLowerCase();
  let formatter = formatters.get(key);
  if (!formatter) {
    formatter = new Intl.DateTimeFormat('en-GB', {
      timeZone: zone,
      calendar: 'gregory',
      numberingSystem: 'latn',
      hourCycle: 'h23',
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
      second: '2-digit',
    });
    formatters.set(key, formatter);
  }
  return formatter;
}

/** Whether the engine knows `zone` as an IANA zone name such as `Europe/Dublin`. Offsets such as `+01:00` are not zones. */
export function isZone(zone: string): boolean {
  if (!/^[A-Za-z]/.test(zone)) return false;
  try {
    partsFormatter(zone);
    return true;
  } catch {
    return false;
  }
}

/** Names in the letters in which the tz database writes them, of which engines list some by older names. */
const WRITTEN_WELL = /^[A-Z][a-z]+(?:\/[A-Z][a-z]+(?:[_-](?:of|es|au|[A-Z][a-z]+))*){1,2}$/;
const ALSO_ZONES = new Set(['UTC', 'Etc/UTC', 'Etc/GMT', 'GMT']);
let listed: ReadonlySet<string> | null = null;

/** Whether `zone` is the name of a zone, written as it is written: what is kept, and compared, goes by one name. */
export function isZoneName(zone: string): boolean {
  listed ??= new Set(Intl.supportedValuesOf('timeZone'));
  return listed.has(zone) || ALSO_ZONES.has(zone) || (WRITTEN_WELL.test(zone) && isZone(zone));
}

/** The wall clock in `zone` at `at`, read as if it were UTC, in milliseconds, asked of the engine. Throws RangeError for an unknown zone. */
function askWallAsUtcMs(at: number, zone: string): number {
  // Day, month, year, hour, minute, second, as the formatter was told: taking a string apart costs half of asking for parts.
  const [day, month, year, hour, minute, second] = partsFormatter(zone).format(at).match(/\d+/g)!.map(Number) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  return Date.UTC(year, month - 1, day, hour, minute, second) + (((at % 1000) + 1000) % 1000);
}

/**
 * Offsets are kept by stretches of four days: where both ends of a stretch agree, so does all of it, since
 * no zone changes its clocks and changes them back within four days. Asking the engine costs microseconds,
 * and a year of shows asks a hundred thousand times.
 */
const STRETCH_MS = 4 * DAY_MS;
const edges = new Map<string, Map<number, number>>();

/** Ways of writing a zone share what is known of it; there are no more of them than are asked for by name. */
function edgesOf(zone: string): Map<number, number> {
  if (edges.size > MOST_SPELLINGS) edges.clear();
  return edges.get(zone.toLowerCase()) ?? new Map<number, number>();
}
const MOST_SPELLINGS = 2_000;

/** The offset at the beginning of a stretch. */
function offsetAtEdge(ofZone: Map<number, number>, stretch: number, zone: string): number {
  let offset = ofZone.get(stretch);
  if (offset === undefined) {
    offset = askWallAsUtcMs(stretch * STRETCH_MS, zone) - stretch * STRETCH_MS;
    ofZone.set(stretch, offset);
  }
  return offset;
}

/** What clocks in `zone` are ahead of UTC at `at`, in ms. Throws RangeError for an unknown zone. */
export function offsetMsAt(at: number, zone: string): number {
  let ofZone = edges.get(zone);
  if (!ofZone) edges.set(zone, (ofZone = edgesOf(zone)));
  const stretch = Math.floor(at / STRETCH_MS);
  const offset = offsetAtEdge(ofZone, stretch, zone);
  return offset === offsetAtEdge(ofZone, stretch + 1, zone) ? offset : askWallAsUtcMs(at, zone) - at;
}

const wallAsUtcMs = (at: number, zone: string): number => at + offsetMsAt(at, zone);

/** A change of a zone's clocks: at `at` they go from `beforeMs` ahead of UTC to `afterMs`. */
export interface ClockChange {
  at: Instant;
  beforeMs: number;
  afterMs: number;
}

/** The changes of clocks in `zone` within [from, to), in order. Throws RangeError for an unknown zone. */
export function clockChanges(zone: string, from: Instant, to: Instant): ClockChange[] {
  const changes: ClockChange[] = [];
  for (let at: number = from; at < to; at += STRETCH_MS) {
    let [low, high] = [at, Math.min(at + STRETCH_MS, to)];
    const [beforeMs, afterMs] = [offsetMsAt(low, zone), offsetMsAt(high, zone)];
    if (beforeMs === afterMs) continue;
    while (high - low > 1) {
      const middle = Math.floor((low + high) / 2);
      if (offsetMsAt(middle, zone) === beforeMs) low = middle;
      else high = middle;
    }
    if (high < to) changes.push({ at: instant(high), beforeMs, afterMs });
  }
  return changes;
}

const pad = (n: number) => String(n).padStart(2, '0');

/** The wall time in `zone` at `at`, seconds dropped. */
export function wallTimeOf(at: Instant, zone: string): WallTime {
  const wall = new Date(wallAsUtcMs(at, zone));
  return {
    date: `${String(wall.getUTCFullYear()).padStart(4, '0')}-${pad(wall.getUTCMonth() + 1)}-${pad(wall.getUTCDate())}`,
    time: `${pad(wall.getUTCHours())}:${pad(wall.getUTCMinutes())}`,
  };
}

/** Reads a wall time in a zone. Never guesses: a skipped or doubled time is reported as such. */
export function readWallTime(wall: WallTime, zone: string): WallReading {
  const date = /^(\d{4})-(\d{2})-(\d{2})$/.exec(wall.date);
  const time = /^(\d{2}):(\d{2})$/.exec(wall.time);
  if (!date || !time || !isZone(zone)) return { kind: 'unreadable' };
  const asUtc = Date.UTC(+date[1]!, +date[2]! - 1, +date[3]!, +time[1]!, +time[2]!);
  const check = new Date(asUtc);
  if (check.getUTCMonth() !== +date[2]! - 1 || check.getUTCDate() !== +date[3]! || +time[1]! > 23 || +time[2]! > 59) {
    return { kind: 'unreadable' };
  }
  // The offsets in force a day either side cover every clock change near this wall time.
  const before = offsetMsAt(asUtc - DAY_MS, zone);
  const after = offsetMsAt(asUtc + DAY_MS, zone);
  const between = offsetMsAt(asUtc, zone);
  if (before === after && before === between) return { kind: 'once', instant: instant(asUtc - before) };
  const offsets = new Set([before, between, after]);
  const hits = [...offsets]
    .map((offset) => asUtc - offset)
    .filter((at) => wallAsUtcMs(at, zone) === asUtc)
    .sort((a, b) => a - b);
  if (hits.length > 1) return { kind: 'twice', instant: instant(hits[0]!), later: instant(hits[1]!) };
  if (hits.length === 1) return { kind: 'once', instant: instant(hits[0]!) };
  return { kind: 'skipped', instant: firstInstantAfterGap(asUtc, zone) };
}

function firstInstantAfterGap(asUtc: number, zone: string): Instant {
  let low = asUtc - DAY_MS;
  let high = asUtc + DAY_MS;
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2);
    if (wallAsUtcMs(middle, zone) > asUtc) high = middle;
    else low = middle;
  }
  return instant(high);
}

const DAY = { weekday: 'long', day: 'numeric', month: 'long' } as const;
const TIME = { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' } as const;
const FORMS = { date: { ...DAY, year: 'numeric' }, day: DAY, time: TIME } as const;
const sayers = new Map<string, Intl.DateTimeFormat>();

/** Making one takes some 30 times as long as using it. There are no more of them than zones, times the forms. */
function formatterFor(form: keyof typeof FORMS, zone: string): Intl.DateTimeFormat {
  const key = `${form} ${zone.toLowerCase()}`;
  let sayer = sayers.get(key);
  if (!sayer) sayers.set(key, (sayer = new Intl.DateTimeFormat('en-GB', { timeZone: zone, ...FORMS[form] })));
  return sayer;
}

/** "Thursday 3 December 2026, 20:30" in `zone`, with the zone's short name at that moment when `withZone`. */
export function sayWhen(at: Instant, zone: string, withZone = true): string {
  return `${formatterFor('date', zone).format(at)}, ${sayTime(at, zone, withZone)}`;
}

/** "Thursday 3 December" in `zone`: for where there is no room, and the year goes without saying. */
export function sayDay(at: Instant, zone: string): string {
  return formatterFor('day', zone).format(at);
}

/** "Thursday 3 December, 20:30" in `zone`; with its year where that is not the one of `now`. */
export function sayNear(at: Instant, zone: string, now: Instant): string {
  const year = (moment: Instant) => wallTimeOf(moment, zone).date.slice(0, 4);
  return year(at) === year(now) ? `${sayDay(at, zone)}, ${sayTime(at, zone, false)}` : sayWhen(at, zone, false);
}

/** "20:30" or "20:30 GMT" in `zone`. */
export function sayTime(at: Instant, zone: string, withZone = true): string {
  const time = formatterFor('time', zone).format(at);
  return withZone ? `${time} ${shortNameOf(at, zone)}` : time;
}

/** "21:22", and with its seconds where it has any: "21:22:09". */
export const sayMoment = (at: Instant, zone: string): string => {
  const seconds = Math.floor(at / 1000) % 60;
  return `${sayTime(at, zone, false)}${seconds ? `:${pad(seconds)}` : ''}`;
};

/** Each knows by name the zones that its readers live in, and calls the others by their offsets. */
const NAMERS = ['en-GB', 'en-IE', 'en-US', 'en-CA', 'en-AU', 'en-NZ', 'en-IN', 'en-ZA'];
const shortNames = new Map<string, string>();

/** "GMT", "IST" or "EDT": what a zone's time is called at a moment by those who live there; "GMT-4" where it has no name. */
function shortNameOf(at: Instant, zone: string): string {
  const key = `${zone.toLowerCase()} ${offsetMsAt(at, zone)}`;
  let name = shortNames.get(key);
  if (name === undefined) {
    const names = NAMERS.map((locale) => {
      const parts = new Intl.DateTimeFormat(locale, { timeZone: zone, hour: '2-digit', timeZoneName: 'short' }).formatToParts(at);
      return parts.find(({ type }) => type === 'timeZoneName')!.value;
    });
    name = names.find((each) => !/^(GMT|UTC)[+-]/.test(each)) ?? names[0]!;
    if (shortNames.size > MOST_SPELLINGS) shortNames.clear();
    shortNames.set(key, name);
  }
  return name;
}

/** Beyond this many hours nobody counts them. */
const HOURS_COUNTED = 48;

/** A clock reading for a countdown or a running time: "1:05:09", "05:09"; "26 days 22 h" from two days on. Whole seconds, rounded up when `up`, never negative. */
export function sayClock(lengthMs: number, up = false): string {
  const whole = Math.max(0, up ? Math.ceil(lengthMs / 1000) : Math.floor(lengthMs / 1000));
  const hours = Math.floor(whole / 3600);
  if (hours >= HOURS_COUNTED) return `${Math.floor(hours / 24)} days${hours % 24 ? ` ${hours % 24} h` : ''}`;
  const rest = `${pad(Math.floor(whole / 60) % 60)}:${pad(whole % 60)}`;
  return hours ? `${hours}:${rest}` : rest;
}

/** A length in words: "40 min", "1 h", "9 h 30 min", "12 s". */
export function sayLength(lengthMs: number): string {
  if (lengthMs < 60_000) return `${Math.round(lengthMs / 1000)} s`;
  const minutes = Math.round(lengthMs / 60_000);
  const hours = Math.floor(minutes / 60);
  if (!hours) return `${minutes} min`;
  return minutes % 60 ? `${hours} h ${minutes % 60} min` : `${hours} h`;
}

/** A rough distance for people: "in 3 days", "in 2 h 10 min", "20 min ago", "now". */
export function sayDistance(fromNowMs: number): string {
  const size = Math.abs(fromNowMs);
  const words = size < 45_000 ? null : size < 48 * HOUR_MS ? sayLength(Math.round(size / 60_000) * 60_000) : `${Math.round(size / DAY_MS)} days`;
  if (!words) return 'now';
  return fromNowMs > 0 ? `in ${words}` : `${words} ago`;
}
