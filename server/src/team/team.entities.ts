import type { Role } from '@lantern/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What a mail brings: a pass into a team, or to a new password. Only a digest of it is kept. */
@Entity('team_passes')
export class TeamPass {
  @PrimaryColumn('text') id!: string;
  /** SHA-256 of what the mail says. */
  @Column('text') tokenHash!: string;
  @Column('text') kind!: 'invitation' | 'password';
  @Column('text') stationId!: string;
  @Column('text') email!: string;
  /** Of an invitation. */
  @Column('text', { nullable: true }) role!: Role | null;
  /** Who sent an invitation, by name. */
  @Column('text', { nullable: true }) invitedBy!: string | null;
  /** Whose password it is. */
  @Column('text', { nullable: true }) personId!: string | null;
  @Column('integer') madeAt!: number;
  @Column('integer') until!: number;
}
