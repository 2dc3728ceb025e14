// The rows of airings, for all parts that talk about one show on one channel.
import type { PlacingState } from '@lantern/contract';
import { Injectable } from '@nestjs/common';
import { DataSource, In, Not, type Repository } from 'typeorm';
import { addRow, changeRow } from '../foundation/together';
import { Airing } from './show.entities';

@Injectable()
export class AiringRows {
  constructor(private readonly database: DataSource) {}

  private get rows(): Repository<Airing> {
    return this.database.getRepository(Airing);
  }

  byId(id: string): Promise<Airing | null> {
    return this.rows.findOneBy({ id });
  }

  mustBe(id: string): Promise<Airing> {
    return this.rows.findOneByOrFail({ id });
  }

  of(showId: string, channelId: string): Promise<Airing | null> {
    return this.rows.findOneBy({ showId, channelId });
  }

  ofShow(showId: string): Promise<Airing[]> {
    return this.rows.findBy({ showId });
  }

  ofShows(showIds: readonly string[]): Promise<Airing[]> {
    return this.rows.findBy({ showId: In([...showIds]) });
  }

  onChannels(channelIds: readonly string[]): Promise<Airing[]> {
    return this.rows.findBy({ channelId: In([...channelIds]) });
  }

  /** Of another show than this: the one that stands for an event. */
  otherFor(channelId: string, remoteId: string, showId: string): Promise<Airing | null> {
    return this.rows.findOneBy({ channelId, remoteId, showId: Not(showId) });
  }

  /** How often a show was placed anew, on all its channels together. */
  async rounds(showId: string): Promise<number> {
    return (await this.rows.sum('round', { showId })) ?? 0;
  }

  add(airing: Airing): Promise<Airing> {
    return addRow(this.database.manager, Airing, airing);
  }

  /** With `was`, only where it is still so placed. False: it is not, or is gone. */
  async change(id: string, columns: Partial<Airing>, was?: PlacingState): Promise<boolean> {
    return (await changeRow(this.database.manager, Airing, was === undefined ? { id } : { id, placing: was }, columns)) > 0;
  }

  /** Notes at what stands nowhere yet why it cannot be placed. */
  async refuse(ids: readonly string[], refusal: string): Promise<void> {
    await changeRow(this.database.manager, Airing, { id: In([...ids]), placing: Not(In(['placed', 'unsure'])) }, { placing: 'refused', refusal });
  }

  async remove(ids: readonly string[]): Promise<void> {
    await this.rows.delete({ id: In([...ids]) });
  }
}
