import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Something that is to be done without anybody waiting for it, and that outlives a stop of the server. */
@Entity('jobs')
export class Job {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  /** What is done; see the services that take up a kind. */
  @Column('text') kind!: string;
  /** What it is done to: of each kind there is one at most. */
  @Column('text') subject!: string;
  @Column('integer') dueAt!: number;
  @Column('integer') tries!: number;
  /** Why it was not done the last time, in words; empty: nothing is wrong. */
  @Column('text') trouble!: string;
  /** When it was given up; null: it is still tried. */
  @Column('integer', { nullable: true }) givenUpAt!: number | null;
  /** Grows whenever it is asked for anew, so that what was asked for meanwhile is not taken for done. */
  @Column('integer') asked!: number;
}
