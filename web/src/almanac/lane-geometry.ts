// Where everything stands in the almanac's lanes, apart from how it is drawn: rows, hits, ticks, and what a
// place in time means for a show that is being moved there.
import { NETWORK_NAMES, type ChannelView, type PlanView, type ShowSummary } from '@lantern/contract';
import {
  checkShow,
  dateOfDay,
  dayNumber,
  occurrenceOn,
  onGrid,
  clashesOf,
  DAY_MS,
  findClashes,
  meetingsOf,
  HOUR_MS,
  instant,
  MINUTE_MS,
  offsetMsAt,
  packRows,
  sayClash,
  sayFinding,
  sayMeeting,
  wallTimeOf,
  type Instant,
  type Severity,
} from '@lantern/core';

export const AXIS_HEIGHT = 46;
export const ROW_HEIGHT = 26;
const LANE_GAP = 12;
/** No ribbon is narrower: a show of half an hour must be seen in a quarter. */
export const LEAST_WIDTH = 7;
/** How near to an end of a ribbon is its end. */
const EDGE = 7;

export interface Lane {
  channel: ChannelView;
  top: number;
  height: number;
}

/** One show in one lane. */
export interface Ribbon {
  show: ShowSummary;
  lane: number;
  row: number;
  placing: ShowSummary['airings'][number]['placing'] | 'none';
  drifted: boolean;
}

export interface Layout {
  lanes: Lane[];
  ribbons: Ribbon[];
  /** The ribbons of a show, top to bottom. */
  ofShow: Map<string, Ribbon[]>;
  height: number;
}

/** Lanes with the rows that their shows need. Shows on no channel stand in a lane of their own. */
export function layOut(shows: readonly ShowSummary[], channels: readonly ChannelView[]): Layout {
  const ribbons: Ribbon[] = [];
  const lanes: Lane[] = [];
  const byChannel = new Map<string, { show: ShowSummary; airing: ShowSummary['airings'][number] }[]>();
  for (const show of shows) {
    for (const airing of show.airings) {
      const known = byChannel.get(airing.channelId);
      if (known) known.push({ show, airing });
      else byChannel.set(airing.channelId, [{ show, airing }]);
    }
  }
  let top = AXIS_HEIGHT;
  channels.forEach((channel, lane) => {
    const mine = byChannel.get(channel.id) ?? [];
    const rows = packRows(mine.map(({ show }) => ({ from: show.startsAt, to: show.startsAt + show.lengthMs })));
    mine.forEach(({ show, airing }, index) => ribbons.push({ show, lane, row: rows[index]!, placing: airing.placing, drifted: airing.drifted }));
    const height = Math.max(1, ...rows.map((row) => row + 1)) * ROW_HEIGHT + LANE_GAP;
    lanes.push({ channel, top, height });
    top += height;
  });
  const ofShow = new Map<string, Ribbon[]>();
  for (const ribbon of ribbons) {
    const known = ofShow.get(ribbon.show.id);
    if (known) known.push(ribbon);
    else ofShow.set(ribbon.show.id, [ribbon]);
  }
  // Ribbons are in the order of time: the first ones that can be seen are found by halving.
  ribbons.sort((a, b) => a.show.startsAt - b.show.startsAt);
  // Room beneath for the word at the present.
  return { lanes, ribbons, ofShow, height: top + 18 };
}

export const ribbonTop = (lane: Lane, row: number): number => lane.top + LANE_GAP / 2 + row * ROW_HEIGHT;

/** Between time (ms since the epoch) and pixels, in order; where nothing is folded it is linear. */
export interface Scale {
  (at: number): number;
  invert(x: number): number;
}

export interface Hit {
  show: ShowSummary;
  part: 'whole' | 'end';
}

/** The show under a point, the one that begins last where several do. */
export function hitAt(layout: Layout, scale: Scale, x: number, y: number): Hit | null {
  const lane = layout.lanes.findIndex(({ top, height }) => y >= top && y < top + height);
  if (lane < 0) return null;
  for (let index = layout.ribbons.length - 1; index >= 0; index--) {
    const { show, lane: its, row } = layout.ribbons[index]!;
    if (its !== lane) continue;
    const top = ribbonTop(layout.lanes[lane]!, row);
    const left = scale(show.startsAt);
    const right = Math.max(left + LEAST_WIDTH, scale(show.startsAt + show.lengthMs));
    if (y < top || y > top + ROW_HEIGHT || x < left - 2 || x > right + 2) continue;
    return { show, part: x > right - EDGE && right - left > 3 * EDGE ? 'end' : 'whole' };
  }
  return null;
}

/** Lanes between two heights, the upper first. */
export function lanesBetween(layout: Layout, y0: number, y1: number): Lane[] {
  const [from, to] = [Math.min(y0, y1), Math.max(y0, y1)];
  return layout.lanes.filter(({ top, height }) => top + height > from && top <= to);
}

export interface Tick {
  at: number;
  label: string;
  strong: boolean;
}

const STEPS = [
  { ms: 15 * MINUTE_MS, upTo: 90 },
  { ms: HOUR_MS, upTo: 60 },
  { ms: 3 * HOUR_MS, upTo: 60 },
  { ms: 6 * HOUR_MS, upTo: 60 },
  { ms: DAY_MS, upTo: 44 },
  { ms: 7 * DAY_MS, upTo: 44 },
];

/** Marks of the axis on full hours, days, weeks or months of the zone, wide enough apart to be read. */
export function ticksOf(from: number, to: number, pxPerMs: number, zone: string): Tick[] {
  const step = STEPS.find(({ ms, upTo }) => ms * pxPerMs >= upTo)?.ms ?? 30 * DAY_MS;
  const say = (at: number, options: Intl.DateTimeFormatOptions) => formatter(zone, options).format(at);
  const ticks: Tick[] = [];
  if (step >= 7 * DAY_MS) {
    for (let day = dayStart(from, zone); day < to; day = dayStart(day + 36 * HOUR_MS, zone)) {
      const date = new Date(day + offsetMsAt(day, zone));
      if (date.getUTCDate() === 1) ticks.push({ at: day, label: say(day, { month: 'long', year: 'numeric' }), strong: true });
      if (step === 7 * DAY_MS && date.getUTCDay() === 1) ticks.push({ at: day, label: say(day, { day: 'numeric', month: 'short' }), strong: false });
    }
    return ticks;
  }
  for (let day = dayStart(from, zone); day < to;) {
    const next = dayStart(day + 36 * HOUR_MS, zone);
    const short = step * pxPerMs < 90 && step === DAY_MS;
    ticks.push({
      at: day,
      label: say(day, short ? { weekday: 'narrow', day: 'numeric' } : { weekday: 'short', day: 'numeric', month: 'short' }),
      strong: true,
    });
    if (step < DAY_MS) {
      for (let at = day + step; at < next - step / 2; at += step)
        if (at >= from && at < to) ticks.push({ at, label: wallTimeOf(instant(at), zone).time, strong: false });
    }
    day = next;
  }
  return ticks;
}

const formatters = new Map<string, Intl.DateTimeFormat>();
function formatter(zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${zone} ${JSON.stringify(options)}`;
  let known = formatters.get(key);
  if (!known) formatters.set(key, (known = new Intl.DateTimeFormat('en-GB', { timeZone: zone, ...options })));
  return known;
}

/** Midnight of the day of `at` on the clocks of `zone`. */
export function dayStart(at: number, zone: string): number {
  const offset = offsetMsAt(at, zone);
  const wall = Math.floor((at + offset) / DAY_MS) * DAY_MS;
  const midnight = wall - offset;
  // Clocks may have been changed since midnight.
  return wall - offsetMsAt(midnight, zone);
}

/** How finely a show is moved by hand at this scale, and at least by the widest grid of its channels. */
export function gridFor(channels: readonly ChannelView[], pxPerMs: number): number {
  const grids = channels.filter(({ rules }) => rules.maySchedule).map(({ rules }) => rules.startGridMs);
  const readable = [5 * MINUTE_MS, 15 * MINUTE_MS, 30 * MINUTE_MS, HOUR_MS].find((ms) => ms * pxPerMs >= 3) ?? HOUR_MS;
  return Math.max(readable, ...grids);
}

/** `startsAt` so many days on, at the same time on the clocks of the show's zone. */
export function daysOn(startsAt: number, zone: string, days: number): Instant {
  const { date, time } = wallTimeOf(instant(startsAt), zone);
  return occurrenceOn(dateOfDay(dayNumber(date)! + days), time, zone).startsAt;
}

/** How near a start that is dragged must come to its own hour of another day to be taken for that. */
const SAME_HOUR_PX = 12;

/** Where a show that is dragged to `at` is meant to start: at its own hour of that day where it is near, on the grid otherwise. */
export function meantStart(show: Pick<ShowSummary, 'startsAt' | 'zone'>, at: number, gridMs: number, pxPerMs: number): Instant {
  const { date } = wallTimeOf(instant(at), show.zone);
  const { time } = wallTimeOf(instant(show.startsAt), show.zone);
  const sameHour = occurrenceOn(date, time, show.zone).startsAt;
  return Math.abs(sameHour - at) * pxPerMs <= SAME_HOUR_PX ? sameHour : onGrid(at, [gridMs]);
}

export interface MoveObjection {
  severity: Severity;
  words: string;
}

/** What channels, lines, people and rooms have against a show at another time or of another length. */
export function objectionsTo(
  show: ShowSummary,
  startsAt: Instant,
  lengthMs: number,
  channels: readonly ChannelView[],
  plan: PlanView | null,
  now: Instant,
): MoveObjection[] {
  const found: MoveObjection[] = [];
  const titleOf = (id: string) => plan?.shows.find((each) => each.id === id)?.title ?? 'Another show';
  for (const airing of show.airings) {
    const channel = channels.find(({ id }) => id === airing.channelId);
    if (!channel) continue;
    const placedAt = airing.placing === 'placed' ? instant(show.startsAt) : null;
    const facts = { title: show.title || 'x', description: '', startsAt, lengthMs, thumbnail: null, thumbnailAlternative: '', placedAt };
    const place = channel.network === 'typed-in' ? channel.name : NETWORK_NAMES[channel.network];
    for (const finding of checkShow(facts, channel.rules, now)) {
      if (finding.subject === 'startsAt' || finding.subject === 'length')
        found.push({ severity: finding.severity, words: sayFinding(finding, place, show.zone) });
    }
  }
  if (!plan) return found;
  const near = (from: number, length: number) => from < startsAt + lengthMs + HOUR_MS && from + length > startsAt - HOUR_MS;
  const uses = plan.uses
    .filter((use) => use.showId === show.id || near(use.startsAt, use.lengthMs))
    .map((use) => (use.showId === show.id ? { ...use, startsAt, lengthMs } : use));
  for (const clash of clashesOf(show.id, findClashes({ ...plan, uses }, now))) {
    const channel = plan.channels.find(({ id }) => id === clash.second.channelId)?.name ?? '';
    const line = plan.lines.find(({ id }) => id === clash.second.lineId)?.name ?? '';
    found.push({ severity: clash.severity, words: sayClash(clash, { first: titleOf(clash.first.showId), second: show.title, channel, line }) });
  }
  const around = plan.shows.map(({ id, ...each }) => ({ ...each, showId: id, startsAt: instant(each.startsAt) }));
  const itself = { showId: show.id, startsAt, lengthMs, people: show.people.map(({ name }) => name), room: show.room };
  for (const { meeting, rival } of meetingsOf(itself, around)) found.push({ severity: 'caution', words: sayMeeting(meeting, titleOf(rival.showId)) });
  return found.sort((a, b) => Number(a.severity === 'caution') - Number(b.severity === 'caution'));
}
