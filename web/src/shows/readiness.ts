// What is due over all shows, the most urgent first, each with the field of the sheet on which it is done.
import type { ChannelView, ShowSummary } from '@lantern/contract';
import {
  announcementsAt,
  instant,
  MILESTONE_FIELDS,
  MILESTONE_WORDS,
  milestonesOf,
  type Instant,
  type MilestoneFacts,
  type MilestoneTimes,
} from '@lantern/core';

type Counted = Pick<ShowSummary, 'startsAt' | 'lengthMs' | 'state' | 'hasPicture' | 'people' | 'ticked' | 'said' | 'onAirSince' | 'endedAt'> & {
  airings: readonly Pick<ShowSummary['airings'][number], 'channelId' | 'channelName' | 'placing'>[];
};

/** The facts by which milestones are done or not. */
export function milestoneFacts(show: Counted, channels: readonly Pick<ChannelView, 'id' | 'rules'>[]): MilestoneFacts {
  return {
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

export interface DueStep {
  show: ShowSummary;
  words: string;
  at: Instant;
  late: boolean;
  /** Where it is done. */
  to: string;
}

/**
 * Steps and announcements of coming shows that are late, or due within a week of `now`, the most urgent first. Going on air and
 * wrapping up are the stage's.
 */
export function dueSteps(shows: readonly ShowSummary[], channels: readonly ChannelView[], times: MilestoneTimes, now: Instant): DueStep[] {
  return shows
    .filter(({ state, startsAt, endedAt }) => (state === 'draft' || state === 'placed' ? startsAt > now : state === 'over' && endedAt !== null))
    .flatMap((show) => [...milestonesDue(show, channels, times, now), ...announcementsDue(show, now)])
    .sort((a, b) => a.at - b.at);
}

function milestonesDue(show: ShowSummary, channels: readonly ChannelView[], times: MilestoneTimes, now: Instant): DueStep[] {
  return milestonesOf(milestoneFacts(show, channels), { ...times, ...show.milestoneTimes }, now)
    .filter(({ state, name }) => (state === 'due' || state === 'late') && name !== 'wrap' && name !== 'on air' && name !== 'holding card')
    .map(({ name, state, at }) => {
      const field = MILESTONE_FIELDS[name];
      return { show, words: MILESTONE_WORDS[name], at: at!, late: state === 'late', to: field ? `/shows/${show.id}#${field}` : `/shows/${show.id}/stage` };
    });
}

function announcementsDue(show: ShowSummary, now: Instant): DueStep[] {
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
        to: `/shows/${show.id}#announcements`,
      }))
  );
}
