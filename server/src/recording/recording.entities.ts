import type { RecordedPart } from '@lantern/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

export type RecordingState = 'none' | 'making' | 'ready' | 'failed';

/** What is known of the recording of one show; without a row there is none. */
@Entity('recordings')
export class Recording {
  @PrimaryColumn('text') showId!: string;
  @Column('text') state!: RecordingState;
  /** What has been received while it is on air; its own length once it is made. */
  @Column('integer') lengthMs!: number;
  /** Which of the programme stands where in it; null: it was made from pieces, or before this was kept. */
  @Column('simple-json', { nullable: true }) parts!: RecordedPart[] | null;
}
