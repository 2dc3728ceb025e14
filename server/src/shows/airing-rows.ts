// The rows of airings, for all parts that talk about one show on one channel.
import type { PlacingState } from '@lantern/contract';
import { AIRING_LIFE, airingAfter, type AiringEvent } from '@lantern/core';
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

  /** All but how it stands there: that is moved by what happens to it. */
  async change(id: string, columns: Partial<Omit<Airing, 'placing'>>): Promise<void> {
    await changeRow(this.database.manager, Airing, { id }, columns);
  }

  /**
   * Takes an airing out of the state in which it was looked at by an event, as the table of its life says (core/shows/life.ts). Null: somebody
   * else took it out of that state before, or it is gone. Throws where this state does not know the event: asking for that is a mistake of
   * whoever asks.
   */
  async move(id: string, from: PlacingState, event: AiringEvent, columns: Partial<Omit<Airing, 'placing'>> = {}): Promise<PlacingState | null> {
    const placing = airingAfter(from, event);
    if (placing === null) throw new Error(`An airing that is ${from} is not taken further by “${event}”.`);
    return (await changeRow(this.database.manager, Airing, { id, placing: from }, { placing, ...columns })) > 0 ? placing : null;
  }

  /** Notes at what stands nowhere yet why it cannot be placed. */
  async refuse(ids: readonly string[], refusal: string): Promise<void> {
    const standsNot = AIRING_LIFE.filter((state) => airingAfter(state, 'objected') === 'refused');
    await changeRow(this.database.manager, Airing, { id: In([...ids]), placing: In(standsNot) }, { placing: 'refused', refusal });
  }

  async remove(ids: readonly string[]): Promise<void> {
    await this.rows.delete({ id: In([...ids]) });
  }
}
