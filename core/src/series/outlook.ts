// A long look ahead over series: all their dates, and what stands in their way, long before they become
// shows of their own. Runs in a worker: a year of a busy station is ten thousand dates.
import { rulesFor, type RuleSheet } from '../channels/rules';
import { HOLDING_MS } from '../lines/clashes';
import { DAY_MS, HOUR_MS, instant, type Instant } from '../time/instant';
import { occurrencesOf } from './occurrences';
import { type Repeat } from './repeat';
import { dateOfDay, WEEKDAYS } from '../time/days';

/** A series as a long look needs it. `lines`: by channel, where one is chosen; others use the channel's first. */
export interface SeriesAhead {
  id: string;
  title: string;
  repeat: Repeat;
  /** HH:MM in `zone`. */
  time: string;
  zone: string;
  lengthMs: number;
  channelIds: readonly string[];
  lines: Readonly<Record<string, string>>;
  people: readonly string[];
  room: string;
}

export interface ChannelAhead {
  id: string;
  rules: RuleSheet;
  firstLine: string | null;
}

export interface DateAhead {
  seriesId: string;
  date: string;
  startsAt: Instant;
  lengthMs: number;
}

/** `clocks`: the start is skipped or doubled by a clock change. `too long` and `off grid` name the channel. */
export type TroubleAhead =
  | { what: 'clocks'; at: DateAhead }
  | { what: 'too long' | 'off grid'; at: DateAhead; channelId: string }
  | { what: 'line' | 'channel'; at: DateAhead; channelId: string; other: DateAhead }
  | { what: 'person' | 'room'; at: DateAhead; name: string; other: DateAhead };

export interface Outlook {
  /** In order of time. */
  dates: DateAhead[];
  troubles: TroubleAhead[];
}

/** All dates of `series` that start within [from, to), checked against the rules of their channels and against each other. */
export function lookAhead(series: readonly SeriesAhead[], channels: readonly ChannelAhead[], from: Instant, to: Instant): Outlook {
  const known = new Map(channels.map((channel) => [channel.id, channel]));
  const troubles: TroubleAhead[] = [];
  const dates: { at: DateAhead; of: SeriesAhead }[] = [];
  for (const of of series) {
    const own = of.channelIds.flatMap((id) => known.get(id) ?? []);
    const grids = own.filter(({ rules }) => rules.maySchedule);
    const tooLong = own.filter(({ rules }) => rules.longestMs !== null && of.lengthMs > rules.longestMs);
    for (const { date, startsAt, wall } of occurrencesOf(of.repeat, of.time, of.zone, from, to)) {
      const at: DateAhead = { seriesId: of.id, date, startsAt, lengthMs: of.lengthMs };
      dates.push({ at, of });
      if (wall !== 'once') troubles.push({ what: 'clocks', at });
      for (const { id } of tooLong) troubles.push({ what: 'too long', at, channelId: id });
      for (const { id, rules } of grids) if (startsAt % rules.startGridMs !== 0) troubles.push({ what: 'off grid', at, channelId: id });
    }
  }
  dates.sort((a, b) => a.at.startsAt - b.at.startsAt);
  // What two series would share is worked out once for each pair, not for each of their dates.
  const shared = new Map<string, Shared>();
  let open: typeof dates = [];
  for (const second of dates) {
    open = open.filter(({ at }) => at.startsAt + at.lengthMs > second.at.startsAt - HOLDING_MS);
    for (const first of open) meet(first, second, sharedOf(first.of, second.of, known, shared), troubles);
    open.push(second);
  }
  return { dates: dates.map(({ at }) => at), troubles };
}

interface Shared {
  lines: string[];
  channels: string[];
  people: string[];
  room: string | null;
}

function sharedOf(a: SeriesAhead, b: SeriesAhead, channels: ReadonlyMap<string, ChannelAhead>, shared: Map<string, Shared>): Shared {
  const key = `${a.id} ${b.id}`;
  let found = shared.get(key);
  if (!found) {
    const both = a.channelIds.filter((id) => b.channelIds.includes(id)).flatMap((id) => channels.get(id) ?? []);
    const lineOf = (of: SeriesAhead, channel: ChannelAhead) => of.lines[channel.id] ?? channel.firstLine;
    const single = both.filter(({ rules }) => !rules.severalAtOnce);
    const lined = both.filter((channel) => channel.rules.severalAtOnce && channel.rules.lines !== 'one per show' && lineOf(a, channel) !== null);
    found = {
      lines: lined.filter((channel) => lineOf(a, channel) === lineOf(b, channel)).map(({ id }) => id),
      channels: single.map(({ id }) => id),
      people: a.people.filter((name) => b.people.some((other) => same(name, other))),
      room: a.room.trim() && same(a.room, b.room) ? a.room.trim() : null,
    };
    shared.set(key, found);
  }
  return found;
}

const same = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase();

function meet(first: { at: DateAhead }, second: { at: DateAhead }, { lines, channels, people, room }: Shared, troubles: TroubleAhead[]): void {
  const [at, other] = [second.at, first.at];
  for (const channelId of lines) troubles.push({ what: 'line', at, channelId, other });
  for (const channelId of channels) troubles.push({ what: 'channel', at, channelId, other });
  // The minutes of a holding card need the line, not yet the people.
  if (other.startsAt + other.lengthMs <= at.startsAt) return;
  for (const name of people) troubles.push({ what: 'person', at, name, other });
  if (room !== null) troubles.push({ what: 'room', at, name: room, other });
}

/**
 * Looks over a few series of nobody's, and forgets what it found: engines run code fast that they have run before. For workers that
 * have nothing to do yet; takes about a quarter of a first look over 200 series, and takes as much off it.
 */
export function warmLook(from: Instant): void {
  const rules = rulesFor('reelmoor', 'library channel');
  const channels = ['a', 'b', 'c'].map((id): ChannelAhead => ({ id, rules, firstLine: id }));
  const series = Array.from({ length: 20 }, (_, at): SeriesAhead => {
    const repeat: Repeat = {
      pattern: { every: 'week', interval: 1, on: [WEEKDAYS[at % 7]!] },
      from: dateOfDay(Math.floor(from / DAY_MS)),
      ends: { kind: 'never' },
      also: [],
      dropped: [],
    };
    const time = `${String(at).padStart(2, '0')}:30`;
    return {
      ...{ id: String(at), title: '', repeat, time, zone: 'UTC', lengthMs: HOUR_MS, channelIds: ['a', 'b', 'c'], lines: {} },
      ...{ people: [`${at % 4}`], room: `${at % 3}` },
    };
  });
  lookAhead(series, channels, from, instant(from + 365 * DAY_MS));
}
