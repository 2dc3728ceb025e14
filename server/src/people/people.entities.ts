import type { Role } from '@lantern/contract';
import type { City, DateOrder, MilestoneTimes } from '@lantern/core';
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';

@Entity('stations')
export class Station {
  @PrimaryColumn('text') id!: string;
  @Column('text') name!: string;
  @Column('text') zone!: string;
  /** Where its audience is. */
  @Column('simple-json') cities!: City[];
  @Column('simple-json') milestoneTimes!: MilestoneTimes;
  @Column({ type: 'text', default: 'day first' }) dateOrder!: DateOrder;
  /** SHA-256 of the secret in the calendar's address; null: nobody can subscribe. */
  @Column('text', { nullable: true }) feedHash!: string | null;
  /** The end of the address of its public page. */
  @Column('text') slug!: string;
  /** SHA-256 of the code that lets supporters in; null: there is none. */
  @Column('text', { nullable: true }) supportersHash!: string | null;
}

@Entity('people')
export class Person {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') name!: string;
  @Column('text') email!: string;
  @Column('text') passwordHash!: string;
  @Column('text') role!: Role;
  /** The secret that an app of theirs makes codes from, sealed; null: they have no second factor. */
  @Column('text', { nullable: true }) codeSecret!: string | null;
  /** One that has not been proved yet, sealed. */
  @Column('text', { nullable: true }) codePending!: string | null;
  /** The step of the last code that was used: none is used twice. */
  @Column({ type: 'integer', default: 0 }) codeStep!: number;
  /** SHA-256 of the spare codes that are left. */
  @Column({ type: 'simple-json', default: '[]' }) spareCodes!: string[];
}

/** A browser that is signed in. Only a digest of its cookie is kept. */
@Entity('sessions')
export class Session {
  @PrimaryColumn('text') tokenHash!: string;
  /** By what its person names it; nothing can be done with it but ending the session. */
  @Column('text') id!: string;
  @Column('text') personId!: string;
  @Column('integer') openedAt!: number;
  /** When it was last used, to the hour. */
  @Column('integer') seenAt!: number;
  /** What kind of browser it said it was. */
  @Column('text') browser!: string;
  @Column('integer') expiresAt!: number;
  /** When the password was last given in this browser. */
  @Column('integer') passwordAt!: number;
}

/** Something done with channels or keys. */
@Entity('audit_entries')
export class AuditEntry {
  @PrimaryGeneratedColumn() id!: number;
  @Column('text') stationId!: string;
  @Column('text') personId!: string;
  @Column('integer') at!: number;
  @Column('text') did!: string;
  @Column('text') what!: string;
}

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
