// Finds planned shows that get in each other's way on lines and channels, and what would solve it.
// All comparisons are of instants, so midnight and clock changes need no care of their own.
import type { Severity } from '../channels/finding';
import { instant, MINUTE_MS, type Instant } from '../time/instant';

/** A picture should stand on the line this long before the start, for the holding card. */
export const HOLDING_MS = 10 * MINUTE_MS;
/** A show that is on air past its planned end is taken to need this much longer, from the present. */
export const OVERRUN_MS = 10 * MINUTE_MS;

/** One airing that will need, or needs, a line. `lineId` is null while the network has not issued one. */
export interface LineUse {
  airingId: string;
  showId: string;
  channelId: string;
  lineId: string | null;
  startsAt: Instant;
  lengthMs: number;
  onAir: boolean;
  /** Whether the airing stands on its channel; a draft does not keep others from being placed. */
  stands: boolean;
}

export interface LineFacts {
  id: string;
  channelId: string;
  singleUse: boolean;
}

export interface ChannelFacts {
  id: string;
  severalAtOnce: boolean;
  startGridMs: number;
}

/** What a station has; every use names a channel of `channels`. */
export interface LinePlan {
  uses: readonly LineUse[];
  lines: readonly LineFacts[];
  channels: readonly ChannelFacts[];
}

/**
 * Two airings in each other's way, the earlier first. `foreign-line` concerns one airing only and
 * repeats it. `meet` tells whether the shows themselves do, or only the minutes of a holding card: those
 * are worth a caution.
 */
export interface Clash {
  code: 'line-shared' | 'single-use-twice' | 'channel-busy' | 'foreign-line';
  severity: Severity;
  meet: 'shows' | 'holding card';
  first: LineUse;
  second: LineUse;
}

/** What would solve a clash for its second airing: lines of its channel that are free, and the next start that is. */
export interface WaysOut {
  lineIds: string[];
  startsAt: Instant | null;
}

/** When a use holds its line, half open: [from, to). */
function heldBy(use: LineUse, now: Instant): { from: number; plannedFrom: number; to: number } {
  const plannedEnd = use.startsAt + use.lengthMs;
  return {
    from: Math.min(use.startsAt - HOLDING_MS, use.onAir ? now : Infinity),
    plannedFrom: Math.min(use.startsAt, use.onAir ? now : Infinity),
    to: use.onAir && now >= plannedEnd ? now + OVERRUN_MS : plannedEnd,
  };
}

/** How two uses of one thing meet; null if they do not. Symmetric. */
function meeting(a: LineUse, b: LineUse, now: Instant): Clash['meet'] | null {
  const x = heldBy(a, now);
  const y = heldBy(b, now);
  if (x.plannedFrom < y.to && y.plannedFrom < x.to) return 'shows';
  return x.from < y.to && y.from < x.to ? 'holding card' : null;
}

function clash(code: Clash['code'], first: LineUse, second: LineUse, meet: Clash['meet'] = 'shows'): Clash {
  return { code, severity: meet === 'shows' ? 'objection' : 'caution', meet, first, second };
}

const inOrder = (a: LineUse, b: LineUse) => a.startsAt - b.startsAt || (a.airingId < b.airingId ? -1 : 1);

/**
 * Every clash at `now`. Takes time proportional to n log n for n uses, and to the number of clashes.
 * Two airings that meet on a channel which allows only one are reported once, for the channel, even
 * when they also share its line.
 */
export function findClashes(plan: LinePlan, now: Instant): Clash[] {
  const lines = new Map(plan.lines.map((line) => [line.id, line]));
  const single = new Set(plan.channels.filter(({ severalAtOnce }) => !severalAtOnce).map(({ id }) => id));
  const clashes: Clash[] = [];
  for (const use of plan.uses) {
    const line = use.lineId === null ? undefined : lines.get(use.lineId);
    if (line && line.channelId !== use.channelId) clashes.push(clash('foreign-line', use, use));
  }
  for (const [channelId, uses] of groupBy(plan.uses, ({ channelId }) => channelId)) {
    if (single.has(channelId)) sweep(uses, now, (first, second, meet) => clashes.push(clash('channel-busy', first, second, meet)));
  }
  for (const [lineId, uses] of groupBy(plan.uses, ({ lineId }) => lineId)) {
    if (lines.get(lineId)?.singleUse) {
      const [first, ...others] = [...uses].sort(inOrder);
      for (const second of others) clashes.push(clash('single-use-twice', first!, second));
      continue;
    }
    sweep(uses, now, (first, second, meet) => {
      const saidForChannel = first.channelId === second.channelId && single.has(first.channelId);
      if (!saidForChannel) clashes.push(clash('line-shared', first, second, meet));
    });
  }
  return clashes;
}

function groupBy(uses: readonly LineUse[], keyOf: (use: LineUse) => string | null): Map<string, LineUse[]> {
  const groups = new Map<string, LineUse[]>();
  for (const use of uses) {
    const key = keyOf(use);
    if (key === null) continue;
    const group = groups.get(key);
    if (group) group.push(use);
    else groups.set(key, [use]);
  }
  return groups;
}

/** Tells every pair that meets. Each look at an earlier use either tells a pair or drops that use for good. */
function sweep(uses: readonly LineUse[], now: Instant, tell: (first: LineUse, second: LineUse, meet: Clash['meet']) => void): void {
  const held = uses.map((use) => ({ use, ...heldBy(use, now) })).sort((a, b) => a.from - b.from);
  let open: typeof held = [];
  for (const next of held) {
    open = open.filter(({ to }) => to > next.from);
    for (const earlier of open) {
      const meet = meeting(earlier.use, next.use, now);
      if (!meet) continue;
      const [first, second] = [earlier.use, next.use].sort(inOrder);
      tell(first!, second!, meet);
    }
    open.push(next);
  }
}

/**
 * The clashes of one show, as that show's sheet sees them: its own airing is the second, which the ways
 * out are about, and a rival that is only a draft is no more than a caution.
 */
export function clashesOf(showId: string, clashes: readonly Clash[]): Clash[] {
  return clashes.flatMap((clash) => {
    if (clash.first.showId !== showId && clash.second.showId !== showId) return [];
    const own = clash.second.showId === showId ? clash.second : clash.first;
    const rival = own === clash.second ? clash.first : clash.second;
    const severity = clash.code === 'foreign-line' || rival.stands ? clash.severity : 'caution';
    return [{ ...clash, severity, first: rival, second: own }];
  });
}

/** What would solve `clash` without making another: each way alone is enough. */
export function waysOut(clash: Clash, plan: LinePlan, now: Instant): WaysOut {
  const { second } = clash;
  return { lineIds: clash.code === 'channel-busy' ? [] : freeLines(second, plan, now), startsAt: movable(clash) ? nextFreeStart(second, plan, now) : null };
}

const movable = ({ code, second }: Clash) => (code === 'line-shared' || code === 'channel-busy') && !second.onAir;

/** Lines of the use's own channel on which it would meet nobody. */
function freeLines(use: LineUse, plan: LinePlan, now: Instant): string[] {
  const others = plan.uses.filter(({ airingId }) => airingId !== use.airingId);
  return plan.lines
    .filter(({ id, channelId, singleUse }) => {
      if (id === use.lineId || channelId !== use.channelId) return false;
      return !others.some((other) => other.lineId === id && (singleUse || meeting(other, use, now)));
    })
    .map(({ id }) => id);
}

/**
 * The next start, on the grid of all its channels, at which no airing of the show would meet another
 * show on its line or its single channel. Null where none is found.
 */
function nextFreeStart(use: LineUse, plan: LinePlan, now: Instant): Instant | null {
  const channels = new Map(plan.channels.map((channel) => [channel.id, channel]));
  const own = plan.uses.filter(({ showId }) => showId === use.showId);
  const others = plan.uses.filter(({ showId }) => showId !== use.showId);
  // Grids divide the hour, so the widest is a multiple of the rest.
  const gridMs = Math.max(MINUTE_MS, ...own.map(({ channelId }) => channels.get(channelId)?.startGridMs ?? MINUTE_MS));
  const rivals = own.map((airing) => ({
    airing,
    against: others.filter(
      (other) =>
        (airing.lineId !== null && other.lineId === airing.lineId) || (other.channelId === airing.channelId && !channels.get(airing.channelId)?.severalAtOnce),
    ),
  }));
  let start = Math.ceil(Math.max(use.startsAt, now) / gridMs) * gridMs;
  for (let tries = 0; tries <= plan.uses.length; tries++) {
    const moved = instant(start);
    const inTheWay = rivals.flatMap(({ airing, against }) => against.filter((other) => meeting(other, { ...airing, startsAt: moved }, now)));
    if (!inTheWay.length) return moved;
    const after = Math.max(...inTheWay.map((other) => heldBy(other, now).to)) + HOLDING_MS;
    start = Math.max(start + gridMs, Math.ceil(after / gridMs) * gridMs);
  }
  return null;
}

/** What a clash is, in words. `names` gives the titles of both shows, of the channel and of the line. */
export function sayClash(clash: Clash, names: { first: string; second: string; channel: string; line: string }): string {
  const { first, second, channel, line } = names;
  const same = first === second ? `Two shows called ${first}` : `${first} and ${second}`;
  switch (clash.code) {
    case 'foreign-line':
      return `${second} is to go out on the line ${line}, which belongs to another channel. Choose a line of ${channel}.`;
    case 'single-use-twice':
      return `${same} are both promised the line ${line}, which is good for one show only.`;
    case 'channel-busy':
      return clash.meet === 'shows'
        ? `${same} meet on ${channel}, which takes one show at a time.`
        : `${same} follow each other on ${channel} without time for the holding card between them.`;
    case 'line-shared':
      return clash.meet === 'shows'
        ? `${same} meet on the line ${line} of ${channel}. One picture would push out the other.`
        : `${same} follow each other on the line ${line} of ${channel} without time for the holding card between them.`;
  }
}
