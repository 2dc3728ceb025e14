import type { AccountKind, NetworkId } from '@lantern/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('channels')
export class Channel {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') network!: NetworkId | 'typed-in';
  @Column('text') kind!: AccountKind;
  @Column('text') name!: string;
  @Column('text', { nullable: true }) pictureUrl!: string | null;
  /** The account's identifier on its network; null for typed-in channels. */
  @Column('text', { nullable: true }) remoteId!: string | null;
  /** Tokens, or the address and key of a typed-in channel, sealed by the vault. */
  @Column('text') sealed!: string;
  @Column('text', { nullable: true }) watchUrl!: string | null;
  /** False once the network has said that access was withdrawn. */
  @Column('boolean') linked!: boolean;
}

/** A consent that was asked for and not yet turned into a channel. */
@Entity('pending_links')
export class PendingLink {
  /** The OAuth `state`: unguessable, used once. */
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') personId!: string;
  @Column('text') network!: NetworkId;
  /** The PKCE verifier before, the tokens after consent was given. */
  @Column('text') sealed!: string;
  @Column('boolean') granted!: boolean;
  @Column('integer') expiresAt!: number;
}
