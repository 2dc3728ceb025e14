import type { Scene } from '@lantern/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** One of a station's scenes. A station without any has those with which every station begins. */
@Entity('scenes')
export class SceneRow {
  @PrimaryColumn('text') stationId!: string;
  @PrimaryColumn('text') id!: string;
  /** In the order of the station. */
  @Column('integer') place!: number;
  /** Counts its changes: one is written over the state that was looked at, and over no other. */
  @Column('integer') revision!: number;
  @Column('simple-json') scene!: Omit<Scene, 'id'>;
}
