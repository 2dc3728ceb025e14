// What the stand-in networks remember. Each row belongs to one network; nothing is shared with the product.
import { Column, Entity, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';

export const NETWORKS = ['reelmoor', 'townfold', 'guildhand', 'pipwire'] as const;
export type Network = (typeof NETWORKS)[number];

/** A person who signs in at a network. */
@Entity('logins')
export class Login {
  @PrimaryColumn('text') id!: string;
  @Column('text') network!: Network;
  @Column('text') name!: string;
  @Column('text') passwordHash!: string;
}

export type AccountKind = 'library channel' | 'page' | 'group' | 'profile' | 'member' | 'organisation' | 'handle';

/** An account that a login may speak for, and the facts that decide whether it may broadcast. */
@Entity('accounts')
export class Account {
  @PrimaryColumn('text') id!: string;
  @Column('text') network!: Network;
  @Column('text') loginId!: string;
  @Column('text') kind!: AccountKind;
  @Column('text') name!: string;
  /** Two letters and a hue: the stand-ins draw portraits from them. */
  @Column('text') monogram!: string;
  @Column('integer') hue!: number;
  /** Also how many made-up viewers come to a show at its best moment. */
  @Column('integer') followers!: number;
  @Column('boolean') phoneVerified!: boolean;
  @Column('integer', { nullable: true }) askedAt!: number | null;
  @Column('text') role!: 'owner' | 'editor' | 'reader';
  @Column('boolean') groupAllows!: boolean;
  @Column('integer') openedAt!: number;
  @Column('integer') connections!: number;
  /** Lets its supporters and members in without their sign-in. */
  @Column('text') membersKey!: string;
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
export type Visibility = 'everyone' | 'link-holders' | 'invited' | 'supporters' | 'members';

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
  @Column('integer') lengthMs!: number;
  @Column('text') visibility!: Visibility;
  @Column('text') state!: EventState;
  @Column('text') lineId!: string;
  @Column('text') beginsBy!: 'told' | 'picture';
  @Column('integer') delaySeconds!: number;
  /** How far back viewers may go while it runs. */
  @Column('integer') rewindHours!: number;
  /** Whether the recording may be watched after the end. */
  @Column('boolean') replay!: boolean;
  /** What else was chosen, as it was asked for. */
  @Column('simple-json') chosen!: Record<string, unknown>;
  /** The same as its page shows it: category, language, who may write. */
  @Column('simple-json') facts!: Record<string, string>;
  /** Lets invited people in. */
  @Column('text') invitedKey!: string;
  @Column('text', { nullable: true }) thumbnailType!: string | null;
  @Column('text') thumbnailWords!: string;
  @Column('integer', { nullable: true }) publicAt!: number | null;
  @Column('integer', { nullable: true }) endedAt!: number | null;
}

/** A film in the place of an event's recording. `captions`: WebVTT; empty: it has none. */
@Entity('films')
export class FilmRow {
  @PrimaryColumn('text') id!: string;
  @Column('text') eventId!: string;
  @Column('text', { nullable: true }) idempotencyKey!: string | null;
  @Column('integer') bytes!: number;
  @Column('text') state!: 'receiving' | 'ready' | 'refused';
  @Column('text') words!: string;
  @Column('boolean') shown!: boolean;
  @Column('text') language!: string;
  @Column('text') captions!: string;
}

/** Somebody who is invited to speak at an event. */
@Entity('speakers')
export class SpeakerRow {
  @PrimaryColumn('text') id!: string;
  @Column('text') eventId!: string;
  /** Of whoever invites. */
  @Column('text') reference!: string;
  @Column('text') name!: string;
  @Column('text') about!: string;
  @Column('integer') place!: number;
  @Column('text') answer!: 'invited' | 'accepted' | 'declined';
  /** Lets them answer. */
  @Index({ unique: true }) @Column('text') secret!: string;
}

/** Something that somebody wrote beneath an event. */
@Entity('messages')
@Index(['eventId', 'idempotencyKey'], { unique: true })
export class MessageRow {
  /** In the order in which they were written, over all events. */
  @PrimaryGeneratedColumn('increment') place!: number;
  @Index({ unique: true }) @Column('text') id!: string;
  @Column('text') eventId!: string;
  /** Null: written for the account itself. */
  @Column('text', { nullable: true }) writerId!: string | null;
  @Column('text') writer!: string;
  @Column('text') standing!: Standing;
  @Column('text') text!: string;
  /** The message that it answers. */
  @Column('text', { nullable: true }) answers!: string | null;
  @Column('integer') writtenAt!: number;
  /** Seen by nobody but whoever wrote it and the account. */
  @Column('boolean') hidden!: boolean;
  @Column('text', { nullable: true }) idempotencyKey!: string | null;
}
/** A page on which an event of another account stands too, if whoever has it agrees. */
@Entity('shares')
export class ShareRow {
  @PrimaryColumn('text') eventId!: string;
  @PrimaryColumn('text') accountId!: string;
  @Column('text') answer!: 'asked' | 'accepted' | 'declined';
}

/** Somebody who writes nothing more beneath an event. */
@Entity('muted')
export class MutedRow {
  @PrimaryColumn('text') eventId!: string;
  @PrimaryColumn('text') writerId!: string;
  /** Null: for as long as it is there. */
  @Column('integer', { name: 'mutedUntil', nullable: true }) until!: number | null;
}

/** What a network knows of somebody who writes. */
export type Standing = 'account' | 'member' | 'follower' | 'newcomer';

/** Words on an account's page, without any event. */
@Entity('posts')
@Index(['accountId', 'idempotencyKey'], { unique: true })
export class PostRow {
  @PrimaryColumn('text') id!: string;
  @Column('text') network!: Network;
  @Column('text') accountId!: string;
  @Column('text', { nullable: true }) idempotencyKey!: string | null;
  @Column('text') text!: string;
  @Column('integer', { name: 'postedAt' }) at!: number;
}

/** A limit that was changed from a day on; `announced` ones are told to whoever asks. */
@Entity('limit_changes')
export class LimitChange {
  @PrimaryColumn('text') id!: string;
  @Column('text') network!: Network;
  @Column('text', { name: 'limitName' }) limit!: LimitName;
  @Column('integer') value!: number;
  @Column('integer', { name: 'inForceFrom' }) from!: number;
  @Column('boolean') announced!: boolean;
}

/** Limits that may change: characters of title and text, the rest in ms. Infinity: no such limit. */
export interface Limits {
  title: number;
  text: number;
  ahead: number;
  lead: number;
  longest: number;
}
export type LimitName = keyof Limits;

/** Somebody who has played a show. `since`: its recording, after it was over. */
@Entity('plays')
export class PlayRow {
  @PrimaryColumn('text') eventId!: string;
  @PrimaryColumn('text') viewer!: string;
  @PrimaryColumn('boolean') since!: boolean;
}
