// What gets in the way of a show while its sheet is being typed: lines, channels, people and rooms, by the
// station's plan with this show as the sheet has it now.
import type { ChannelView, PlanView, ShowDraft, ShowView } from '@lantern/contract';
import {
  clashesOf,
  findClashes,
  lineTaken,
  meetingsOf,
  instant,
  MINUTE_MS,
  sayClash,
  sayMeeting,
  waysOut,
  type Instant,
  type LineOfChannel,
  type LineUse,
  type Severity,
  type WaysOut,
} from '@lantern/core';

export interface ShowClash {
  /** Null: it concerns the whole show. */
  channelId: string | null;
  severity: Severity;
  words: string;
  rivalId: string;
  rivalTitle: string;
  ways: WaysOut;
  lineNames: Map<string, string>;
}

export function clashesOfSheet(
  plan: PlanView,
  draft: ShowDraft,
  show: Pick<ShowView, 'id' | 'airings'> | null,
  startsAt: Instant | null,
  channels: ChannelView[],
  now: Instant,
): ShowClash[] {
  if (startsAt === null || !(draft.lengthMin > 0)) return [];
  const showId = show?.id ?? 'new';
  const own = channels.map((channel): LineUse => {
    const airing = show?.airings.find((each) => each.channel.id === channel.id);
    const known = plan.uses.find(({ airingId }) => airingId === airing?.id);
    const chosen = draft.lines?.find(({ channelId }) => channelId === channel.id)?.lineId;
    return {
      airingId: airing?.id ?? `new ${channel.id}`,
      showId,
      channelId: channel.id,
      lineId: lineTaken({ id: airing?.id ?? '', channelId: channel.id, lineId: chosen ?? null }, channel.rules, linesOf(channel, airing?.id, known?.lineId)),
      startsAt,
      lengthMs: draft.lengthMin * MINUTE_MS,
      onAir: known?.onAir ?? false,
      stands: known?.stands ?? false,
    };
  });
  const lengthMs = draft.lengthMin * MINUTE_MS;
  const people = (draft.people ?? []).map(({ name }) => name);
  const itself = { id: showId, title: draft.title.trim() || 'This show', startsAt, lengthMs, people, room: draft.room ?? '' };
  const whole: PlanView = {
    ...plan,
    uses: [...plan.uses.filter((use) => use.showId !== showId), ...own],
    shows: [...plan.shows.filter(({ id }) => id !== showId), itself],
  };
  const title = (id: string) => whole.shows.find((each) => each.id === id)?.title ?? 'A show';
  const lineNames = new Map(plan.lines.map(({ id, name }) => [id, name]));
  const planned = plan.shows.map(({ id, startsAt: at, ...each }) => ({ ...each, showId: id, startsAt: instant(at) }));
  const meetings = meetingsOf({ ...itself, showId }, planned).map(({ meeting, rival }): ShowClash => {
    const rivalTitle = title(rival.showId);
    const ways: WaysOut = { lineIds: [], startsAt: null };
    return { channelId: null, severity: 'caution', words: sayMeeting(meeting, rivalTitle), rivalId: rival.showId, rivalTitle, ways, lineNames };
  });
  const clashes = clashesOf(showId, findClashes(whole, now)).map((clash): ShowClash => {
    const { first, second, severity } = clash;
    const channel = whole.channels.find(({ id }) => id === second.channelId)?.name ?? '';
    return {
      channelId: second.channelId,
      severity,
      words: sayClash(clash, { first: title(first.showId), second: title(second.showId), channel, line: lineNames.get(second.lineId ?? '') ?? '' }),
      rivalId: first.showId,
      rivalTitle: title(first.showId),
      ways: waysOut(clash, whole, now),
      lineNames,
    };
  });
  return [...meetings, ...clashes];
}

/** The lines of a channel as far as its page knows them, with the one that was issued for this airing. */
function linesOf({ id: channelId, lines }: ChannelView, airingId: string | undefined, issued: string | null | undefined): LineOfChannel[] {
  const lasting = lines.map(({ id }) => ({ id, channelId, airingId: null }));
  return airingId && issued ? [...lasting, { id: issued, channelId, airingId }] : lasting;
}
