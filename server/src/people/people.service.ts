// Stations, their people and who is signed in.
import type { Me, SetUpRequest, SignInRequest } from '@lantern/contract';
import { USUAL_TIMES } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { DataSource } from 'typeorm';
import { Clock } from '../foundation/clock';
import { digestOf } from '../foundation/digest';
import { PlainError } from '../foundation/errors';
import { together } from '../foundation/together';
import { hashPassword, newToken, passwordFits } from './passwords';
import { Person, Session, Station } from './people.entities';

export const SESSION_LIVES_MS = 30 * 24 * 3_600_000;

@Injectable()
export class PeopleService {
  constructor(
    private readonly database: DataSource,
    private readonly clock: Clock,
  ) {}

  async setUpNeeded(): Promise<boolean> {
    return (await this.database.getRepository(Station).count()) === 0;
  }

  /** Makes the station and its owner. Only ever once on a server. */
  async setUp(request: SetUpRequest): Promise<Person> {
    const passwordHash = await hashPassword(request.password);
    return together(this.database, async (entities) => {
      if (await entities.count(Station)) throw new PlainError(409, 'This server has its station already. Sign in instead.');
      const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
      const station = await entities.save(
        Object.assign(new Station(), {
          id: randomUUID(),
          name: request.stationName.trim(),
          zone,
          cities: [],
          milestoneTimes: USUAL_TIMES,
          feedHash: null,
          slug: slugFor(request.stationName),
          supportersHash: null,
        }),
      );
      const person = { id: randomUUID(), stationId: station.id, name: request.name.trim(), role: 'owner' as const };
      return entities.save(Object.assign(new Person(), { ...person, email: request.email.toLowerCase(), passwordHash }));
    });
  }

  async signIn(request: SignInRequest): Promise<{ person: Person; token: string }> {
    const person = await this.database.getRepository(Person).findOneBy({ email: request.email.toLowerCase() });
    // Hash in either case, so that the answer takes as long for an unknown address.
    const fits = await passwordFits(request.password, person?.passwordHash ?? `scrypt$32768$AAAA$${Buffer.alloc(32).toString('base64')}`);
    if (!person || !fits) throw new PlainError(401, 'This address and password do not belong together. Check both and try again.');
    return { person, token: await this.openSession(person) };
  }

  async openSession(person: Person): Promise<string> {
    const token = newToken();
    const expiresAt = this.clock.now() + SESSION_LIVES_MS;
    await this.database.getRepository(Session).insert({ tokenHash: digestOf(token), personId: person.id, expiresAt, passwordAt: this.clock.now() });
    return token;
  }

  /** Takes the password once more in a browser that is signed in. */
  async passwordAgain(person: Person, token: string, password: string): Promise<void> {
    if (!(await passwordFits(password, person.passwordHash))) throw new PlainError(403, 'This is not your password. Try again.');
    await this.database.getRepository(Session).update({ tokenHash: digestOf(token) }, { passwordAt: this.clock.now() });
  }

  async passwordGivenAt(token: string): Promise<number | null> {
    return (await this.database.getRepository(Session).findOneBy({ tokenHash: digestOf(token) }))?.passwordAt ?? null;
  }

  async signOut(token: string): Promise<void> {
    await this.database.getRepository(Session).delete({ tokenHash: digestOf(token) });
  }

  /** The person whose browser shows `token`, or null. */
  async personOf(token: string | undefined): Promise<Person | null> {
    if (!token) return null;
    const session = await this.database.getRepository(Session).findOneBy({ tokenHash: digestOf(token) });
    if (!session || session.expiresAt < this.clock.now()) return null;
    return this.database.getRepository(Person).findOneBy({ id: session.personId });
  }

  async me(person: Person): Promise<Me> {
    const station = await this.station(person.stationId);
    return { personId: person.id, name: person.name, role: person.role, station: { id: station.id, name: station.name } };
  }

  station(id: string): Promise<Station> {
    return this.database.getRepository(Station).findOneByOrFail({ id });
  }
}

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
