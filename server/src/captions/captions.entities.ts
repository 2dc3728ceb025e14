import type { Caption } from '@lantern/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** The captions of a show's recording. */
@Entity('captions')
export class CaptionsRow {
  @PrimaryColumn('text') showId!: string;
  @Column('integer') revision!: number;
  @Column('text') language!: string;
  @Column('simple-json') captions!: Caption[];
}

/** A line that somebody wrote down while a show was on. */
@Entity('live_notes')
export class LiveNoteRow {
  @PrimaryColumn('text') id!: string;
  @Column('text') showId!: string;
  @Column('integer') begunAt!: number;
  @Column('integer') at!: number;
  /** The name of its writer, as it was then. */
  @Column('text') by!: string;
  @Column('text') words!: string;
}
