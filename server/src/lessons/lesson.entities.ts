import type { Lesson } from '@lantern/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What was noted of a show for the next time. */
@Entity('lessons')
export class LessonsRow {
  @PrimaryColumn('text') showId!: string;
  @Column('integer') revision!: number;
  @Column('simple-json') lessons!: Lesson[];
}
