// How often somebody is asked to confirm an address: anybody can type anybody's address into a form.
import { DAY_MS, HOUR_MS } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource, MoreThan } from 'typeorm';
import { Clock } from '../foundation/clock';
import { Registration, Subscription } from './reminder.entities';

/** For the same thing once an hour; for all things together so many a day. */
const SAME_EVERY_MS = HOUR_MS;
const MOST_A_DAY = 5;

@Injectable()
export class AskingLimits {
  constructor(
    private readonly database: DataSource,
    private readonly clock: Clock,
  ) {}

  /** Whether an address has been asked often enough. `lastAskedAt`: for the same thing; null: never. */
  async tooSoon(email: string, lastAskedAt: number | null): Promise<boolean> {
    const now = this.clock.now();
    if (lastAskedAt !== null && now - lastAskedAt < SAME_EVERY_MS) return true;
    const where = { email, askedAt: MoreThan(now - DAY_MS) };
    const asked = (await this.database.getRepository(Registration).countBy(where)) + (await this.database.getRepository(Subscription).countBy(where));
    return asked >= MOST_A_DAY;
  }
}
