import type { GuestAnswer, OwnSoundConsent, TriedOut } from '@lantern/contract';
import type { Speaker, SpeakerThere } from '../channels/connectors/connector';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Somebody who is asked to be in a show, on one date. */
@Entity('guests')
export class Guest {
  @PrimaryColumn('text') id!: string;
  @Column('text') showId!: string;
  @Column('text') stationId!: string;
  /** SHA-256 of their pass. */
  @Column('text') tokenHash!: string;
  /** As on the strap. */
  @Column('text') name!: string;
  @Column('text') caption!: string;
  /** Where they are; null: with the show. */
  @Column('text', { nullable: true }) zone!: string | null;
  @Column('text', { nullable: true }) email!: string | null;
  @Column('text') answer!: GuestAnswer;
  @Column('text') word!: string;
  @Column('integer') invitedAt!: number;
  /** The start that they were last told; 0: that it does not take place. */
  @Column('integer') toldStart!: number;
  @Column('simple-json', { nullable: true }) tried!: TriedOut | null;
  @Column('integer', { nullable: true }) triedAt!: number | null;
  /** When they were last in the green room and went; null: they were not, or are there. */
  @Column('integer', { nullable: true }) leftAt!: number | null;
  /** What they have said to having their own sound kept; `removing`: they have taken it back, and what was kept is not all gone yet. */
  @Column('text') ownSound!: OwnSoundConsent | 'removing';
}

/** What a channel was told last of the speakers of one show, and what it answered. */
@Entity('speakers_there')
export class SpeakersThere {
  @PrimaryColumn('text') airingId!: string;
  @Column('text') showId!: string;
  /** The event to which it belongs: one that is placed anew knows of nobody. */
  @Column('text') remoteId!: string;
  @Column('simple-json') told!: Speaker[];
  @Column('simple-json') seen!: SpeakerThere[];
  /** What it said instead; empty: nothing. */
  @Column('text') refusal!: string;
  @Column('integer') readAt!: number;
}
