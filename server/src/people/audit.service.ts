// Who did what with channels and keys: a list that the owner can read and nobody can change.
import type { AuditEntryView } from '@lantern/contract';
import { Injectable } from '@nestjs/common';
import { DataSource, In } from 'typeorm';
import { Clock } from '../foundation/clock';
import { AuditEntry, Person } from './people.entities';

const SHOWN = 200;

@Injectable()
export class AuditService {
  constructor(
    private readonly database: DataSource,
    private readonly clock: Clock,
  ) {}

  /** `did` and `what` make a sentence with the person's name before it; neither holds a secret. */
  async note(person: Person, did: string, what: string): Promise<void> {
    await this.database.getRepository(AuditEntry).insert({ stationId: person.stationId, personId: person.id, at: this.clock.now(), did, what });
  }

  /** The latest entries, newest first. */
  async list(stationId: string): Promise<AuditEntryView[]> {
    const entries = await this.database.getRepository(AuditEntry).find({ where: { stationId }, order: { at: 'DESC', id: 'DESC' }, take: SHOWN });
    const people = await this.database.getRepository(Person).findBy({ id: In(entries.map(({ personId }) => personId)) });
    return entries.map(({ at, personId, did, what }) => ({
      at,
      person: people.find(({ id }) => id === personId)?.name ?? 'Somebody who has left',
      words: `${did} ${what}`,
    }));
  }
}
