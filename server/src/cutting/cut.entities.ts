import type { Passage } from '@lantern/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What was made of a cut. `revision` and `kept`: what the cut was then. */
export interface MadeCut {
  revision: number;
  kept: Passage[];
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
  @Column('text') state!: 'idle' | 'making' | 'failed';
  @Column('text') trouble!: string;
  @Column('simple-json', { nullable: true }) made!: MadeCut | null;
  @Column('boolean') shown!: boolean;
}
