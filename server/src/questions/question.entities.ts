import type { QuestionPlace, QuestionState } from '@lantern/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Something that a visitor of a house page asked. */
@Entity('questions')
export class Question {
  @PrimaryColumn('text') id!: string;
  @Column('text') showId!: string;
  /** SHA-256 of what the browser that asked keeps or, of a message, of what names it here. */
  @Column('text') keyHash!: string;
  @Column('text') name!: string;
  @Column('text') words!: string;
  /** Where it was written; null: on the house page. */
  @Column('text', { nullable: true }) channelId!: string | null;
  @Column('integer') askedAt!: number;
  @Column('text') state!: QuestionState;
  /** When it was said to be answered; null: it was not. */
  @Column('integer', { nullable: true }) answeredAt!: number | null;
  /** As the team has shortened it for the picture; null: as it was written. */
  @Column('text', { nullable: true }) onPicture!: string | null;
  @Column('text') place!: QuestionPlace;
  /** Their guest pass, where they have come in by one. */
  @Column('text', { nullable: true }) guestId!: string | null;
}

/** A show whose house page takes no questions. */
@Entity('shut_to_questions')
export class ShutToQuestions {
  @PrimaryColumn('text') showId!: string;
}
