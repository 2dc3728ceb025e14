import type { PieceKind } from '@lantern/contract';
import type { Palette, PictureRecipe, StrapStyle } from '@lantern/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Something of the library: a picture, portrait or logo, whose file goes by its id, or a composition to begin from. */
@Entity('pieces')
export class Piece {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') kind!: PieceKind;
  @Column('text') name!: string;
  @Column('text') alternative!: string;
  /** Whose it is, and by what right it is shown; empty: nobody has said. */
  @Column('text') rights!: string;
  @Column('integer') width!: number;
  @Column('integer') height!: number;
  @Column('simple-json', { nullable: true }) recipe!: PictureRecipe | null;
  @Column('integer') addedAt!: number;
}

/** The station's appearance. */
@Entity('looks')
export class Look {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') name!: string;
  @Column('simple-json') palette!: Palette;
  /** A logo of the library; null: the lantern. */
  @Column('text', { nullable: true }) logoId!: string | null;
  /** How names and captions are drawn in its programme. */
  @Column('text') straps!: StrapStyle;
}
