// The rows of recordings.
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { Recording } from './recording.entities';

@Injectable()
export class RecordingRows {
  constructor(private readonly database: DataSource) {}

  async of(showId: string): Promise<Omit<Recording, 'showId'>> {
    const none = { state: 'none' as const, lengthMs: 0, parts: null };
    const { state, lengthMs, parts } = (await this.database.getRepository(Recording).findOneBy({ showId })) ?? none;
    return { state, lengthMs, parts };
  }

  /** Identifiers of the shows whose recordings are being made. */
  async making(): Promise<string[]> {
    return (await this.database.getRepository(Recording).findBy({ state: 'making' })).map(({ showId }) => showId);
  }

  async become(showId: string, columns: Partial<Omit<Recording, 'showId'>>): Promise<void> {
    const before = await this.of(showId);
    await this.database.getRepository(Recording).upsert({ showId, ...before, ...columns }, ['showId']);
  }

  /** Notes how much has been received so far; of a show whose recording is being made that is no longer of interest. */
  async noteReceived(showId: string, lengthMs: number): Promise<void> {
    await this.database.query(
      `INSERT INTO recordings (showId, state, lengthMs) VALUES (?, 'none', ?) ON CONFLICT (showId) DO UPDATE SET lengthMs = excluded.lengthMs WHERE state = 'none'`,
      [showId, lengthMs],
    );
  }

  async forget(showId: string): Promise<void> {
    await this.database.getRepository(Recording).delete({ showId });
  }
}
