import type { CueRan, HappeningKind, Lamp, SceneId, SourceId } from '@lantern/core';
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';

/** What a network said about an airing at one moment of a show. */
@Entity('air_samples')
export class AirSampleRow {
  @PrimaryGeneratedColumn() id!: number;
  @Column('text') airingId!: string;
  @Column('integer') at!: number;
  @Column('text') lamp!: Lamp;
  @Column('integer', { nullable: true }) watching!: number | null;
}

/** Something that happened while a show was on air. */
@Entity('happenings')
export class HappeningRow {
  @PrimaryGeneratedColumn() id!: number;
  @Column('text') showId!: string;
  @Column('integer') at!: number;
  @Column('text') kind!: HappeningKind;
  @Column('text', { nullable: true }) what!: string | null;
}

/** How a show went out, as it was measured where it was made. */
@Entity('signal_samples')
export class SignalRow {
  @PrimaryGeneratedColumn() id!: number;
  @Column('text') showId!: string;
  @Column('integer') at!: number;
  @Column('integer', { nullable: true }) pictures!: number | null;
  @Column('integer', { nullable: true }) kbps!: number | null;
}

export interface StartsBy {
  personId: string;
  tab: string | null;
}

/** How the stage of a show stands; without a row it is as before the show. */
@Entity('stages')
export class Stage {
  @PrimaryColumn('text') showId!: string;
  /** The scene in the programme. */
  @Column('text', { default: 'holding' }) programme!: SceneId;
  /** The cues that have been begun. */
  @Column('simple-json', { default: '[]' }) ran!: CueRan[];
  /** The outside line that stands on it. */
  @Column('text', { nullable: true }) lineOnStage!: string | null;
  /** What a person wants to be seen. */
  @Column('text', { default: 'stage' }) chosen!: SourceId;
  @Column('integer', { nullable: true }) backAt!: number | null;
  /** Whose stage it is, and in which tab. */
  @Column('text', { nullable: true }) holderId!: string | null;
  @Column('text', { default: '' }) holderName!: string;
  @Column('text', { nullable: true }) holderTab!: string | null;
  /** Airings that are held back until somebody starts them there. */
  @Column('simple-json', { default: '[]' }) heldBack!: string[];
  /** Who has told it to go on air by itself at its time, and from which tab. */
  @Column('simple-json', { nullable: true }) startsBy!: StartsBy | null;
  /** When the show was last known to be carried. */
  @Column('integer', { nullable: true }) aliveAt!: number | null;
}
