import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Somebody whom the station writes to. */
@Entity('contacts')
export class Contact {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') name!: string;
  @Column('text') email!: string;
  @Column('simple-json') groups!: string[];
}
