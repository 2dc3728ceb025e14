import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A mail that is to go out. Its text is sealed: it holds links that are secrets. */
@Entity('mails')
export class Mail {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') recipient!: string;
  @Column('text') subject!: string;
  @Column('text') sealed!: string;
  /** What it is about; the same is never sent twice. */
  @Column('text') about!: string;
  @Column('integer') dueAt!: number;
  @Column('integer', { nullable: true }) sentAt!: number | null;
  @Column('integer') tries!: number;
  /** Why it could not be sent the last time. */
  @Column('text') trouble!: string;
}
