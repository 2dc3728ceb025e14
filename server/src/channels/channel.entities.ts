import type { ChannelAccess } from '@lantern/contract';
import type { AccountKind, ChannelDefaults, ChangeableLimit, Condition, LimitsByHand, NetworkId } from '@lantern/core';
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
  /** Tokens, sealed by the vault; empty for typed-in and unlinked channels. */
  @Column('text') sealed!: string;
  @Column('text', { nullable: true }) watchUrl!: string | null;
  /** As last heard; whether the tokens can still be read is looked at each time. */
  @Column('text') access!: Exclude<ChannelAccess, 'unreadable'>;
  @Column('simple-json') defaults!: ChannelDefaults;
  /** Only for typed-in channels. */
  @Column('simple-json', { nullable: true }) limits!: LimitsByHand | null;
  @Column('simple-json') conditions!: Condition[];
  @Column('integer', { nullable: true }) conditionsAt!: number | null;
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

/** A change of limits that a network has announced. */
@Entity('rule_notices')
export class RuleNoticeRow {
  @PrimaryColumn('text') network!: NetworkId;
  @PrimaryColumn('text') id!: string;
  @Column('text', { name: 'limitName' }) limit!: ChangeableLimit;
  @Column('integer') value!: number;
  @Column('integer', { name: 'inForceFrom' }) from!: number;
}
