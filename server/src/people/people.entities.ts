import type { Role } from '@lantern/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('stations')
export class Station {
  @PrimaryColumn('text') id!: string;
  @Column('text') name!: string;
  @Column('text') zone!: string;
}

@Entity('people')
export class Person {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') name!: string;
  @Column('text') email!: string;
  @Column('text') passwordHash!: string;
  @Column('text') role!: Role;
}

/** A browser that is signed in. Only a digest of its cookie is kept. */
@Entity('sessions')
export class Session {
  @PrimaryColumn('text') tokenHash!: string;
  @Column('text') personId!: string;
  @Column('integer') expiresAt!: number;
}
