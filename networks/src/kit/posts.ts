// Plain posts on accounts' pages, on the networks that have them.
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { now } from './clock';
import { PostRow, type Account } from './entities';
import { Refusal } from './refusal';
import { newId } from './secrets';

@Injectable()
export class Posts {
  constructor(private readonly database: DataSource) {}

  /** Makes a post; the same `once` gives the same post again, whatever it says. */
  async make(account: Account, text: string, once: string | null, check: () => void): Promise<PostRow> {
    const posts = this.database.getRepository(PostRow);
    const earlier = once === null ? null : await posts.findOneBy({ accountId: account.id, idempotencyKey: once });
    if (earlier) return earlier;
    if (account.role === 'reader') throw new Refusal(403, 'role', 'Readers of this account cannot write on it.');
    check();
    return posts.save(Object.assign(new PostRow(), { id: newId(), network: account.network, accountId: account.id, idempotencyKey: once, text, at: now() }));
  }

  of(accountId: string): Promise<PostRow[]> {
    return this.database.getRepository(PostRow).find({ where: { accountId }, order: { at: 'DESC' }, take: 50 });
  }
}
