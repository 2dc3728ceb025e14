import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Somebody whom the station writes to. */
@Entity('contacts')
export class Contact {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') name!: string;
  @Column('text') email!: string;
  @Column('simple-json') groups!: string[];
  /** What stands beneath their name where they are a guest. */
  @Column('text', { default: '' }) caption!: string;
  /** Where they are; null: not known. */
  @Column('text', { nullable: true }) zone!: string | null;
}
