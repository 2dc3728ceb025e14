// The rows of channels and of their lines. Which of them are the station's register is ChannelsService's to say.
import { Injectable } from '@nestjs/common';
import { DataSource, In, IsNull, Not, type Repository } from 'typeorm';
import { addRow, changeRow } from '../foundation/together';
import { Channel } from './channel.entities';
import { Line } from './line.entities';

@Injectable()
export class ChannelRows {
  constructor(private readonly database: DataSource) {}

  private get rows(): Repository<Channel> {
    return this.database.getRepository(Channel);
  }

  byId(id: string): Promise<Channel | null> {
    return this.rows.findOneBy({ id });
  }

  mustBe(id: string): Promise<Channel> {
    return this.rows.findOneByOrFail({ id });
  }

  one(stationId: string, id: string): Promise<Channel | null> {
    return this.rows.findOneBy({ id, stationId });
  }

  some(ids: readonly string[]): Promise<Channel[]> {
    return this.rows.findBy({ id: In([...ids]) });
  }

  /** All that a station has or had: past shows keep those that were unlinked. */
  atStation(stationId: string): Promise<Channel[]> {
    return this.rows.findBy({ stationId });
  }

  /** Those that are linked or were typed in. */
  linked(stationId: string): Promise<Channel[]> {
    return this.rows.find({ where: { stationId, access: Not('unlinked') }, order: { network: 'ASC', name: 'ASC' } });
  }

  /** The identifiers of all that are linked, at any station. */
  async linkedIds(): Promise<Set<string>> {
    return new Set((await this.rows.find({ where: { access: Not('unlinked') }, select: { id: true } })).map(({ id }) => id));
  }

  async networks(): Promise<Set<Channel['network']>> {
    return new Set((await this.rows.find({ select: { id: true, network: true } })).map(({ network }) => network));
  }

  ofAccount(stationId: string, network: Channel['network'], remoteId: string): Promise<Channel | null> {
    return this.rows.findOneBy({ stationId, network, remoteId });
  }

  add(channel: Channel): Promise<Channel> {
    return addRow(this.database.manager, Channel, channel);
  }

  async change(id: string, columns: Partial<Channel>): Promise<void> {
    await changeRow(this.database.manager, Channel, { id }, columns);
  }
}

@Injectable()
export class LineRows {
  constructor(private readonly database: DataSource) {}

  private get rows(): Repository<Line> {
    return this.database.getRepository(Line);
  }

  byId(id: string): Promise<Line | null> {
    return this.rows.findOneBy({ id });
  }

  ofAiring(airingId: string): Promise<Line | null> {
    return this.rows.findOneBy({ airingId });
  }

  onChannel(channelId: string, id: string): Promise<Line | null> {
    return this.rows.findOneBy({ id, channelId });
  }

  /** All of some channels, those of single shows too, in the order of their making. */
  onChannels(channelIds: readonly string[]): Promise<Line[]> {
    return this.rows.find({ where: { channelId: In([...channelIds]) }, order: { createdAt: 'ASC' } });
  }

  /** The lasting ones of some channels, in the order of their making: the first is the one that is taken where none is chosen. */
  lasting(channelIds: readonly string[]): Promise<Line[]> {
    return this.rows.find({ where: { channelId: In([...channelIds]), airingId: IsNull() }, order: { createdAt: 'ASC' } });
  }

  add(line: Line): Promise<Line> {
    return addRow(this.database.manager, Line, line);
  }

  async change(id: string, columns: Partial<Line>): Promise<void> {
    await changeRow(this.database.manager, Line, { id }, columns);
  }

  async remove(ids: readonly string[]): Promise<void> {
    await this.rows.delete({ id: In([...ids]) });
  }

  async removeAllOf(channelId: string): Promise<void> {
    await this.rows.delete({ channelId });
  }
}
