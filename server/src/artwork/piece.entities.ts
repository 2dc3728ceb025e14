import type { PieceKind } from '@lantern/contract';
import type { CardStyle, LookChoices, LookLetters, Palette, PictureBackground, PictureRecipe, StrapStyle } from '@lantern/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Something of the library: a picture, portrait, logo or font, whose file goes by its id, or a composition to begin from. */
@Entity('pieces')
export class Piece {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') kind!: PieceKind;
  @Column('text') name!: string;
  @Column('text') alternative!: string;
  /** Whose it is, and by what right it is shown, as its licence; empty: nobody has said. */
  @Column('text') rights!: string;
  @Column('integer') width!: number;
  @Column('integer') height!: number;
  @Column('simple-json', { nullable: true }) recipe!: PictureRecipe | null;
  @Column('integer') addedAt!: number;
}

/** The station's appearance, as core/looks has it. */
@Entity('looks')
export class Look implements LookChoices {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') name!: string;
  @Column('simple-json') palette!: Palette;
  /** A logo of the library; null: the lantern. */
  @Column('text', { nullable: true }) logoId!: string | null;
  /** How names and captions are drawn in its programme. */
  @Column('text') straps!: StrapStyle;
  @Column('simple-json') letters!: LookLetters;
  @Column('text') cards!: CardStyle;
  @Column('simple-json', { nullable: true }) background!: PictureBackground | null;
  @Column('simple-json') sponsors!: string[];
  @Column('boolean') sponsorsInCorner!: boolean;
  @Column('text', { nullable: true }) stingId!: string | null;
  /** At most one of a station's. */
  @Column('boolean') forStation!: boolean;
  /** Counts its changes: one is written over the state that was looked at, and over no other. */
  @Column('integer') revision!: number;
}
