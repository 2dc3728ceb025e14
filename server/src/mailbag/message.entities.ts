import type { HeldReason, MessageState } from '@lantern/contract';
import type { LookedAtFirst, WriterStanding } from '@lantern/core';
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';

/** Something that was written beneath a show on one of its channels, or on its house page. */
@Entity('messages')
export class Message {
  /** In the order of arrival, over all shows. */
  @PrimaryGeneratedColumn('increment') place!: number;
  @Column('text', { unique: true }) id!: string;
  @Column('text') showId!: string;
  @Column('text') airingId!: string;
  @Column('text') channelId!: string;
  /** The network's own; one message of an airing is kept once. */
  @Column('text') remoteId!: string;
  /** Grows with whatever comes to a show's list or changes in it. */
  @Column('integer') revision!: number;
  @Column('text') writer!: string;
  @Column('text') standing!: WriterStanding;
  @Column('text') words!: string;
  /** The network's identifier of the message that it answers. */
  @Column('text', { nullable: true }) answers!: string | null;
  @Column('integer') writtenAt!: number;
  @Column('text') state!: MessageState;
  @Column('integer', { nullable: true }) answeredAt!: number | null;
  @Column('text', { nullable: true }) questionId!: string | null;
  /** Why the station’s rules hold it back; null: they do not, or somebody has looked at it. */
  @Column('text', { nullable: true }) held!: HeldReason | null;
  /** Of the house page: SHA-256 of what the browser that wrote it keeps; null: it came from a channel, or from the team. */
  @Column('text', { nullable: true }) writerHash!: string | null;
  /** Of a channel: until then its writer writes nothing more there, as its network has said; null: they write. */
  @Column('integer', { nullable: true, default: null }) silentUntil!: number | null;
  /** Of the house page: how late its writer saw the show then, in ms; null: they did not, or it is not known. */
  @Column('integer', { nullable: true, default: null }) behindMs!: number | null;
  /** How many others on the house page ask this too. */
  @Column('integer', { default: 0 }) askedToo!: number;
}

/** Answers that a station gives often. */
@Entity('prepared_answers')
export class PreparedAnswersRow {
  @PrimaryColumn('text') stationId!: string;
  @Column('simple-json') answers!: string[];
}

/** How the house page of a show takes messages, where it is not as usual. */
@Entity('house_talk')
export class HouseTalkRow {
  @PrimaryColumn('text') showId!: string;
  @Column('boolean') open!: boolean;
  @Column('text') lookedAt!: LookedAtFirst;
  @Column('integer') everyS!: number;
}

/** A browser that has written on the house page of a show. */
@Entity('house_writers')
export class HouseWriter {
  @PrimaryColumn('text') showId!: string;
  @PrimaryColumn('text') writerHash!: string;
  @Column('integer') wroteAt!: number;
  /** Until then the team wants no more from it; null: nobody has silenced it. */
  @Column('integer', { nullable: true }) silentUntil!: number | null;
}

/** A browser that asks what was asked in a message too. */
@Entity('asked_too')
export class AskedTooRow {
  @PrimaryColumn('text') messageId!: string;
  @PrimaryColumn('text') writerHash!: string;
  @Column('text') showId!: string;
}

/** How far the messages of an airing have been read. */
@Entity('message_cursors')
export class MessageCursor {
  @PrimaryColumn('text') airingId!: string;
  @Column('text') showId!: string;
  /** The event beneath which they stand: of another one all is read from the first on. */
  @Column('text') remoteId!: string;
  @Column('text') cursor!: string;
}

/** What a station holds back. */
@Entity('holding_rules')
export class HoldingRulesRow {
  @PrimaryColumn('text') stationId!: string;
  @Column('simple-json') words!: string[];
  @Column('boolean') links!: boolean;
}
