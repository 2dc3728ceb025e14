// Stations, their people and who is signed in.
import type { Me, PasswordChange, SessionView, SetUpRequest, SignInRequest } from '@lantern/contract';
import { HOUR_MS, may, USUAL_TIMES, type RightName } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomBytes, randomUUID } from 'node:crypto';
import { DataSource, In, LessThan, MoreThan, Not, type FindOptionsWhere } from 'typeorm';
import { Clock } from '../foundation/clock';
import { digestOf, sameText } from '../foundation/digest';
import { FieldRefusal, PlainError } from '../foundation/errors';
import { RegularWork } from '../foundation/regular-work';
import { SETTINGS, type Settings } from '../foundation/settings';
import { addRow, together } from '../foundation/together';
import { isCommonPassword } from './common-passwords';
import { hashPassword, newToken, passwordFits } from './passwords';
import { Person, Session, Station } from './people.entities';
import { SecondFactor } from './second-factor.service';
import { SignInGate } from './sign-in-gate';
import { Bus } from '../foundation/bus';
import { Stations } from './stations';

export const SESSION_LIVES_MS = 30 * 24 * 3_600_000;

/** How exactly it is known when a session was last used. */
const SEEN_EVERY_MS = HOUR_MS;
const TIDY_EVERY_MS = HOUR_MS;

@Injectable()
export class PeopleService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('people');
  readonly gate = new SignInGate();
  private readonly work = new RegularWork('sessions', TIDY_EVERY_MS, () => this.forgetEnded());
  /** Opens the station on a server that has none. Made anew at each start, and told only where the server was started. */
  readonly setUpCode = process.env.LANTERN_SETUP_CODE || readableCode();

  constructor(
    private readonly stations: Stations,
    private readonly database: DataSource,
    private readonly clock: Clock,
    private readonly bus: Bus,
    private readonly secondFactor: SecondFactor,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  async setUpNeeded(): Promise<boolean> {
    return !(await this.stations.isThere());
  }

  /** Makes the station and its owner. Only ever once on a server, and only by whoever knows the code. */
  async setUp(request: SetUpRequest, address: string): Promise<Person> {
    if (!(await this.setUpNeeded())) throw stationIsThere();
    this.gate.pass('set-up', address);
    if (!sameText(tidyCode(request.code), tidyCode(this.setUpCode))) {
      this.gate.wrong('set-up', address);
      throw new FieldRefusal('code', 'This is not the code. It was printed where the server was started, and is another at each start.');
    }
    const { password, stationName, name } = request;
    mustNotBeCommon('password', password, [stationName, name]);
    const passwordHash = await hashPassword(password);
    return together(this.database, async (entities) => {
      if (await entities.count(Station)) throw stationIsThere();
      const station = await addRow(
        entities,
        Station,
        Object.assign(new Station(), {
          ...{ id: randomUUID(), name: stationName.trim(), zone: request.zone, cities: [], milestoneTimes: USUAL_TIMES, dateOrder: 'day first' },
          ...{ feedHash: null, slug: slugFor(stationName), supportersHash: null },
        }),
      );
      const person = { id: randomUUID(), stationId: station.id, name: name.trim(), role: 'owner' as const };
      return addRow(entities, Person, Object.assign(new Person(), { ...person, email: request.email.toLowerCase(), passwordHash }));
    });
  }

  /** Whose address and password these are. */
  async signIn(request: SignInRequest, address: string): Promise<Person> {
    const email = request.email.toLowerCase();
    this.gate.pass(email, address);
    const person = await this.database.getRepository(Person).findOneBy({ email });
    // Hash in either case, so that the answer takes as long for an unknown address.
    const fits = await passwordFits(request.password, person?.passwordHash ?? `scrypt$32768$AAAA$${Buffer.alloc(32).toString('base64')}`);
    if (!person || !fits) {
      this.gate.wrong(email, address);
      this.log.warn(`a sign-in was refused, from ${address}${person ? `, for person ${person.id}` : ', for nobody known'}`);
      throw new PlainError(401, 'This address and password do not belong together. Check both and try again.');
    }
    await this.secondFactor.mustFit(person, request.code).catch((error: unknown) => {
      // Whoever has shown none yet has guessed nothing.
      if (!(error instanceof PlainError && error.more.needs === 'code')) this.gate.wrong(email, address);
      throw error;
    });
    this.gate.right(email);
    this.log.log(`person ${person.id} signed in, from ${address}`);
    return person;
  }

  async openSession(person: Person, browser: string): Promise<string> {
    const token = newToken();
    const now = this.clock.now();
    const session = { tokenHash: digestOf(token), id: randomUUID(), personId: person.id, openedAt: now, seenAt: now, browser, passwordAt: now };
    await this.database.getRepository(Session).insert({ ...session, expiresAt: now + SESSION_LIVES_MS });
    return token;
  }

  /** Takes the password once more in a browser that is signed in. */
  async passwordAgain(person: Person, token: string, password: string, address: string): Promise<void> {
    await this.mustFit(person, password, address);
    await this.database.getRepository(Session).update({ tokenHash: digestOf(token) }, { passwordAt: this.clock.now() });
  }

  /** Gives somebody another password. Every other browser of theirs is signed out. */
  async changePassword(person: Person, token: string, { password, next }: PasswordChange, address: string): Promise<void> {
    await this.mustFit(person, password, address);
    const station = await this.station(person.stationId);
    mustNotBeCommon('next', next, [station.name, person.name, person.email.split('@')[0]!]);
    if (next === password) throw new FieldRefusal('next', 'This is your present password. Choose another.');
    await this.database.getRepository(Person).update({ id: person.id }, { passwordHash: await hashPassword(next) });
    await this.end({ personId: person.id, tokenHash: Not(digestOf(token)) });
    this.log.log(`person ${person.id} has another password`);
  }

  /** Throws where a password is not this person's. */
  async mustBeTheirs(person: Person, password: string, address: string): Promise<void> {
    await this.mustFit(person, password, address);
  }

  /** A password that somebody chooses, as it is kept. Throws where it is among the first that anybody would try. */
  newPassword(field: string, password: string, own: readonly string[]): Promise<string> {
    mustNotBeCommon(field, password, own);
    return hashPassword(password);
  }

  async rename(person: Person, name: string): Promise<Person> {
    await this.database.getRepository(Person).update({ id: person.id }, { name: name.trim() });
    this.bus.tell({ kind: 'team', stationId: person.stationId });
    return Object.assign(new Person(), person, { name: name.trim() });
  }

  /** When a browser of theirs was last seen, to the hour. */
  async lastSeen(ids: readonly string[]): Promise<ReadonlyMap<string, number>> {
    const sessions = await this.database.getRepository(Session).find({ where: { personId: In([...ids]), expiresAt: MoreThan(this.clock.now()) } });
    const seen = new Map<string, number>();
    for (const { personId, seenAt } of sessions) seen.set(personId, Math.max(seenAt, seen.get(personId) ?? 0));
    return seen;
  }

  private async mustFit(person: Person, password: string, address: string): Promise<void> {
    this.gate.pass(person.email, address);
    if (!(await passwordFits(password, person.passwordHash))) {
      this.gate.wrong(person.email, address);
      throw new FieldRefusal('password', 'This is not your password. Try again.', 403);
    }
    this.gate.right(person.email);
  }

  async passwordGivenAt(token: string): Promise<number | null> {
    return (await this.database.getRepository(Session).findOneBy({ tokenHash: digestOf(token) }))?.passwordAt ?? null;
  }

  /** The browsers in which somebody is signed in, the last used first. */
  async sessions(person: Person, token: string): Promise<SessionView[]> {
    const sessions = await this.database
      .getRepository(Session)
      .find({ where: { personId: person.id, expiresAt: MoreThan(this.clock.now()) }, order: { seenAt: 'DESC', openedAt: 'DESC' } });
    return sessions.map(({ id, browser, openedAt, seenAt, tokenHash }) => ({ id, browser, openedAt, seenAt, own: tokenHash === digestOf(token) }));
  }

  async signOut(token: string): Promise<void> {
    await this.end({ tokenHash: digestOf(token) });
  }

  /** Ends one session of somebody's. Throws where it is not theirs. */
  async endSession(person: Person, id: string): Promise<void> {
    if (!(await this.end({ personId: person.id, id }))) throw new PlainError(404, 'This browser was signed out meanwhile.');
  }

  /** Signs somebody out everywhere, also where they ask. */
  async endAll(person: Person): Promise<void> {
    await this.end({ personId: person.id });
    this.log.log(`person ${person.id} signed out everywhere`);
  }

  private async end(where: FindOptionsWhere<Session>): Promise<number> {
    const sessions = this.database.getRepository(Session);
    const found = await sessions.find({ where, select: { tokenHash: true } });
    await sessions.delete({ tokenHash: In(found.map(({ tokenHash }) => tokenHash)) });
    for (const { tokenHash } of found) this.bus.tell({ kind: 'session ended', session: tokenHash });
    return found.length;
  }

  private async forgetEnded(): Promise<void> {
    await this.end({ expiresAt: LessThan(this.clock.now()) });
  }

  /** The person whose browser shows `token`, or null. */
  async personOf(token: string | undefined): Promise<Person | null> {
    if (!token) return null;
    const tokenHash = digestOf(token);
    const session = await this.database.getRepository(Session).findOneBy({ tokenHash });
    const now = this.clock.now();
    if (!session || session.expiresAt < now) return null;
    if (now - session.seenAt > SEEN_EVERY_MS) await this.database.getRepository(Session).update({ tokenHash }, { seenAt: now });
    return this.database.getRepository(Person).findOneBy({ id: session.personId });
  }

  async me(person: Person): Promise<Me> {
    const station = await this.station(person.stationId);
    return {
      personId: person.id,
      name: person.name,
      email: person.email,
      role: person.role,
      station: { id: station.id, name: station.name },
      air: { url: this.settings.airUrl, port: this.settings.airPort },
    };
  }

  byId(id: string): Promise<Person | null> {
    return this.database.getRepository(Person).findOneBy({ id });
  }

  /** Those of a station who have a right. */
  async whoMay(stationId: string, right: RightName): Promise<Pick<Person, 'name' | 'email'>[]> {
    return (await this.database.getRepository(Person).findBy({ stationId })).filter(({ role }) => may(role, right));
  }

  station(id: string): Promise<Station> {
    return this.stations.mustBe(id);
  }
}

const stationIsThere = () => new PlainError(409, 'This server has its station already. Sign in instead.');

function mustNotBeCommon(field: string, password: string, own: readonly string[]): void {
  if (isCommonPassword(password, own))
    throw new FieldRefusal(
      field,
      'This password is among the first that anybody would try. Choose another, for example four words that nobody else puts together.',
    );
}

/** A code that is easily read out and typed: three groups of four letters and figures that cannot be taken for one another. */
function readableCode(): string {
  const letters = 'abcdefghjkmnpqrstuvwxyz23456789';
  return Array.from(randomBytes(12), (byte, index) => letters[byte % letters.length]! + (index % 4 === 3 && index < 11 ? '-' : '')).join('');
}

const tidyCode = (code: string): string => code.toLowerCase().replace(/[^a-z0-9]/g, '');

/** The end of the address of a station's page: its name in plain letters. The first station has it to itself. */
function slugFor(name: string): string {
  const plain = name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 40);
  return plain || 'station';
}
