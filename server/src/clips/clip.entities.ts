import type { ClipView } from '@lantern/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A prepared film or sound, whose files go by its id. */
@Entity('clips')
export class Clip {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') kind!: ClipView['kind'];
  @Column('text') name!: string;
  @Column('text') rights!: string;
  @Column('text') state!: ClipView['state'];
  @Column('text') words!: string;
  @Column('integer') lengthMs!: number;
  @Column('integer') inMs!: number;
  @Column('integer', { nullable: true }) outMs!: number | null;
  @Column('real', { nullable: true }) cameAt!: number | null;
  @Column('real') gainDb!: number;
  @Column('integer') addedAt!: number;
}
