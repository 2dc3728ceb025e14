import type { Passage } from '@lantern/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What was made of a cut. `revision`, `kept` and `cardMs`: what the cut was then. */
export interface MadeCut {
  revision: number;
  kept: Passage[];
  /** Missing: of a time before there were any. */
  cardMs?: number;
  lengthMs: number;
  bytes: number;
  at: number;
}

/** A cut of a show's recording. */
@Entity('cuts')
export class Cut {
  @PrimaryColumn('text') id!: string;
  @Column('text') showId!: string;
  @Column('integer') createdAt!: number;
  @Column('text') name!: string;
  @Column('integer') revision!: number;
  @Column('simple-json') kept!: Passage[];
  @Column('boolean') levelled!: boolean;
  /** For how long a card with the title stands before it; 0: it has none. */
  @Column('integer', { default: 0 }) cardMs!: number;
  @Column('text') state!: 'idle' | 'making' | 'failed';
  @Column('text') trouble!: string;
  @Column('simple-json', { nullable: true }) made!: MadeCut | null;
  @Column('boolean') shown!: boolean;
}
