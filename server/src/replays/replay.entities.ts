import type { ShownThere } from '@lantern/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What an airing is to show once it is over. */
@Entity('replays')
export class ReplayRow {
  @PrimaryColumn('text') airingId!: string;
  /** Counts what was asked for. */
  @Column('integer') revision!: number;
  @Column('text') shows!: ShownThere;
  /** Of a film: null is the whole recording. */
  @Column('text', { nullable: true }) cutId!: string | null;
  @Column('text') state!: 'stands' | 'asked' | 'failed';
  @Column('integer') sent!: number;
  @Column('integer') bytes!: number;
  @Column('text') trouble!: string;
  @Column('integer', { nullable: true }) hiddenAt!: number | null;
}
