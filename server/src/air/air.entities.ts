import type { Lamp } from '@lantern/core';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';

/** What a network said about an airing at one moment of a show. */
@Entity('air_samples')
export class AirSampleRow {
  @PrimaryGeneratedColumn() id!: number;
  @Column('text') airingId!: string;
  @Column('integer') at!: number;
  @Column('text') lamp!: Lamp;
  @Column('integer', { nullable: true }) watching!: number | null;
}
