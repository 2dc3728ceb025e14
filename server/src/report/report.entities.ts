import type { PeopleCounts } from '@lantern/contract';
import type { AiringFigures, WatchingAt, WatchTime } from '@lantern/core';
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

/** What is worked out of all samples of a show. `byAiring` in the order in which its airings were asked for, as is `by` of each moment. */
export interface Watched {
  peakTogether: number | null;
  byAiring: (Omit<AiringFigures, 'firstLitAt'> & WatchTime & { faults: { from: number; to: number }[] })[];
  watching: WatchingAt[];
}

/** `mark`: of what it was worked out. */
@Entity('watched_figures')
export class WatchedFigures {
  @PrimaryColumn('text') showId!: string;
  @Column('text') mark!: string;
  @Column('simple-json') figures!: Watched;
}
