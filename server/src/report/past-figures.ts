// Figures of past shows that their thinned samples no longer tell.
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
    await addRow(this.database.manager, PastFigures, { showId, peakTogether });
  }
}
