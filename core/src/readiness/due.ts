// What is due over all shows, the most urgent first, each with the field of the sheet on which it is done.
import type { RuleSheet } from '../channels/rules';
import { instant, type Instant } from '../time/instant';
import { announcementsAt, type Announcement } from './announcements';
import { MILESTONE_FIELDS, MILESTONE_WORDS, milestonesOf, type MilestoneFacts, type MilestoneName, type MilestoneTimes } from './milestones';

/** What milestones are told by. Times in ms. */
export interface CountedShow {
  madeAt: number;
  startsAt: number;
  lengthMs: number;
  state: string;
  hasPicture: boolean;
  people: readonly { role: 'host' | 'guest' }[];
  ticked: readonly MilestoneName[];
  /** Announcements that were made, by identifier. */
  said: readonly string[];
  onAirSince: number | null;
  endedAt: number | null;
  airings: readonly { channelId: string; channelName: string; placing: string }[];
}

/** What is told beside that by everything that is due. */
export interface ShowWithSteps extends CountedShow {
  id: string;
  placedAt: number | null;
  milestoneTimes: Partial<MilestoneTimes>;
  announcements: readonly Announcement[];
  /** Announcements that a channel was to make and refused, by identifier. */
  refusedPosts: readonly string[];
}

interface ChannelWithRules {
  id: string;
  rules: RuleSheet;
}

/** The facts by which milestones are done or not. */
export function milestoneFacts(show: CountedShow, channels: readonly ChannelWithRules[]): MilestoneFacts {
  return {
    madeAt: instant(show.madeAt),
    startsAt: instant(show.startsAt),
    lengthMs: show.lengthMs,
    begunAt: show.onAirSince === null ? null : instant(show.onAirSince),
    endedAt: show.endedAt === null ? null : instant(show.endedAt),
    withdrawn: show.state === 'withdrawn',
    hasPicture: show.hasPicture,
    guests: show.people.filter(({ role }) => role === 'guest').length,
    channels: show.airings
      .filter(({ placing }) => placing !== 'withdrawn')
      .map(({ channelId, channelName, placing }) => {
        const rules = channels.find(({ id }) => id === channelId)?.rules;
        const leadMs = rules?.maySchedule ? Math.max(rules.leastLeadMs, rules.betterLeadMs ?? 0) : 0;
        // What waits for the channel's reach is done for us: it is placed by itself.
        const ready = placing === 'placed' || placing === 'awaits air' || placing === 'awaits reach';
        return { ready, name: channelName, leadMs, furthestAheadMs: rules?.furthestAheadMs ?? null };
      }),
    // Whoever has said it somewhere has announced it.
    ticked: show.said.length ? [...show.ticked, 'announce'] : show.ticked,
  };
}

export interface DueStep<Show> {
  show: Show;
  words: string;
  at: Instant;
  late: boolean;
  /** It was due before the show was drafted. */
  shortNotice: boolean;
  /** Where it is done. */
  to: string;
}

/**
 * Steps and announcements of coming shows that are late, or due within a week of `now`, the most urgent first. Going on air and
 * wrapping up are the stage's.
 */
export function dueSteps<Show extends ShowWithSteps>(
  shows: readonly Show[],
  channels: readonly ChannelWithRules[],
  times: MilestoneTimes,
  now: Instant,
): DueStep<Show>[] {
  return shows
    .filter(({ state, startsAt, endedAt }) => (state === 'draft' || state === 'placed' ? startsAt > now : state === 'over' && endedAt !== null))
    .flatMap((show) => [...milestonesDue(show, channels, times, now), ...announcementsDue(show, now)])
    .sort((a, b) => a.at - b.at);
}

function milestonesDue<Show extends ShowWithSteps>(show: Show, channels: readonly ChannelWithRules[], times: MilestoneTimes, now: Instant): DueStep<Show>[] {
  return milestonesOf(milestoneFacts(show, channels), { ...times, ...show.milestoneTimes }, now)
    .filter(
      ({ state, name }) => (state === 'due' || state === 'late' || state === 'short notice') && name !== 'wrap' && name !== 'on air' && name !== 'holding card',
    )
    .map(({ name, state, at }) => {
      const field = MILESTONE_FIELDS[name];
      return {
        show,
        words: MILESTONE_WORDS[name],
        at: at!,
        late: state === 'late',
        shortNotice: state === 'short notice',
        to: field ? `/shows/${show.id}#${field}` : `/shows/${show.id}/stage`,
      };
    });
}

function announcementsDue<Show extends ShowWithSteps>(show: Show, now: Instant): DueStep<Show>[] {
  const placedAt = show.placedAt === null ? null : instant(show.placedAt);
  return (
    announcementsAt(show.announcements, show.said, { startsAt: instant(show.startsAt), placedAt }, now)
      // What a channel makes by itself is nobody's work, unless it refused to.
      .filter(({ state, announcement: { id, channelId } }) => state === 'late' || (state === 'due' && (channelId === null || show.refusedPosts.includes(id))))
      .map(({ announcement, at, state }) => ({
        show,
        words: `Say it: ${announcement.place || 'an announcement'}`,
        at: at!,
        late: state === 'late',
        shortNotice: false,
        to: `/shows/${show.id}#announcements`,
      }))
  );
}
