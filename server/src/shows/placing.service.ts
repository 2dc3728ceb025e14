// Placing shows on channels, changing and withdrawing them there. Each channel answers on its own.
import type { ChannelResult } from '@lantern/contract';
import { checkShow, sayFinding, wordingFor, type RuleSheet } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { ChannelAccessService, placeName, wordsOfNetworkError } from '../channels/access.service';
import { Channel } from '../channels/channel.entities';
import { AccessEnded, NetworkRefusal, type AiringOrder, type Picture } from '../channels/connectors/connector';
import { RuleBookService } from '../channels/rule-book.service';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { LinesService } from '../lines/lines.service';
import { PlanService } from '../lines/plan.service';
import { Airing, Show, standsThere } from './show.entities';
import { ShowsService } from './shows.service';
import { Thumbnails } from './thumbnails';

@Injectable()
export class PlacingService {
  /** Shows being placed at this moment: a second press must not overtake the first. */
  private readonly busy = new Set<string>();

  constructor(
    private readonly database: DataSource,
    private readonly shows: ShowsService,
    private readonly access: ChannelAccessService,
    private readonly ruleBook: RuleBookService,
    private readonly lines: LinesService,
    private readonly plan: PlanService,
    private readonly thumbnails: Thumbnails,
    private readonly clock: Clock,
  ) {}

  /** Places what is missing and leaves alone what stands. Throws, and asks nobody, if our own checks object to every channel; otherwise a channel objected to is refused and the rest go on. */
  async place(stationId: string, showId: string): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      const { show, airings } = await this.shows.whole(stationId, showId);
      if (show.state !== 'draft' && show.state !== 'placed') throw new PlainError(409, 'This show can no longer be placed.');
      if (!airings.length) throw new PlainError(422, 'No channel is ticked. Tick at least one, then place the show.');
      const missing = airings.filter(({ airing }) => !isReady(airing));
      const objections = await Promise.all(missing.map(({ airing, channel }) => this.objection(show, airing, channel)));
      if (missing.length && objections.every((words) => words !== null)) throw new PlainError(422, objections[0]!);
      const results = await Promise.all(missing.map(({ airing, channel }, at) => this.placeOne(show, airing, channel, objections[at]!)));
      if (airings.some(({ airing }) => isReady(airing))) await this.database.getRepository(Show).update({ id: show.id }, { state: 'placed' });
      return results;
    });
  }

  /** Makes the event of an airing at the moment of going on air, on a channel that takes nothing in advance. Throws what the network said. */
  async placeNow(show: Show, airing: Airing, channel: Channel): Promise<void> {
    await this.create(show, airing, channel, null);
  }

  /** Brings a changed sheet to the channels on which the show stands. */
  async move(stationId: string, showId: string): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      const { show, airings } = await this.shows.whole(stationId, showId);
      const standing = airings.filter(({ airing }) => airing.placing === 'placed');
      return Promise.all(
        standing.map(({ airing, channel }) =>
          this.attempt(airing, channel, async () => {
            const connector = this.access.connectorOf(channel);
            if (connector) {
              await connector.change(this.access.of(channel), airing.remoteId!, await this.order(show, airing, channel, show.startsAt));
              await this.sendPicture(show, airing, channel);
            }
            await this.keep(airing, { placedAt: show.startsAt, refusal: '' });
            return `Changed on ${channel.name}.`;
          }),
        ),
      );
    });
  }

  async withdraw(stationId: string, showId: string): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      const { show, airings } = await this.shows.whole(stationId, showId);
      if (show.state !== 'draft' && show.state !== 'placed')
        throw new PlainError(409, 'Only a show that has not been on air can be withdrawn. Wrap it up instead.');
      const results = await Promise.all(
        airings.map(({ airing, channel }) =>
          this.attempt(airing, channel, async () => {
            const connector = this.access.connectorOf(channel);
            if (connector && standsThere(airing)) {
              // What we are unsure of is found again first: asking with the same identifier makes nothing new.
              if (!airing.remoteId) {
                Object.assign(airing, await connector.place(this.access.of(channel), await this.order(show, airing, channel, show.startsAt), airing.id));
              }
              await connector.withdraw(this.access.of(channel), airing.remoteId!);
            }
            await this.keep(airing, { placing: 'withdrawn', refusal: '' });
            return `Withdrawn from ${channel.name}.`;
          }),
        ),
      );
      if (results.every(({ done }) => done)) await this.database.getRepository(Show).update({ id: show.id }, { state: 'withdrawn' });
      return results;
    });
  }

  private async placeOne(show: Show, airing: Airing, channel: Channel, objection: string | null): Promise<ChannelResult> {
    if (objection) {
      await this.keep(airing, { refusal: objection, placing: airing.placing === 'unsure' ? 'unsure' : 'refused' });
      return result(airing, channel, false, objection);
    }
    const connector = this.access.connectorOf(channel);
    if (!connector) {
      await this.keep(airing, { placing: 'placed', placedAt: show.startsAt, refusal: '' });
      return result(airing, channel, true, `${channel.name} is ready: its picture is sent when the show goes on air.`);
    }
    if (!this.ruleBook.rules(channel).maySchedule) {
      await this.keep(airing, { placing: 'awaits air', refusal: '' });
      return result(airing, channel, true, `${channel.name} is ready: the show begins there when you go on air.`);
    }
    try {
      await this.create(show, airing, channel, show.startsAt);
    } catch (error) {
      const refusal = wordsOfNetworkError(error, channel, connector);
      await this.keep(airing, { refusal });
      return result(airing, channel, false, refusal);
    }
    try {
      await this.sendPicture(show, airing, channel);
    } catch (error) {
      const refusal = `It stands there, but without its picture. ${wordsOfNetworkError(error, channel, connector)}`;
      await this.keep(airing, { refusal });
      return result(airing, channel, true, refusal);
    }
    return result(airing, channel, true, `Placed on ${channel.name}.`);
  }

  /** Makes the event of an airing, or finds the one that an earlier try may have made. Throws what the network said. */
  private async create(show: Show, airing: Airing, channel: Channel, startsAt: number | null): Promise<void> {
    const connector = this.access.connectorOf(channel)!;
    const access = this.access.of(channel);
    const wasUnsure = airing.placing === 'unsure';
    const waited = airing.placing === 'awaits air';
    const order = await this.order(show, airing, channel, startsAt);
    await this.keep(airing, { placing: 'unsure', refusal: '', visibility: order.visibility });
    try {
      const placed = await connector.place(access, order, airing.id);
      // An event found from an earlier try may carry an older text.
      if (wasUnsure && startsAt !== null) await connector.change(access, placed.remoteId, order);
      await this.keep(airing, { placing: 'placed', placedAt: startsAt, remoteId: placed.remoteId, watchUrl: placed.watchUrl, refusal: '' });
    } catch (error) {
      const certain = error instanceof NetworkRefusal || error instanceof AccessEnded;
      if (certain && !wasUnsure) await this.keep(airing, { placing: waited ? 'awaits air' : 'refused' });
      throw error;
    }
    await this.lines.issuedFor(airing, channel, show.title);
  }

  /** Everything that is told to a channel's network about an airing. */
  private async order(show: Show, airing: Airing, channel: Channel, startsAt: number | null): Promise<AiringOrder> {
    const rules = this.ruleBook.rules(channel);
    const line = await this.lines.chosen(airing, channel);
    // What was chosen as a default while the network offered it may have gone since.
    const wanted = standsThere(airing) ? airing.visibility : channel.defaults.visibility;
    return {
      wording: wordingFor(show, rules),
      startsAt: rules.maySchedule ? startsAt : null,
      lengthMs: show.lengthMs,
      visibility: rules.visibilities.includes(wanted) ? wanted : rules.visibilities[0]!,
      defaults: channel.defaults,
      remoteLineId: line?.remoteId ?? null,
      picture: rules.lockedAfterPlacing.includes('everything') ? await this.picture(show, rules) : null,
    };
  }

  private async picture(show: Show, rules: RuleSheet): Promise<Picture | null> {
    if (!show.thumbnail || !rules.thumbnail) return null;
    return { jpeg: await this.thumbnails.rendition(show, rules.thumbnail), words: show.thumbnailAlternative };
  }

  private async sendPicture(show: Show, airing: Airing, channel: Channel): Promise<void> {
    const connector = this.access.connectorOf(channel);
    const picture = connector && (await this.picture(show, this.ruleBook.rules(channel)));
    if (picture) await connector.setThumbnail(this.access.of(channel), airing.remoteId!, picture);
  }

  private async attempt(airing: Airing, channel: Channel, work: () => Promise<string>): Promise<ChannelResult> {
    try {
      return result(airing, channel, true, await work());
    } catch (error) {
      const words = wordsOfNetworkError(error, channel, this.access.connectorOf(channel));
      await this.keep(airing, { refusal: words });
      return result(airing, channel, false, words);
    }
  }

  /** What our own checks say against an airing, in words; null when nothing does. */
  private async objection(show: Show, airing: Airing, channel: Channel): Promise<string | null> {
    const state = this.access.stateOf(channel);
    if (state === 'ended') return `Access to ${channel.name} was withdrawn or has run out. Link the channel again.`;
    if (state === 'unreadable') return `The key file that sealed the access to ${channel.name} is lost. Link the channel again.`;
    const findings = checkShow(this.shows.facts(show, airing), this.ruleBook.rules(channel), this.clock.now());
    const first = findings.find(({ severity }) => severity === 'objection');
    if (first) return sayFinding(first, placeName(channel), show.zone);
    // Whether the channel may broadcast is left to the network: a condition may have been met since it was asked.
    return this.plan.objection(show.stationId, airing);
  }

  private async keep(airing: Airing, change: Partial<Airing>): Promise<void> {
    Object.assign(airing, change);
    await this.database.getRepository(Airing).save(airing);
  }

  private async alone<T>(showId: string, work: () => Promise<T>): Promise<T> {
    if (this.busy.has(showId)) throw new PlainError(409, 'The channels are still being asked. Wait for their answers.');
    this.busy.add(showId);
    try {
      return await work();
    } finally {
      this.busy.delete(showId);
    }
  }
}

/** Whether nothing needs to be done for an airing until it goes on air. */
const isReady = ({ placing }: Airing): boolean => placing === 'placed' || placing === 'awaits air';

function result(airing: Airing, channel: Channel, done: boolean, words: string): ChannelResult {
  return { airingId: airing.id, channelName: channel.name, done, words };
}
