// Figures of past shows that their thinned samples no longer tell.
import type { PeopleCounts } from '@lantern/contract';
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { addRow } from '../foundation/together';
import { RemovalService } from '../shows/removal.service';
import { PastFigures } from './report.entities';

@Injectable()
export class PastFiguresRows {
  constructor(
    private readonly database: DataSource,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'past_figures', where: 'showId = ?' });
  }

  /** Null: nothing was thinned yet, so that the samples tell. */
  of(showId: string): Promise<PastFigures | null> {
    return this.database.getRepository(PastFigures).findOneBy({ showId });
  }

  async keep(showId: string, peakTogether: number | null): Promise<void> {
    await addRow(this.database.manager, PastFigures, { showId, peakTogether, counts: await this.count(showId) });
  }

  /** How many wrote, asked and came, by what is still there; `kept`: as it was before that went. */
  async counts(showId: string, kept: PastFigures | null): Promise<PeopleCounts> {
    return kept?.counts ?? this.count(showId);
  }

  private async count(showId: string): Promise<PeopleCounts> {
    const of = (table: string, which = '1') => `(SELECT COUNT(*) FROM ${table} WHERE showId = ? AND ${which})`;
    const [row] = (await this.database.query(
      `SELECT ${of('messages')} AS messages, ${of('questions')} AS questions, ${of('questions', 'answeredAt IS NOT NULL')} AS answered,
        ${of('polls', 'openedAt IS NOT NULL')} AS polls, ${of('registrations', 'confirmedAt IS NOT NULL')} AS registered,
        ${of('invitations')} AS invited, ${of('invitations', 'cameAt IS NOT NULL')} AS came`,
      Array<string>(7).fill(showId),
    )) as [PeopleCounts];
    return row;
  }
}
