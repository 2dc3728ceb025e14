import type { Lamp, SceneId } from '@lantern/core';
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';

/** What a network said about an airing at one moment of a show. */
@Entity('air_samples')
export class AirSampleRow {
  @PrimaryGeneratedColumn() id!: number;
  @Column('text') airingId!: string;
  @Column('integer') at!: number;
  @Column('text') lamp!: Lamp;
  @Column('integer', { nullable: true }) watching!: number | null;
}

/** How the stage of a show stands; without a row it is as before the show. */
@Entity('stages')
export class Stage {
  @PrimaryColumn('text') showId!: string;
  /** The scene in the programme. */
  @Column('text') programme!: SceneId;
}
