// The rules in force for each channel: our sheets, brought up to date by what networks announce.
import type { RuleChangeView } from '@lantern/contract';
import {
  checkAgainstChange,
  DAY_MS,
  HOUR_MS,
  instant,
  rulesFor,
  rulesWithLimits,
  sayFinding,
  sayLimit,
  type NetworkId,
  type RuleNotice,
  type RuleSheet,
  type ShowFacts,
} from '@lantern/core';
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { Clock } from '../foundation/clock';
import { RegularWork } from '../foundation/regular-work';
import { together } from '../foundation/together';
import { ChannelAccessService, placeName } from './access.service';
import { RuleNoticeRow, type Channel } from './channel.entities';
import { ChannelRows } from './channel-rows';
import { letGo } from '../foundation/let-go';

const ASK_EVERY_MS = HOUR_MS;
/** A change that has been in force so long is taken for known. */
const NEWS_FOR_MS = 14 * DAY_MS;

@Injectable()
export class RuleBookService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('rules', ASK_EVERY_MS, () => this.askAll());
  private readonly log = new Logger('rules');
  private notices: RuleNoticeRow[] = [];

  constructor(
    private readonly database: DataSource,
    private readonly channels: ChannelRows,
    private readonly access: ChannelAccessService,
    private readonly clock: Clock,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    this.notices = await this.database.getRepository(RuleNoticeRow).find();
    letGo('asking for announced rules', this.work.now());
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  /** Asks one network what it has announced. Throws where it does not answer; what was known stays then. */
  async ask(network: NetworkId): Promise<void> {
    const announced = await this.access.connector(network).notices(this.access.publicRequest(network));
    await together(this.database, async (entities) => {
      await entities.delete(RuleNoticeRow, { network });
      await entities.insert(
        RuleNoticeRow,
        announced.map(({ id, limit, value, from }) => ({ network, id, limit, value, from })),
      );
    });
    this.notices = await this.database.getRepository(RuleNoticeRow).find();
  }

  /** The rules for a channel in force at this moment. */
  rules(channel: Pick<Channel, 'network' | 'kind' | 'limits'>, at = this.clock.now()): RuleSheet {
    if (channel.network === 'typed-in') return rulesWithLimits(channel.limits);
    return rulesFor(channel.network, channel.kind, this.noticesOf(channel.network), at);
  }

  /** Announced changes that are still to come. */
  coming(channel: Pick<Channel, 'network'>): RuleNotice[] {
    return this.noticesOf(channel.network).filter(({ from }) => from > this.clock.now());
  }

  /** What networks have announced, lately or for the future, and which of `shows` each change touches. */
  changes(channel: Channel, shows: { id: string; title: string; zone: string; facts: ShowFacts }[]): RuleChangeView[] {
    const now = this.clock.now();
    return this.noticesOf(channel.network)
      .filter(({ from }) => from > now - NEWS_FOR_MS)
      .map((notice) => {
        const then = this.rules(channel, notice.from);
        const before = this.rules(channel, instant(notice.from - 1));
        const touched = shows.flatMap(({ id, title, zone, facts }) => {
          const [finding] = checkAgainstChange(facts, before, then, notice.from, now);
          return finding ? [{ id, title, zone, startsAt: facts.startsAt!, whatToDo: sayFinding(finding, placeName(channel), zone) }] : [];
        });
        return { id: notice.id, from: notice.from, words: `${placeName(channel)} takes ${sayLimit(notice)}.`, shows: touched };
      });
  }

  private noticesOf(network: NetworkId | 'typed-in'): RuleNotice[] {
    return this.notices.filter((each) => each.network === network).map(({ id, limit, value, from }) => ({ id, limit, value, from: instant(from) }));
  }

  private async askAll(): Promise<void> {
    for (const network of await this.channels.networks()) {
      if (network !== 'typed-in') await this.ask(network).catch((error: Error) => this.log.warn(`${network} did not tell its rules: ${error.message}`));
    }
  }
}
