// The captions of recordings, in the times of the recording; cuts take theirs from them.
import type { Caption } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { Bus } from '../foundation/bus';
import { PlainError } from '../foundation/errors';
import { together } from '../foundation/together';
import { RemovalService } from '../shows/removal.service';
import { CaptionsRow } from './captions.entities';

const NONE = { revision: 0, language: 'en', captions: [] };

@Injectable()
export class CaptionsService {
  constructor(
    private readonly database: DataSource,
    private readonly bus: Bus,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'captions', where: 'showId = ?' });
  }

  async of(showId: string): Promise<Omit<CaptionsRow, 'showId'>> {
    const { revision, language, captions } = (await this.database.getRepository(CaptionsRow).findOneBy({ showId })) ?? NONE;
    return { revision, language, captions };
  }

  /** Keeps them over the state that was looked at. Throws where somebody else was there meanwhile. */
  async keep(showId: string, base: number, language: string, captions: Caption[]): Promise<void> {
    await together(this.database, async (entities) => {
      const now = await entities.findOneBy(CaptionsRow, { showId });
      if ((now?.revision ?? 0) !== base) throw new PlainError(409, 'Somebody else has changed the captions meanwhile. Theirs are there now; change those.');
      await entities.upsert(CaptionsRow, { showId, revision: base + 1, language, captions }, ['showId']);
    });
    this.bus.tell({ kind: 'recording', showId });
  }
}
