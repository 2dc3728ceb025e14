// What networks said about airings while their shows were on air: written every few seconds, read by the report, thinned later.
import { instant, type AirSample } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource, In } from 'typeorm';
import { AirSampleRow } from './air.entities';

@Injectable()
export class AirSamples {
  constructor(private readonly database: DataSource) {}

  async add(sample: Omit<AirSampleRow, 'id'>): Promise<void> {
    await this.database.getRepository(AirSampleRow).insert(sample);
  }

  /** In the order of their moments; `ids` beside them, each at the place of its sample. */
  async of(airingId: string): Promise<{ samples: AirSample[]; ids: number[] }> {
    const rows = await this.database.getRepository(AirSampleRow).find({ where: { airingId }, order: { at: 'ASC', id: 'ASC' } });
    return { samples: rows.map(({ at, lamp, watching }) => ({ at: instant(at), lamp, watching })), ids: rows.map(({ id }) => id) };
  }

  /** Whether any of these airings has been public. */
  wasLit(airingIds: readonly string[]): Promise<boolean> {
    return this.database.getRepository(AirSampleRow).existsBy({ airingId: In([...airingIds]), lamp: 'lit' });
  }

  async forget(airingIds: readonly string[]): Promise<void> {
    await this.database.getRepository(AirSampleRow).delete({ airingId: In([...airingIds]) });
  }

  async drop(ids: readonly number[]): Promise<void> {
    await this.database.getRepository(AirSampleRow).delete({ id: In([...ids]) });
  }
}
