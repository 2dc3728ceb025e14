import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Figures of a past show that its thinned samples no longer tell. */
@Entity('past_figures')
export class PastFigures {
  @PrimaryColumn('text') showId!: string;
  /** The most that watched on all channels together; null: no network told. */
  @Column('integer', { nullable: true }) peakTogether!: number | null;
}
