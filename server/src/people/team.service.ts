// Who belongs to a station and as what: people are invited by mail, given other roles and taken out, and get back in when they have forgotten their password.
import type { ForgottenPassword, JoinRequest, PasswordAnew, TeamInvite, TeamPassView, TeamView } from '@lantern/contract';
import { DAY_MS, HOUR_MS, MINUTE_MS, instant, may, sayWhen, type Role } from '@lantern/core';
import { Inject, Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { DataSource, LessThan, type EntityManager } from 'typeorm';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { digestOf } from '../foundation/digest';
import { FieldRefusal, PlainError } from '../foundation/errors';
import { RegularWork } from '../foundation/regular-work';
import { SETTINGS, type Settings } from '../foundation/settings';
import { addRow, changeRow, together } from '../foundation/together';
import { OutboxService, type Letter } from '../mail/outbox.service';
import { AuditService } from './audit.service';
import { newToken } from './passwords';
import { Person, TeamPass, type Station } from './people.entities';
import { PeopleService } from './people.service';

const INVITED_FOR_MS = 7 * DAY_MS;
const PASSWORD_FOR_MS = HOUR_MS;
/** A mail to the same address is not sent more often. */
const NOT_AGAIN_MS = 2 * MINUTE_MS;
const MOST_PEOPLE = 50;

const spent = () => new PlainError(410, 'This pass is not good any more: it was used, taken back, or is too old. Ask for another.');
const gone = () => new PlainError(404, 'They are not in the team any more.');
const ROLE_WORDS: Record<Role, string> = { owner: 'an owner', producer: 'a producer', moderator: 'a moderator' };

@Injectable()
export class TeamService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('team passes', HOUR_MS, () => this.forgetOld());

  constructor(
    private readonly database: DataSource,
    private readonly people: PeopleService,
    private readonly outbox: OutboxService,
    private readonly audit: AuditService,
    private readonly clock: Clock,
    private readonly bus: Bus,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  /** Addresses and invitations are for whoever keeps the team. */
  async view(viewer: Person): Promise<TeamView> {
    const { stationId } = viewer;
    const keeps = may(viewer.role, 'keep the team');
    const people = await this.database.getRepository(Person).find({ where: { stationId }, order: { name: 'ASC', id: 'ASC' } });
    const seen = await this.people.lastSeen(people.map(({ id }) => id));
    const passes = keeps ? await this.database.getRepository(TeamPass).find({ where: { stationId, kind: 'invitation' }, order: { madeAt: 'ASC' } }) : [];
    const now = this.clock.now();
    return {
      people: people.map(({ id, name, email, role }) => ({
        ...{ id, name, role, own: id === viewer.id, seenAt: seen.get(id) ?? null },
        email: keeps || id === viewer.id ? email : null,
      })),
      invited: passes
        .filter(({ until }) => until > now)
        .map(({ id, email, role, invitedBy, until }) => ({ id, email, role: role!, invitedBy: invitedBy!, until })),
    };
  }

  /** Asks somebody to join. Asked again, the pass before is good no more. */
  async invite(by: Person, { email: written, role }: TeamInvite): Promise<void> {
    const email = written.trim().toLowerCase();
    const station = await this.people.station(by.stationId);
    const token = newToken();
    await together(this.database, async (entities) => {
      const known = await entities.findOneBy(Person, { email });
      if (known?.stationId === by.stationId) throw new FieldRefusal('email', `${known.name} is in the team already.`);
      // Somebody of another station on this server cannot be in two: nothing is said of that one.
      if (known) throw new FieldRefusal('email', 'This address cannot be invited here. Ask them for another one.');
      const there =
        (await entities.countBy(Person, { stationId: by.stationId })) + (await entities.countBy(TeamPass, { stationId: by.stationId, kind: 'invitation' }));
      if (there >= MOST_PEOPLE) throw new PlainError(409, `A team has at most ${MOST_PEOPLE} people. Take somebody out, or take an invitation back.`);
      const until = this.clock.now() + INVITED_FOR_MS;
      const pass = await this.putPass(entities, { kind: 'invitation', stationId: station.id, email, role, invitedBy: by.name, personId: null, until }, token);
      if (!pass) throw new FieldRefusal('email', 'They were asked only just now. Give the mail a moment.');
      await this.outbox.postAll([this.invitation(station, by.name, email, role, token, until)], entities);
    });
    await this.audit.note(by, 'invited', `${email} as ${ROLE_WORDS[role]}`);
    this.changed(by.stationId);
  }

  async takeBack(by: Person, id: string): Promise<void> {
    const pass = await this.database.getRepository(TeamPass).findOneBy({ id, stationId: by.stationId, kind: 'invitation' });
    if (!pass) throw new PlainError(404, 'This invitation was used or taken back meanwhile.');
    await this.database.getRepository(TeamPass).delete({ id });
    await this.audit.note(by, 'took back', `the invitation of ${pass.email}`);
    this.changed(by.stationId);
  }

  /** What a pass into a team says, to whoever shows it. */
  async invited(token: string): Promise<TeamPassView> {
    const { stationId, email, role, invitedBy } = await this.pass('invitation', token);
    return { stationName: (await this.people.station(stationId)).name, email, role: role!, invitedBy: invitedBy! };
  }

  /** Joins. A pass is good once, whoever presses twice. */
  async join({ pass: token, name, password }: JoinRequest): Promise<Person> {
    const pass = await this.pass('invitation', token);
    const passwordHash = await this.people.newPassword('password', password, [
      name,
      pass.email.split('@')[0]!,
      (await this.people.station(pass.stationId)).name,
    ]);
    const person = await together(this.database, async (entities) => {
      if (!(await entities.delete(TeamPass, { id: pass.id, tokenHash: pass.tokenHash })).affected) throw spent();
      if (await entities.existsBy(Person, { email: pass.email })) throw spent();
      const row = { id: randomUUID(), stationId: pass.stationId, name: name.trim(), email: pass.email, passwordHash, role: pass.role! };
      return addRow(entities, Person, Object.assign(new Person(), row));
    });
    await this.audit.note(person, 'joined', `as ${ROLE_WORDS[person.role]}`);
    this.changed(person.stationId);
    return person;
  }

  /** Another role, from now on and in every browser of theirs. The last owner stays one. */
  async giveRole(by: Person, id: string, role: Role): Promise<void> {
    const person = await together(this.database, async (entities) => {
      const known = await this.member(entities, by.stationId, id);
      if (known.role === 'owner' && role !== 'owner') await this.mustBeAnother(entities, known);
      await changeRow(entities, Person, { id }, { role });
      return known;
    });
    if (person.role === role) return;
    // What they may not do any more ends where it is open: they sign in again, as what they are now.
    await this.people.endAll(person);
    await this.audit.note(by, 'made', `${person.name} ${ROLE_WORDS[role]}`);
    this.changed(by.stationId);
  }

  /** Takes somebody out, and out of whatever they have open. The last owner stays. */
  async remove(by: Person, id: string): Promise<void> {
    const person = await together(this.database, async (entities) => {
      const known = await this.member(entities, by.stationId, id);
      if (known.role === 'owner') await this.mustBeAnother(entities, known);
      return known;
    });
    // First out of everything: whose row is gone has no session that could be found.
    await this.people.endAll(person);
    await together(this.database, async (entities) => {
      if (person.role === 'owner') await this.mustBeAnother(entities, person);
      await entities.delete(Person, { id });
    });
    await this.people.endAll(person);
    await this.audit.note(by, 'took', `${person.name} out of the team`);
    this.changed(by.stationId);
  }

  /** Sends a way to a new password to whoever has this address; nothing is said of whether anybody does. */
  async forgotten({ email: written }: ForgottenPassword): Promise<void> {
    const email = written.trim().toLowerCase();
    const person = await this.database.getRepository(Person).findOneBy({ email });
    if (!person) return;
    const token = newToken();
    const until = this.clock.now() + PASSWORD_FOR_MS;
    await together(this.database, async (entities) => {
      const facts = { kind: 'password', stationId: person.stationId, email, role: null, invitedBy: null, personId: person.id, until } as const;
      if (await this.putPass(entities, facts, token)) await this.outbox.postAll([this.wayBack(person, token)], entities);
    });
  }

  /** A new password by a pass, which is good once. All browsers are signed out. */
  async passwordAnew({ pass: token, password }: PasswordAnew): Promise<void> {
    const pass = await this.pass('password', token);
    const person = await this.database.getRepository(Person).findOneBy({ id: pass.personId! });
    if (!person) throw spent();
    const passwordHash = await this.people.newPassword('password', password, [person.name, person.email.split('@')[0]!]);
    await together(this.database, async (entities) => {
      if (!(await entities.delete(TeamPass, { id: pass.id, tokenHash: pass.tokenHash })).affected) throw spent();
      await changeRow(entities, Person, { id: person.id }, { passwordHash });
    });
    await this.people.endAll(person);
    await this.audit.note(person, 'chose', 'another password by mail');
  }

  /** Keeps a pass in the place of the one before. False: one was made only just now. */
  private async putPass(entities: EntityManager, facts: Omit<TeamPass, 'id' | 'tokenHash' | 'madeAt'>, token: string): Promise<boolean> {
    const { kind, stationId, email } = facts;
    const before = await entities.findOneBy(TeamPass, { kind, stationId, email });
    const madeAt = this.clock.now();
    if (before && madeAt - before.madeAt < NOT_AGAIN_MS) return false;
    if (before) await entities.delete(TeamPass, { id: before.id });
    await addRow(entities, TeamPass, { ...facts, id: randomUUID(), tokenHash: digestOf(token), madeAt });
    return true;
  }

  private async pass(kind: TeamPass['kind'], token: string): Promise<TeamPass> {
    const pass = await this.database.getRepository(TeamPass).findOneBy({ tokenHash: digestOf(token), kind });
    if (!pass || pass.until <= this.clock.now()) throw spent();
    return pass;
  }

  private async member(entities: EntityManager, stationId: string, id: string): Promise<Person> {
    const person = await entities.findOneBy(Person, { id, stationId });
    if (!person) throw gone();
    return person;
  }

  private async mustBeAnother(entities: EntityManager, { stationId, name }: Person): Promise<void> {
    if ((await entities.countBy(Person, { stationId, role: 'owner' })) < 2)
      throw new PlainError(409, `${name} is the only owner, and a station has one at least. Make somebody else an owner first.`);
  }

  private invitation(station: Station, by: string, email: string, role: Role, token: string, until: number): Letter {
    const text = [
      `${by} asks you to join ${station.name} on Noble Lantern as ${ROLE_WORDS[role]}.`,
      `Open this address and choose a password. It is yours alone, and good until ${sayWhen(instant(until), station.zone)}:`,
      `${this.settings.publicUrl}/join#${token}`,
      'If you know nothing of this, you need do nothing.',
    ].join('\n\n');
    return { stationId: station.id, to: email, subject: `Join ${station.name}`, text, about: `team ${digestOf(token)}` };
  }

  private wayBack({ stationId, email, name }: Person, token: string): Letter {
    const text = [
      `${name}, somebody asked for a new password for this address on Noble Lantern.`,
      'If it was you, open this address within the hour. Your other browsers are signed out then.',
      `${this.settings.publicUrl}/new-password#${token}`,
      'If it was not you, you need do nothing: your password stays what it is.',
    ].join('\n\n');
    return { stationId, to: email, subject: 'A new password', text, about: `password ${digestOf(token)}` };
  }

  private async forgetOld(): Promise<void> {
    await this.database.getRepository(TeamPass).delete({ until: LessThan(this.clock.now()) });
  }

  private changed(stationId: string): void {
    this.bus.tell({ kind: 'team', stationId });
  }
}
