// All planned uses of lines at a station, and the clashes among them.
import type { PlanView } from '@lantern/contract';
import { clashesOf, DAY_MS, findClashes, instant, lineTaken, sayClash, type Clash, type LineUse } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { channelInFull } from '../channels/access.service';
import { ChannelRows, LineRows } from '../channels/channel-rows';
import { RuleBookService } from '../channels/rule-book.service';
import { Clock } from '../foundation/clock';
import { AiringRows } from '../shows/airing-rows';
import type { Airing } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { standsThere } from '../shows/show-facts';

/** No show lasts longer, so nothing older can still hold a line. */
const LONGEST_MS = 2 * DAY_MS;

@Injectable()
export class PlanService {
  constructor(
    private readonly channels: ChannelRows,
    private readonly lines: LineRows,
    private readonly shows: ShowRows,
    private readonly airings: AiringRows,
    private readonly ruleBook: RuleBookService,
    private readonly clock: Clock,
  ) {}

  async view(stationId: string): Promise<PlanView> {
    const channels = await this.channels.atStation(stationId);
    const lines = await this.lines.onChannels(channels.map(({ id }) => id));
    const shows = await this.shows.needingLines(stationId, this.clock.now() - LONGEST_MS);
    const airings = await this.airings.ofShows(shows.map(({ id }) => id));
    const byId = new Map(shows.map((show) => [show.id, show]));
    const ruleSheets = new Map(channels.map((channel) => [channel.id, this.ruleBook.rules(channel)]));
    return {
      uses: airings
        .filter(({ placing }) => placing !== 'withdrawn')
        .map((airing): LineUse => {
          const show = byId.get(airing.showId)!;
          const onAir = show.state === 'onAir' || show.state === 'interrupted';
          return {
            airingId: airing.id,
            showId: show.id,
            channelId: airing.channelId,
            lineId: lineTaken(airing, ruleSheets.get(airing.channelId)!, lines),
            startsAt: instant(show.startsAt),
            lengthMs: show.lengthMs,
            onAir,
            stands: onAir || standsThere(airing),
          };
        }),
      lines: lines.map(({ id, channelId, airingId, name }) => ({ id, channelId, singleUse: airingId !== null, name })),
      channels: channels.map((channel) => {
        const { severalAtOnce, startGridMs } = ruleSheets.get(channel.id)!;
        return { id: channel.id, name: channelInFull(channel), severalAtOnce, startGridMs };
      }),
      shows: shows.map(({ id, title, startsAt, lengthMs, people, room }) => ({ id, title, startsAt, lengthMs, people: people.map(({ name }) => name), room })),
    };
  }

  /** What keeps an airing from being placed as it is planned, in words; null when nothing does. */
  async objection(stationId: string, airing: Airing): Promise<string | null> {
    const plan = await this.view(stationId);
    const now = this.clock.now();
    const clash = clashesOf(airing.showId, findClashes(plan, now)).find(
      ({ severity, first, second }) => severity === 'objection' && (first.airingId === airing.id || second.airingId === airing.id),
    );
    return clash ? sayClash(clash, namesIn(plan, clash)) : null;
  }
}

function namesIn(plan: PlanView, { first, second }: Clash): Parameters<typeof sayClash>[1] {
  const title = (showId: string) => plan.shows.find(({ id }) => id === showId)?.title ?? 'A show';
  return {
    first: title(first.showId),
    second: title(second.showId),
    channel: plan.channels.find(({ id }) => id === second.channelId)?.name ?? '',
    line: plan.lines.find(({ id }) => id === second.lineId)?.name ?? '',
  };
}
