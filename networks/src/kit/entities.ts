// What the stand-in networks remember. Each row belongs to one network; nothing is shared with the product.
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

export type Network = 'reelmoor' | 'townfold';

/** A person who signs in at a network. */
@Entity('logins')
export class Login {
  @PrimaryColumn('text') id!: string;
  @Column('text') network!: Network;
  @Column('text') name!: string;
  @Column('text') passwordHash!: string;
}

/** A page, group, profile or library channel that a login may speak for. */
@Entity('accounts')
export class Account {
  @PrimaryColumn('text') id!: string;
  @Column('text') network!: Network;
  @Column('text') loginId!: string;
  @Column('text') kind!: 'library channel' | 'page' | 'group' | 'profile';
  @Column('text') name!: string;
  /** Two letters and a hue: the stand-ins draw portraits from them. */
  @Column('text') monogram!: string;
  @Column('integer') hue!: number;
  /** How many made-up viewers come to a show at its best moment. */
  @Column('integer') followers!: number;
}

@Entity('grants')
export class Grant {
  /** SHA-256 of the authorisation code while it is open, of the access token afterwards. */
  @PrimaryColumn('text') id!: string;
  @Column('text') network!: Network;
  @Column('text') loginId!: string;
  @Column('text', { nullable: true }) codeHash!: string | null;
  @Column('text', { nullable: true }) codeChallenge!: string | null;
  @Column('text', { nullable: true }) redirectUri!: string | null;
  @Index() @Column('text', { nullable: true }) accessHash!: string | null;
  @Index() @Column('text', { nullable: true }) refreshHash!: string | null;
  @Column('integer') expiresAt!: number;
}

/** A named way in: a key that an encoder shows at the ingest. */
@Entity('lines')
export class Line {
  @PrimaryColumn('text') id!: string;
  @Column('text') network!: Network;
  @Column('text') accountId!: string;
  @Column('text') label!: string;
  @Index({ unique: true }) @Column('text') key!: string;
  @Column('boolean') lasting!: boolean;
}

export type EventState = 'planned' | 'public' | 'over' | 'withdrawn';

@Entity('events')
@Index(['accountId', 'idempotencyKey'], { unique: true })
export class EventRow {
  @PrimaryColumn('text') id!: string;
  @Column('text') network!: Network;
  @Column('text') accountId!: string;
  @Column('text', { nullable: true }) idempotencyKey!: string | null;
  @Column('text') title!: string;
  @Column('text') text!: string;
  @Column('integer') startsAt!: number;
  @Column('text') visibility!: string;
  @Column('text') state!: EventState;
  @Column('text') lineId!: string;
  @Column('text') beginsBy!: 'told' | 'picture';
  @Column('integer') delaySeconds!: number;
  @Column('text', { nullable: true }) thumbnailType!: string | null;
  @Column('integer', { nullable: true }) publicAt!: number | null;
  @Column('integer', { nullable: true }) endedAt!: number | null;
}
