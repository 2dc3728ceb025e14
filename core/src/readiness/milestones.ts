// The dated line of work of a show, worked out backwards from its start. Whether a step is done is read from
// facts where there are any; the rest is ticked by hand.
import { DAY_MS, HOUR_MS, instant, MINUTE_MS, type Instant } from '../time/instant';

export const MILESTONES = ['artwork', 'place', 'announce', 'guests', 'tech check', 'holding card', 'on air', 'wrap', 'replay down'] as const;
export type MilestoneName = (typeof MILESTONES)[number];

/** How long before the start each step is due, in ms; after the planned end where it comes later. Null: not needed. */
export type MilestoneTimes = Record<'artwork' | 'announce' | 'guests' | 'tech check' | 'holding card' | 'replay down', number | null>;

export const USUAL_TIMES: MilestoneTimes = {
  artwork: 4 * DAY_MS,
  announce: 3 * DAY_MS,
  guests: 2 * DAY_MS,
  'tech check': HOUR_MS,
  'holding card': 10 * MINUTE_MS,
  'replay down': null,
};
export const MILESTONE_MAX_MS = 365 * DAY_MS;

/** Steps that no fact tells of. */
export const TICKED_BY_HAND: readonly MilestoneName[] = ['announce', 'guests', 'tech check', 'replay down'];

export interface MilestoneFacts {
  startsAt: Instant;
  lengthMs: number;
  /** When the show was drafted: what was due before that nobody could have done in time. */
  madeAt: Instant;
  /** When the show really went on air and ended; null: it has not. */
  begunAt: Instant | null;
  endedAt: Instant | null;
  withdrawn: boolean;
  hasPicture: boolean;
  guests: number;
  /** For each channel: whether it is ready there, and the least and the recommended time between placing and start. */
  channels: readonly { ready: boolean; name: string; leadMs: number; furthestAheadMs: number | null }[];
  ticked: readonly MilestoneName[];
}

/**
 * `due`: to be done by `at`, which is near; `late`: `at` has passed; `short notice`: it had passed when the show was drafted, so that it is to
 * be done now; `later`: not yet its time.
 */
export type MilestoneState = 'done' | 'due' | 'late' | 'short notice' | 'later' | 'not needed';

export interface Milestone {
  name: MilestoneName;
  state: MilestoneState;
  at: Instant | null;
  byHand: boolean;
  /** What is missing, by name: channels that are not ready. */
  missing: readonly string[];
}

/** What counts as near. */
export const DUE_WITHIN_MS = 7 * DAY_MS;

/** All steps in order of their time at `now`. */
export function milestonesOf(facts: MilestoneFacts, times: MilestoneTimes, now: Instant): Milestone[] {
  const { startsAt, lengthMs, channels, ticked } = facts;
  const begun = facts.begunAt !== null;
  const over = facts.endedAt !== null;
  const waiting = channels.filter(({ ready }) => !ready);
  const before = (name: keyof MilestoneTimes): Instant | null => (times[name] === null ? null : instant(startsAt - times[name]));
  // The channel that wants to know first sets the day; without channels it is the day of the announcement.
  const lead = Math.max(0, ...(waiting.length ? waiting : channels).map(({ leadMs }) => leadMs));
  const placeAt = instant(startsAt - Math.max(lead, times.announce ?? 0));
  const end = instant((facts.begunAt ?? startsAt) + lengthMs);
  const made: [MilestoneName, Instant | null, boolean][] = [
    ['artwork', before('artwork'), facts.hasPicture],
    ['place', placeAt, channels.length > 0 && waiting.length === 0],
    ['announce', before('announce'), false],
    ['guests', facts.guests ? before('guests') : null, false],
    ['tech check', before('tech check'), false],
    ['holding card', before('holding card'), begun],
    ['on air', startsAt, begun],
    ['wrap', end, over],
    ['replay down', times['replay down'] === null ? null : instant((facts.endedAt ?? end) + times['replay down']), false],
  ];
  const steps = made.map(([name, at, fact]): Milestone => {
    const byHand = TICKED_BY_HAND.includes(name);
    const done = fact || (byHand && ticked.includes(name)) || (begun && name !== 'wrap' && name !== 'replay down');
    return { name, at, byHand, state: stateOf(at, done, facts, now), missing: name === 'place' ? waiting.map((channel) => channel.name) : [] };
  });
  return steps.sort((a, b) => (a.at ?? Infinity) - (b.at ?? Infinity) || MILESTONES.indexOf(a.name) - MILESTONES.indexOf(b.name));
}

function stateOf(at: Instant | null, done: boolean, { withdrawn, madeAt }: MilestoneFacts, now: Instant): MilestoneState {
  if (done) return 'done';
  if (at === null || withdrawn) return 'not needed';
  if (at < now) return at < madeAt ? 'short notice' : 'late';
  return at - now <= DUE_WITHIN_MS ? 'due' : 'later';
}

/** What is to be done, as a short order. */
export const MILESTONE_WORDS: Record<MilestoneName, string> = {
  artwork: 'Artwork',
  place: 'Place',
  announce: 'Announce',
  guests: 'Call guests',
  'tech check': 'Tech check',
  'holding card': 'Holding card',
  'on air': 'On air',
  wrap: 'Wrap',
  'replay down': 'Take the replay down',
};

/** Where on the show sheet a step is done; null: on the stage. */
export const MILESTONE_FIELDS: Record<MilestoneName, string | null> = {
  artwork: 'picture',
  place: 'place',
  announce: 'announcements',
  guests: 'people',
  'tech check': null,
  'holding card': null,
  'on air': null,
  wrap: null,
  'replay down': 'links',
};
