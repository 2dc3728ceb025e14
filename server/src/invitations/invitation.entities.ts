import type { InvitationAnswer } from '@lantern/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Somebody who was asked to a show, with a link of their own. */
@Entity('invitations')
export class Invitation {
  @PrimaryColumn('text') id!: string;
  @Column('text') showId!: string;
  @Column('text') name!: string;
  @Column('text') email!: string;
  /** SHA-256 of the secret in their link. */
  @Column('text') tokenHash!: string;
  @Column('text') answer!: InvitationAnswer;
  @Column('integer') invitedAt!: number;
  /** The start that they were last told. */
  @Column('integer') toldStart!: number;
  /** Of which moment they were last reminded. */
  @Column('text') told!: string;
  /** When they watched; null: they did not, or nobody knows. */
  @Column('integer', { nullable: true }) cameAt!: number | null;
  /** When they asked to hear no more of it; null: they did not. */
  @Column('integer', { nullable: true, default: null }) leftAt!: number | null;
}
