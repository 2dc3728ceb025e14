// What networks said about airings while their shows were on air: written every few seconds, read by the report, thinned later.
import { instant, type AirSample } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource, In, MoreThan } from 'typeorm';
import { AirSampleRow } from './air.entities';

@Injectable()
export class AirSamples {
  constructor(private readonly database: DataSource) {}

  async add(sample: Omit<AirSampleRow, 'id'>): Promise<void> {
    await this.database.getRepository(AirSampleRow).insert(sample);
  }

  /** In the order of their moments; `ids` beside them, each at the place of its sample. */
  async of(airingId: string): Promise<{ samples: AirSample[]; ids: number[] }> {
    // Thousands for an evening: read as they are.
    const rows = (await this.database.query('SELECT id, at, lamp, watching FROM air_samples WHERE airingId = ? ORDER BY at, id', [airingId])) as Omit<
      AirSampleRow,
      'airingId'
    >[];
    return { samples: rows.map(({ at, lamp, watching }) => ({ at: instant(at), lamp, watching })), ids: rows.map(({ id }) => id) };
  }

  /** Another one as soon as a sample of these airings comes or goes. */
  async mark(airingIds: readonly string[]): Promise<string> {
    const holders = airingIds.map(() => '?').join();
    const [{ count, last }] = (await this.database.query(`SELECT COUNT(*) AS count, MAX(id) AS last FROM air_samples WHERE airingId IN (${holders})`, [
      ...airingIds,
    ])) as [{ count: number; last: number | null }];
    return `${count} ${last ?? 0}`;
  }

  /** What was told of an airing since then, in the order of its moments. */
  async since(airingId: string, from: number): Promise<AirSample[]> {
    const rows = await this.database.getRepository(AirSampleRow).find({ where: { airingId, at: MoreThan(from) }, order: { at: 'ASC', id: 'ASC' } });
    return rows.map(({ at, lamp, watching }) => ({ at: instant(at), lamp, watching }));
  }

  /** Whether any of these airings has been public. */
  wasLit(airingIds: readonly string[]): Promise<boolean> {
    return this.database.getRepository(AirSampleRow).existsBy({ airingId: In([...airingIds]), lamp: 'lit' });
  }

  /** When an airing was first seen to be public; null: never. */
  async litSince(airingId: string): Promise<number | null> {
    return (await this.database.getRepository(AirSampleRow).minimum('at', { airingId, lamp: 'lit' })) ?? null;
  }

  async forget(airingIds: readonly string[]): Promise<void> {
    await this.database.getRepository(AirSampleRow).delete({ airingId: In([...airingIds]) });
  }

  async drop(ids: readonly number[]): Promise<void> {
    await this.database.getRepository(AirSampleRow).delete({ id: In([...ids]) });
  }
}
