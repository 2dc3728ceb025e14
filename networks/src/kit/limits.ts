// The limits in force on each network. They can be changed from the operator's page, announced or
// behind everybody's back, as real networks do.
import { Injectable } from '@nestjs/common';
import { DataSource, In } from 'typeorm';
import { now } from './clock';
import { LimitChange, type LimitName, type Limits, type Network } from './entities';
import { newId } from './secrets';

export const LIMIT_NAMES: readonly LimitName[] = ['title', 'text', 'ahead', 'lead', 'longest'];

/** The unit in which a limit is typed in on the operator's page, in ms or characters. */
export function unitOf(limit: LimitName): number {
  if (limit === 'title' || limit === 'text') return 1;
  return limit === 'ahead' ? 86_400_000 : limit === 'lead' ? 60_000 : 3_600_000;
}

@Injectable()
export class LimitBook {
  private readonly base = new Map<Network, Limits>();

  constructor(private readonly database: DataSource) {}

  /** Told once by each network: its limits before any change. */
  register(network: Network, limits: Limits): void {
    this.base.set(network, limits);
  }

  async inForce(network: Network): Promise<Limits> {
    const limits = { ...this.base.get(network)! };
    const changes = await this.changes(network);
    for (const { limit, value, from } of changes) if (from <= now()) limits[limit] = value;
    return limits;
  }

  /** The names of limits that the network has. */
  names(network: Network): LimitName[] {
    return LIMIT_NAMES.filter((name) => Number.isFinite(this.base.get(network)![name]));
  }

  /** Announced changes of the named limits, whether in force yet or not. */
  async announced(network: Network, names: readonly LimitName[]): Promise<LimitChange[]> {
    return this.database.getRepository(LimitChange).find({ where: { network, announced: true, limit: In(names) }, order: { from: 'ASC' } });
  }

  changes(network: Network): Promise<LimitChange[]> {
    return this.database.getRepository(LimitChange).find({ where: { network }, order: { from: 'ASC' } });
  }

  async change(network: Network, limit: LimitName, value: number, from: number, announced: boolean): Promise<void> {
    await this.database.getRepository(LimitChange).insert({ id: newId(), network, limit, value, from, announced });
  }

  async forgetChanges(network: Network): Promise<void> {
    await this.database.getRepository(LimitChange).delete({ network });
  }
}
