// Events that stand on the pages of others too: one's own groups take them at once, everybody else is asked.
import { Injectable } from '@nestjs/common';
import { DataSource, In, Not } from 'typeorm';
import { Account, EventRow, ShareRow } from './entities';
import { Refusal } from './refusal';

export type SharedFrom = 'announced' | 'begun' | 'over';

const STATES: Record<SharedFrom, EventRow['state'][]> = { announced: ['planned', 'public', 'over'], begun: ['public', 'over'], over: ['over'] };

@Injectable()
export class Shares {
  constructor(private readonly database: DataSource) {}

  private get rows() {
    return this.database.getRepository(ShareRow);
  }

  /** Whom an account may ask: its own groups, and the pages of others. */
  partnersOf({ id, network, loginId }: Account): Promise<Account[]> {
    const others = { network, id: Not(id) };
    return this.database.getRepository(Account).find({
      where: [
        { ...others, loginId, kind: 'group' },
        { ...others, loginId: Not(loginId), kind: 'page' },
      ],
      order: { name: 'ASC' },
    });
  }

  /** From now on with these and no others. Whoever was asked already keeps what they answered. */
  async set(event: EventRow, account: Account, wanted: readonly string[]): Promise<void> {
    const partners = await this.partnersOf(account);
    const strange = wanted.find((id) => !partners.some((partner) => partner.id === id));
    if (strange !== undefined) throw new Refusal(422, 'share_with', 'It cannot be shared there.');
    const eventId = event.id;
    const known = await this.rows.findBy({ eventId });
    await this.rows.remove(known.filter(({ accountId }) => !wanted.includes(accountId)));
    for (const partner of partners.filter(({ id }) => wanted.includes(id) && !known.some(({ accountId }) => accountId === id)))
      await this.rows.insert({ eventId, accountId: partner.id, answer: partner.loginId === account.loginId ? 'accepted' : 'asked' });
  }

  async of({ id: eventId }: EventRow): Promise<{ account: Account; answer: ShareRow['answer'] }[]> {
    const rows = await this.rows.findBy({ eventId });
    const accounts = await this.database.getRepository(Account).findBy({ id: In(rows.map(({ accountId }) => accountId)) });
    return rows.map(({ accountId, answer }) => ({ account: accounts.find(({ id }) => id === accountId)!, answer }));
  }

  async answer(eventId: string, accountId: string, answer: 'accepted' | 'declined'): Promise<void> {
    const row = await this.rows.findOneBy({ eventId, accountId });
    if (!row) throw new Refusal(404, 'not-asked', 'Nobody has asked them.');
    await this.rows.save(Object.assign(row, { answer }));
  }

  /** What of others stands on an account's page. */
  async on({ id: accountId }: Account): Promise<EventRow[]> {
    const rows = await this.rows.findBy({ accountId, answer: 'accepted' });
    const events = await this.database.getRepository(EventRow).findBy({ id: In(rows.map(({ eventId }) => eventId)), visibility: 'everyone' });
    return events.filter(({ state, chosen }) => STATES[(chosen.shared_from as SharedFrom | undefined) ?? 'announced'].includes(state));
  }
}
