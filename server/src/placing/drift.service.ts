// Looks at what really stands on the channels, and settles differences by the side that the host chose.
import type { ChannelResult, FoundEvent } from '@lantern/contract';
import {
  AIRING_FIELDS,
  asPlainText,
  MINUTE_MS,
  reconciled,
  type AiringChoices,
  type AiringFacts,
  type AiringField,
  type Sides,
  sayPlaced,
} from '@lantern/core';
import { Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import { Bus } from '../foundation/bus';
import { DataSource } from 'typeorm';
import { ChannelAccessService, channelInFull, wordsOfNetworkError } from '../channels/access.service';
import { ChannelsService } from '../channels/channels.service';
import { Clock } from '../foundation/clock';
import { isThere } from '../channels/connectors/connector';
import { RegularWork } from '../foundation/regular-work';
import { PlainError, Refused } from '../foundation/errors';
import { LinesService } from '../lines/lines.service';
import type { Person } from '../people/people.entities';
import { together } from '../foundation/together';
import { JobsService } from '../jobs/jobs.service';
import { AiringsService } from '../shows/airings.service';
import { NetworkTalk } from './network-talk';
import { PlacingService } from './placing.service';
import { AiringRows } from '../shows/airing-rows';
import { BLANK_AIRING } from '../shows/blank';
import type { Airing, Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { isStillPlanned } from '../shows/show-facts';
import { ShowsService } from '../shows/shows.service';

/** How often every coming airing is looked at. */
export const LOOK_EVERY_MS = 5 * MINUTE_MS;
const LOOK = 'look';

@Injectable()
export class DriftService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('drift', LOOK_EVERY_MS, () => this.seek());

  constructor(
    private readonly database: DataSource,
    private readonly shows: ShowsService,
    private readonly showRows: ShowRows,
    private readonly airingRows: AiringRows,
    private readonly airings: AiringsService,
    private readonly placing: PlacingService,
    private readonly access: ChannelAccessService,
    private readonly channels: ChannelsService,
    private readonly lines: LinesService,
    private readonly talk: NetworkTalk,
    private readonly jobs: JobsService,
    private readonly bus: Bus,
    private readonly clock: Clock,
  ) {
    jobs.takeUp({
      kind: LOOK,
      atOnce: 4,
      triesMax: Infinity,
      waitMs: () => LOOK_EVERY_MS,
      // A channel that gives no answer is no news: it is looked at again in a while.
      run: async (showId) => void (await this.look({ id: showId })),
      words: async (showId) => `Look how “${await this.showRows.titleOf(showId)}” stands on its channels`,
    });
  }

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  /** Has all that is still to come looked at, each on its own: a channel that is silent holds up no other show. */
  private seek(): Promise<void> {
    return this.jobs.needEach(LOOK, `SELECT stationId, id FROM shows WHERE state = 'placed' AND rehearsalOf IS NULL AND startsAt > ?`, [this.clock.now()]);
  }

  /** Looks at all that is still to come, and waits until that is done. */
  async lookAtAll(): Promise<void> {
    await this.work.now();
    await this.jobs.settled(LOOK);
  }

  /** Looks at every airing of a show that stands. Answers with what could not be looked at; what was known of that stays. */
  look({ id }: Pick<Show, 'id'>): Promise<ChannelResult[]> {
    return this.talk.inTurn(id, null, () => this.lookNow(id));
  }

  private async lookNow(showId: string): Promise<ChannelResult[]> {
    const show = await this.showRows.byId(showId);
    // On air it is known from the stage how the events stand; nobody changes a text behind a show that is running.
    if (!show || !isStillPlanned(show)) return [];
    const standing = (await this.shows.airingsOf(show)).filter(({ airing }) => airing.placing === 'placed' && airing.remoteId !== null);
    const results = await Promise.all(
      standing.map(async ({ airing, channel }): Promise<ChannelResult | null> => {
        const connector = this.access.connectorOf(channel);
        if (!connector?.look) return null;
        try {
          const there = await connector.look(this.access.of(channel), airing.remoteId!);
          const gone = !isThere(there);
          const seen = gone ? null : there.facts;
          await this.airingRows.change(airing.id, { seen, seenAt: this.clock.now(), gone });
          if (gone !== airing.gone || !isDeepStrictEqual(seen, airing.seen)) this.bus.tell({ kind: 'show', showId });
          return null;
        } catch (error) {
          const words = wordsOfNetworkError(error, channel, connector);
          return { airingId: airing.id, channelName: channelInFull(channel), done: false, words };
        }
      }),
    );
    return results.filter((result) => result !== null);
  }

  /**
   * Lets one side win, field by field: ours is told to the channel, theirs is taken over here. Text and title become
   * this channel's variant; the start and the length are the show's, so that the other channels have to be told of them.
   */
  settle(person: Person, showId: string, airingId: string, sides: Sides): Promise<ChannelResult[]> {
    return this.talk.press(showId, () => this.settleAlone(person, showId, airingId, sides));
  }

  private async settleAlone(person: Person, showId: string, airingId: string, sides: Sides): Promise<ChannelResult[]> {
    const { show, airings } = await this.shows.whole(person.stationId, showId);
    const one = airings.find(({ airing }) => airing.id === airingId);
    if (!one || one.airing.seen === null) throw new Refused('settling: nothing to settle');
    const { airing, channel } = one;
    const theirs = AIRING_FIELDS.filter((field) => sides[field] === 'theirs');
    // Told is what both agreed on: the fields taken over are the channel's own words.
    const told = { ...airing.told!, ...Object.fromEntries(theirs.map((field) => [field, airing.seen![field]])) };
    await together(this.database, async () => {
      if (theirs.length) await this.takeOver(person, show, airing, theirs);
      await this.airingRows.change(airing.id, { told, ...(theirs.includes('startsAt') && { placedAt: told.startsAt }) });
    });
    const { show: fresh, airings: after } = await this.shows.whole(person.stationId, showId);
    try {
      const tells = AIRING_FIELDS.some((field) => sides[field] === 'ours');
      if (tells) {
        const station = await this.airings.station(person.stationId);
        const one = after.find((each) => each.airing.id === airingId)!.airing;
        // Of what nobody has chosen about yet, the channel goes on saying its own.
        const ours = this.airings.facts(fresh, one, channel, station);
        await this.placing.tell(fresh, one, channel, station, reconciled(ours, airing.seen!, sides).theirs);
        // What was not chosen about stays a difference: it was not told by us.
        const chosen = AIRING_FIELDS.filter((field) => sides[field] === 'ours');
        await this.airingRows.change(one.id, { told: { ...told, ...Object.fromEntries(chosen.map((field) => [field, ours[field]])) } as AiringFacts });
      }
      await this.lookNow(fresh.id);
      const words = tells
        ? sayPlaced({ code: 'says the same', channel: channelInFull(channel) })
        : sayPlaced({ code: 'taken over', channel: channelInFull(channel) });
      return [{ airingId, channelName: channelInFull(channel), done: true, words }];
    } catch (error) {
      const words = wordsOfNetworkError(error, channel, this.access.connectorOf(channel));
      return [{ airingId, channelName: channelInFull(channel), done: false, words }];
    }
  }

  /** An event that vanished is forgotten here, so that the show can be placed there anew. */
  forget(stationId: string, showId: string, airingId: string): Promise<void> {
    return this.talk.press(showId, () => this.forgetAlone(stationId, showId, airingId));
  }

  private async forgetAlone(stationId: string, showId: string, airingId: string): Promise<void> {
    const { airings } = await this.shows.whole(stationId, showId);
    const one = airings.find(({ airing }) => airing.id === airingId);
    if (!one?.airing.gone) throw new Refused('settling: still stands');
    const { round, placing } = one.airing;
    const nothing = { told: null, toldPicture: null, toldChoices: null, seen: null, seenAt: null, gone: false, remoteId: null, watchUrl: null };
    await together(this.database, async () => {
      const forgotten = { ...nothing, placedAt: null, refusal: '', round: round + 1 };
      if ((await this.airingRows.move(airingId, placing, 'let go', forgotten)) === null) throw new Refused('placing: changed meanwhile');
      await this.shows.settleState(showId);
    });
  }

  /** Events on a channel that no show of the station stands for. */
  async found(stationId: string, channelId: string): Promise<FoundEvent[]> {
    const channel = await this.channels.one(stationId, channelId);
    const connector = this.access.connectorOf(channel);
    if (!connector?.planned) return [];
    try {
      const known = new Set((await this.airingRows.onChannels([channelId])).map(({ remoteId }) => remoteId));
      const there = await connector.planned(this.access.of(channel));
      return there
        .filter(({ remoteId }) => !known.has(remoteId))
        .map(({ remoteId, watchUrl, facts: { title, startsAt, lengthMs } }) => ({ remoteId, watchUrl, title, startsAt, lengthMs }));
    } catch (error) {
      throw new PlainError(502, wordsOfNetworkError(error, channel, connector));
    }
  }

  /**
   * Makes a show stand for an event that exists already. A show that stands nowhere takes over all its facts; one that
   * stands elsewhere takes title and text as this channel's variant, and the rest is shown as drift to be settled.
   */
  attach(person: Person, showId: string, channelId: string, remoteId: string): Promise<void> {
    return this.talk.press(showId, () => this.attachAlone(person, showId, channelId, remoteId));
  }

  private async attachAlone(person: Person, showId: string, channelId: string, remoteId: string): Promise<void> {
    const { show, airings } = await this.shows.whole(person.stationId, showId);
    if (!isStillPlanned(show)) throw new Refused('attaching: was on air');
    const channel = await this.channels.one(person.stationId, channelId);
    const connector = this.access.connectorOf(channel);
    const other = await this.airingRows.otherFor(channelId, remoteId, showId);
    if (other) throw new Refused('attaching: another show');
    const before = airings.find((each) => each.channel.id === channelId)?.airing ?? null;
    if (before?.placing === 'placed' || before?.placing === 'unsure') throw new Refused('attaching: stands already', { channel: channelInFull(channel) });
    const wasPlacing = before?.placing;
    let there;
    try {
      there = connector?.look && (await connector.look(this.access.of(channel), remoteId));
    } catch (error) {
      throw new PlainError(502, wordsOfNetworkError(error, channel, connector));
    }
    if (there?.state !== 'planned') throw new Refused('attaching: event gone', { channel: channelInFull(channel) });
    const { facts, watchUrl } = there;
    const columns = {
      ...{ placedAt: facts.startsAt, visibility: facts.visibility, told: facts },
      ...{ seen: facts, seenAt: this.clock.now(), gone: false, remoteId, watchUrl, refusal: '' },
    };
    const alone = airings.every((each) => each.channel.id === channelId || each.airing.placing === 'none');
    const common = alone ? { title: asPlainText(facts.title), description: asPlainText(facts.text) } : {};
    // Taken over whole or not at all: half of it would be a show that stands for nothing.
    const airing = await together(this.database, async () => {
      const mine: Airing = Object.assign(before ?? { ...BLANK_AIRING, id: randomUUID(), showId, channelId }, columns, { placing: 'placed' as const });
      if (!before) await this.airingRows.add(mine);
      // Withdrawn, unticked or placed meanwhile: then it is another airing that somebody has looked at.
      else if ((await this.airingRows.move(before.id, wasPlacing!, 'stands', columns)) === null) throw new Refused('placing: changed meanwhile');
      await this.takeOver(person, Object.assign(show, common), mine, alone ? AIRING_FIELDS : ['title', 'text', 'visibility', 'choices'], common);
      await this.shows.settleState(showId);
      return mine;
    });
    await this.lines.issuedFor(airing, channel, show.title);
  }

  /** Takes fields of what was seen on a channel into the sheet. */
  private async takeOver(person: Person, show: Show, airing: Airing, fields: readonly AiringField[], columns: Partial<Show> = {}): Promise<void> {
    const theirs = airing.seen!;
    const keys = new Set<string>();
    // What the common words come to, filled in for this channel: where they say the same, no variant is needed.
    const station = await this.airings.station(show.stationId);
    const channel = await this.channels.one(show.stationId, airing.channelId);
    const common = this.airings.facts(show, { ...airing, title: null, description: null }, channel, station);
    for (const field of fields) {
      if (field === 'startsAt') ['date', 'time', 'fold'].forEach((key) => keys.add(key));
      else keys.add(field === 'lengthMs' ? 'lengthMin' : `variants/${airing.channelId}`);
      if (field === 'title') airing.title = theirs.title === common.title ? null : asPlainText(theirs.title);
      if (field === 'text') airing.description = theirs.text === common.text ? null : asPlainText(theirs.text);
      if (field === 'visibility') airing.choices = { ...airing.choices, visibility: theirs.visibility };
      if (field === 'choices') airing.choices = { ...airing.choices, ...chosenThere(theirs.choices) };
      if (field === 'startsAt' || field === 'lengthMs') columns[field] = theirs[field];
    }
    await this.shows.write(show.id, columns, [...keys], person.name);
    const { title, description, choices } = airing;
    await this.airingRows.change(airing.id, { title, description, choices });
  }
}

/** What an event's network tells of it, as a show keeps what is chosen for it. */
const chosenThere = (told: AiringFacts['choices']): AiringChoices =>
  Object.fromEntries(Object.entries(told ?? {}).filter(([, value]) => value !== null && value !== undefined));
