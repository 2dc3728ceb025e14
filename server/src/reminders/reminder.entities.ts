import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Somebody who asked to be reminded of a show. Nothing is sent beyond the first mail before they confirm. */
@Entity('registrations')
export class Registration {
  @PrimaryColumn('text') id!: string;
  @Column('text') showId!: string;
  @Column('text') email!: string;
  /** IANA zone in which mails say the start. */
  @Column('text') zone!: string;
  /** SHA-256 of the secret with which they confirm and leave. */
  @Column('text') tokenHash!: string;
  @Column('integer') askedAt!: number;
  @Column('integer', { nullable: true }) confirmedAt!: number | null;
  /** The start that they were last told. */
  @Column('integer') toldStart!: number;
  /** Of which moment they were last reminded. */
  @Column('text') told!: string;
}

/** Somebody who asked to hear of every new show for everyone of a station. */
@Entity('subscriptions')
export class Subscription {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') email!: string;
  @Column('text') zone!: string;
  /** SHA-256 of the secret with which they confirm. */
  @Column('text') tokenHash!: string;
  @Column('integer') askedAt!: number;
  @Column('integer', { nullable: true }) confirmedAt!: number | null;
  /** Shows that were placed until then were told. */
  @Column('integer') toldUntil!: number;
}
