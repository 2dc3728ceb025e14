import type { PictureFrom, PlacingState, ShowState } from '@lantern/contract';
import type { SceneId, Visibility } from '@lantern/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** The picture of a show as it was chosen; each channel is sent a rendition by its own rules. */
export interface ShowPicture {
  width: number;
  height: number;
  /** Part of the picture's address, so that a new picture is fetched anew. */
  version: string;
}

@Entity('shows')
export class Show {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  /** The unguessable end of the house page's address; never changes. */
  @Column('text') slug!: string;
  @Column('text') title!: string;
  @Column('text') description!: string;
  @Column('integer') startsAt!: number;
  @Column('text') zone!: string;
  @Column('integer') lengthMs!: number;
  @Column('text') state!: ShowState;
  @Column('simple-json', { nullable: true }) thumbnail!: ShowPicture | null;
  @Column('text') thumbnailAlternative!: string;
  @Column('text') pictureFrom!: PictureFrom;
  @Column('integer', { nullable: true }) onAirSince!: number | null;
  @Column('integer', { nullable: true }) endedAt!: number | null;
  /** The scene in the programme. */
  @Column('text') programme!: SceneId;
  @Column('text') recording!: 'none' | 'making' | 'ready' | 'failed';
  @Column('integer') recordingMs!: number;
}

/** One show on one channel. */
@Entity('airings')
export class Airing {
  @PrimaryColumn('text') id!: string;
  @Column('text') showId!: string;
  @Column('text') channelId!: string;
  @Column('text') placing!: PlacingState;
  /** The start that the channel was told; null: none, or at once. */
  @Column('integer', { nullable: true }) placedAt!: number | null;
  /** Who may see it there; taken from the channel's defaults when it is placed. */
  @Column('text') visibility!: Visibility;
  /** The line that was chosen; null: the channel's only or first one. */
  @Column('text', { nullable: true }) lineId!: string | null;
  /** The event's identifier on the network. */
  @Column('text', { nullable: true }) remoteId!: string | null;
  @Column('text', { nullable: true }) watchUrl!: string | null;
  @Column('text') refusal!: string;
  /** What the network said when the airing was ended. */
  @Column('text') endWords!: string;
}

/** Whether an event of the airing exists on its channel, or may. */
export function standsThere(airing: Airing): boolean {
  return airing.placing === 'placed' || airing.placing === 'unsure';
}
