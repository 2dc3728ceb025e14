import type { PeopleCounts } from '@lantern/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Figures of a past show that its thinned samples no longer tell. */
@Entity('past_figures')
export class PastFigures {
  @PrimaryColumn('text') showId!: string;
  /** The most that watched on all channels together; null: no network told. */
  @Column('integer', { nullable: true }) peakTogether!: number | null;
  /** Null: of a time before they were kept. */
  @Column('simple-json', { nullable: true }) counts!: PeopleCounts | null;
}
