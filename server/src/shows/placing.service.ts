// Placing shows on channels, changing and withdrawing them there. Each channel answers on its own.
import { NETWORK_NAMES, type ChannelResult } from '@lantern/contract';
import { checkShow, rulesFor, sayFinding } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { Channel } from '../channels/channel.entities';
import { ChannelsService, wordsOfNetworkError } from '../channels/channels.service';
import { AccessEnded, NetworkRefusal } from '../channels/connectors/connector';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { Airing, Show } from './show.entities';
import { standsThere, ShowsService } from './shows.service';
import { Thumbnails } from './thumbnails';

@Injectable()
export class PlacingService {
  /** Shows being placed at this moment: a second press must not overtake the first. */
  private readonly busy = new Set<string>();

  constructor(
    private readonly database: DataSource,
    private readonly shows: ShowsService,
    private readonly channels: ChannelsService,
    private readonly thumbnails: Thumbnails,
    private readonly clock: Clock,
  ) {}

  /** Places what is missing and leaves alone what stands. Throws, and asks nobody, if our own checks object to every channel; otherwise a channel objected to is refused and the rest go on. */
  async place(stationId: string, showId: string): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      const whole = await this.shows.whole(stationId, showId);
      const { show, airings } = whole;
      if (show.state !== 'draft' && show.state !== 'placed') throw new PlainError(409, 'This show can no longer be placed.');
      if (!airings.length) throw new PlainError(422, 'No channel is ticked. Tick at least one, then place the show.');
      const missing = airings.filter(({ airing }) => airing.placing !== 'placed');
      const objections = missing.map(({ channel }) => this.objection(show, channel));
      if (missing.length && objections.every((words) => words !== null)) throw new PlainError(422, objections[0]!);
      const results = await Promise.all(missing.map(({ airing, channel }) => this.placeOne(show, airing, channel)));
      if (airings.some(({ airing }) => airing.placing === 'placed')) await this.database.getRepository(Show).update({ id: show.id }, { state: 'placed' });
      return results;
    });
  }

  /** Brings a changed sheet to the channels on which the show stands. */
  async move(stationId: string, showId: string): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      const { show, airings } = await this.shows.whole(stationId, showId);
      const standing = airings.filter(({ airing }) => airing.placing === 'placed');
      return Promise.all(
        standing.map(({ airing, channel }) =>
          this.attempt(airing, channel, async () => {
            const connector = this.channels.connectorOf(channel);
            if (connector) {
              await connector.change(this.channels.access(channel), airing.remoteId!, this.textOf(show));
              await this.sendPicture(show, airing, channel);
            }
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
            const connector = this.channels.connectorOf(channel);
            if (connector && standsThere(airing)) {
              // What we are unsure of is found again first: asking with the same identifier makes nothing new.
              if (!airing.remoteId) Object.assign(airing, await connector.place(this.channels.access(channel), this.textOf(show), airing.id));
              await connector.withdraw(this.channels.access(channel), airing.remoteId!);
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

  private async placeOne(show: Show, airing: Airing, channel: Channel): Promise<ChannelResult> {
    const objection = this.objection(show, channel);
    if (objection) {
      await this.keep(airing, { refusal: objection, placing: airing.placing === 'unsure' ? 'unsure' : 'refused' });
      return result(airing, channel, false, objection);
    }
    const connector = this.channels.connectorOf(channel);
    if (!connector) {
      await this.keep(airing, { placing: 'placed', refusal: '' });
      return result(airing, channel, true, `${channel.name} is ready: its picture is sent when the show goes on air.`);
    }
    const access = this.channels.access(channel);
    const wasUnsure = airing.placing === 'unsure';
    await this.keep(airing, { placing: 'unsure', refusal: '' });
    try {
      const placed = await connector.place(access, this.textOf(show), airing.id);
      // An event found from an earlier try may carry an older text.
      if (wasUnsure) await connector.change(access, placed.remoteId, this.textOf(show));
      await this.keep(airing, { placing: 'placed', remoteId: placed.remoteId, watchUrl: placed.watchUrl, refusal: '' });
    } catch (error) {
      const refusal = wordsOfNetworkError(error, channel, connector);
      const certain = error instanceof NetworkRefusal || error instanceof AccessEnded;
      await this.keep(airing, { placing: certain && !wasUnsure ? 'refused' : 'unsure', refusal });
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

  private async sendPicture(show: Show, airing: Airing, channel: Channel): Promise<void> {
    const connector = this.channels.connectorOf(channel);
    if (!show.thumbnail || !connector) return;
    await connector.setThumbnail(this.channels.access(channel), airing.remoteId!, await this.thumbnails.read(show));
  }

  private async attempt(airing: Airing, channel: Channel, work: () => Promise<string>): Promise<ChannelResult> {
    try {
      return result(airing, channel, true, await work());
    } catch (error) {
      const words = wordsOfNetworkError(error, channel, this.channels.connectorOf(channel));
      await this.keep(airing, { refusal: words });
      return result(airing, channel, false, words);
    }
  }

  /** What our own checks say against an airing, in words; null when nothing does. */
  private objection(show: Show, channel: Channel): string | null {
    const findings = checkShow(this.shows.facts(show), rulesFor(channel.network, channel.kind), this.clock.now());
    const first = findings.find(({ severity }) => severity === 'objection');
    return first ? sayFinding(first, placeName(channel), show.zone) : null;
  }

  private textOf(show: Show) {
    return { title: show.title, description: show.description, startsAt: show.startsAt };
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

function result(airing: Airing, channel: Channel, done: boolean, words: string): ChannelResult {
  return { airingId: airing.id, channelName: channel.name, done, words };
}

/** How a channel is spoken of in an objection: by its network, whose rule it is, or by its own name. */
export function placeName(channel: Pick<Channel, 'name' | 'network'>): string {
  return channel.network === 'typed-in' ? channel.name : NETWORK_NAMES[channel.network];
}
