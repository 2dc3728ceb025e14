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
