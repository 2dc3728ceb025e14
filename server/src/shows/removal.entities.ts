import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Something that was removed and can still be put back: its rows by table, in the order in which they are put back. */
@Entity('removals')
export class Removal {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') kind!: 'show' | 'template';
  @Column('text') subjectId!: string;
  @Column('text') title!: string;
  @Column('integer') until!: number;
  @Column('simple-json') tables!: [string, Record<string, string | number | null>[]][];
}
