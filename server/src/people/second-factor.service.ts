// A second factor of somebody's own choice: codes of an app, and spare ones on paper.
import type { SecondFactorStart, SecondFactorView, SpareCodes } from '@lantern/contract';
import { Injectable } from '@nestjs/common';
import { DataSource, LessThan } from 'typeorm';
import { Clock } from '../foundation/clock';
import { FieldRefusal, PlainError } from '../foundation/errors';
import { changeRow, together } from '../foundation/together';
import { Vault } from '../foundation/vault';
import { AuditService } from './audit.service';
import { keyUri, base32, newSecret, newSpares, spareDigest, stepOf } from './one-time-codes';
import { Person } from './people.entities';

const wrongCode = () => new FieldRefusal('code', 'This code is not good: it may be too old, or used already. Type the one that is shown now.', 403);

@Injectable()
export class SecondFactor {
  constructor(
    private readonly database: DataSource,
    private readonly vault: Vault,
    private readonly clock: Clock,
    private readonly audit: AuditService,
  ) {}

  view({ codeSecret, spareCodes }: Person): SecondFactorView {
    return { on: codeSecret !== null, sparesLeft: spareCodes.length };
  }

  /** A secret for an app, which counts only once a code of it was shown. */
  async begin(person: Person, stationName: string): Promise<SecondFactorStart> {
    if (person.codeSecret !== null) throw new PlainError(409, 'You have a second factor. Take it away first, then begin with another app.');
    const secret = newSecret();
    await this.database.getRepository(Person).update({ id: person.id }, { codePending: this.vault.seal({ secret: secret.toString('base64') }) });
    return { secret: base32(secret), uri: keyUri(secret, person.email, `Noble Lantern, ${stationName}`) };
  }

  /** Turns it on, once a code proves that the app has the secret. */
  async prove(person: Person, code: string): Promise<SpareCodes> {
    const secret = this.opened(person.codePending);
    if (!secret) throw new PlainError(409, 'There is nothing to prove: begin anew.');
    const step = stepOf(secret, code, this.clock.now(), 0);
    if (step === null) throw wrongCode();
    const spares = newSpares();
    const kept = { codeSecret: person.codePending, codePending: null, codeStep: step, spareCodes: spares.map(spareDigest) };
    if (!(await changeRow(this.database.manager, Person, { id: person.id, codePending: person.codePending! }, kept)))
      throw new PlainError(409, 'This was begun anew meanwhile: show a code of the app that was taken last.');
    await this.audit.note(person, 'took', 'a second factor');
    return { spares };
  }

  async newSpareCodes(person: Person): Promise<SpareCodes> {
    if (person.codeSecret === null) throw new PlainError(409, 'You have no second factor, and need no spare codes.');
    const spares = newSpares();
    await this.database.getRepository(Person).update({ id: person.id }, { spareCodes: spares.map(spareDigest) });
    await this.audit.note(person, 'printed', 'new spare codes');
    return { spares };
  }

  async takeAway(person: Person): Promise<void> {
    await this.database.getRepository(Person).update({ id: person.id }, { codeSecret: null, codePending: null, spareCodes: [] });
    await this.audit.note(person, 'took away', 'their second factor');
  }

  /** Passes whoever has none, or shows a code that is good: each is good once, also where it is shown twice at the same moment. */
  async mustFit(person: Person, code: string | undefined): Promise<void> {
    const secret = this.opened(person.codeSecret);
    if (!secret) return;
    if (!code?.trim()) throw new PlainError(401, 'Type the code of your second factor as well: of your app, or a spare one.', { needs: 'code' });
    const step = stepOf(secret, code, this.clock.now(), person.codeStep);
    if (step !== null && (await changeRow(this.database.manager, Person, { id: person.id, codeStep: LessThan(step) }, { codeStep: step }))) return;
    if (!(await this.spend(person.id, spareDigest(code)))) throw wrongCode();
  }

  private spend(id: string, digest: string): Promise<boolean> {
    return together(this.database, async (entities) => {
      const { spareCodes } = await entities.findOneByOrFail(Person, { id });
      if (!spareCodes.includes(digest)) return false;
      await changeRow(entities, Person, { id }, { spareCodes: spareCodes.filter((each) => each !== digest) });
      return true;
    });
  }

  private opened(sealed: string | null): Buffer | null {
    const known = sealed === null ? null : this.vault.open<{ secret: string }>(sealed);
    // A secret that cannot be opened any more keeps its person out, rather than letting anybody in without it.
    if (sealed !== null && !known)
      throw new PlainError(409, 'Your second factor cannot be read on this server. Ask an owner to take you out and ask you in anew.');
    return known && Buffer.from(known.secret, 'base64');
  }
}
