import type { PollState } from '@lantern/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('polls')
export class Poll {
  @PrimaryColumn('text') id!: string;
  @Column('text') showId!: string;
  @Column('text') question!: string;
  @Column('simple-json') options!: string[];
  @Column('text') state!: PollState;
  @Column('integer') madeAt!: number;
  @Column('integer', { nullable: true }) openedAt!: number | null;
  @Column('integer', { nullable: true }) closedAt!: number | null;
  /** The place of the last message in which an answer was looked for. */
  @Column('integer', { default: 0 }) countedTo!: number;
}

@Entity('votes')
export class Vote {
  @PrimaryColumn('text') pollId!: string;
  /** The digest of a browser's key, or of a channel and the name of who wrote there. */
  @PrimaryColumn('text') voter!: string;
  @Column('text') showId!: string;
  /** Where it came from; “house page” for the page. */
  @Column('text') channelId!: string;
  @Column('integer') option!: number;
}
