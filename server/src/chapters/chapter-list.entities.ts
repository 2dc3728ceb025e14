import type { Chapter } from '@lantern/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Chapters that were changed by hand. */
@Entity('chapter_lists')
export class ChapterList {
  @PrimaryColumn('text') showId!: string;
  @Column('integer') revision!: number;
  @Column('simple-json') chapters!: Chapter[];
}
