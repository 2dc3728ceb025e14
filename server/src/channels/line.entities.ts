import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A named way in to a channel. Keys that a network issues stay there and are fetched when needed; only typed-in ones are kept, sealed. */
@Entity('lines')
export class Line {
  @PrimaryColumn('text') id!: string;
  @Column('text') channelId!: string;
  @Column('text') name!: string;
  /** The line's identifier on its network; null for typed-in lines and for those of one show. */
  @Column('text', { nullable: true }) remoteId!: string | null;
  /** The one airing that this line is good for; null for lasting lines. */
  @Column('text', { nullable: true }) airingId!: string | null;
  @Column('text', { nullable: true }) address!: string | null;
  @Column('text', { nullable: true }) backupAddress!: string | null;
  /** The key of a typed-in line, sealed by the vault; null where the network keeps it. */
  @Column('text', { nullable: true }) sealed!: string | null;
  /** Who was given the key. */
  @Column('text') heldBy!: string;
  @Column('integer', { nullable: true }) lastUsedAt!: number | null;
  @Column('integer') createdAt!: number;
}
