import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A named way in to Noble Lantern itself. */
@Entity('outside_lines')
export class OutsideLine {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') name!: string;
  /** The key, sealed by the vault. */
  @Column('text') sealed!: string;
  /** Digest of the key, by which an encoder's line is found. */
  @Column('text') keyHash!: string;
  @Column('integer') createdAt!: number;
  @Column('integer', { nullable: true }) lastUsedAt!: number | null;
}
