// The station's channels: the register, typing in, standing and defaults. Linking is beside it.
import type {
  ChannelDefaultsRequest,
  ChannelIdentity,
  ChannelView,
  LimitsTypedIn,
  PartnerView,
  TypedInChannelChange,
  TypedInChannelRequest,
} from '@lantern/contract';
import { defaultsFor, defaultsNotOffered, MINUTE_MS, rulesFor, type Condition, type LimitsByHand } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { DataSource } from 'typeorm';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { LineKeys } from './line-keys';
import { AuditService } from '../people/audit.service';
import type { Person } from '../people/people.entities';
import { together } from '../foundation/together';
import { ChannelAccessService, wordsOfNetworkError } from './access.service';
import { Channel } from './channel.entities';
import { ChannelRows, LineRows } from './channel-rows';
import { AccessEnded } from './connectors/connector';
import { RuleBookService } from './rule-book.service';
import { Bus } from '../foundation/bus';

@Injectable()
export class ChannelsService {
  constructor(
    private readonly database: DataSource,
    private readonly rows: ChannelRows,
    private readonly lines: LineRows,
    private readonly clock: Clock,
    private readonly access: ChannelAccessService,
    private readonly ruleBook: RuleBookService,
    private readonly keys: LineKeys,
    private readonly audit: AuditService,
    private readonly bus: Bus,
  ) {}

  /** The channels of the register: those that are linked or were typed in. */
  list(stationId: string): Promise<Channel[]> {
    return this.rows.linked(stationId);
  }

  async one(stationId: string, id: string): Promise<Channel> {
    const channel = await this.rows.one(stationId, id);
    if (!channel || channel.access === 'unlinked') throw new PlainError(404, 'There is no such channel at your station. It may have been unlinked.');
    return channel;
  }

  /** The channels with these identifiers; throws if one is not the station's. */
  async some(stationId: string, ids: string[]): Promise<Channel[]> {
    const found = (await this.list(stationId)).filter(({ id }) => ids.includes(id));
    if (found.length !== new Set(ids).size)
      throw new PlainError(404, 'One of these channels does not belong to your station. Reload the page and choose again.');
    return found;
  }

  async views(channels: Channel[]): Promise<ChannelView[]> {
    const lines = await this.lines.lasting(channels.map(({ id }) => id));
    return channels.map((channel) => ({
      ...identityOf(channel),
      access: this.access.stateOf(channel),
      rules: this.ruleBook.rules(channel),
      notices: this.ruleBook.coming(channel),
      // Of what a network has begun to ask since they were chosen, its plain ones.
      defaults: { ...defaultsFor(this.ruleBook.rules(channel)), ...channel.defaults },
      limits: channel.limits,
      conditions: channel.conditions,
      conditionsAt: channel.conditionsAt,
      watchUrl: channel.watchUrl,
      lines: lines.filter(({ channelId }) => channelId === channel.id).map(({ id, name }) => ({ id, name })),
    }));
  }

  async view(channel: Channel): Promise<ChannelView> {
    return (await this.views([channel]))[0]!;
  }

  async typeIn(person: Person, request: TypedInChannelRequest): Promise<Channel> {
    const channel = Object.assign(new Channel(), {
      id: randomUUID(),
      stationId: person.stationId,
      network: 'typed-in',
      kind: 'service',
      name: request.name.trim(),
      pictureUrl: null,
      remoteId: null,
      sealed: '',
      watchUrl: request.watchUrl || null,
      access: 'good',
      defaults: defaultsFor(rulesFor('typed-in', 'service')),
      limits: limitsOf(request.limits),
      conditions: [],
      conditionsAt: null,
    } satisfies Channel);
    await together(this.database, async () => {
      await this.rows.add(channel);
      await this.lines.add(this.keys.typedIn(channel.id, { name: 'Main line', address: request.address, key: request.key }));
    });
    this.bus.tell({ kind: 'channels', stationId: person.stationId });
    await this.audit.note(person, 'typed in', channel.name);
    return channel;
  }

  async changeTypedIn(channel: Channel, change: TypedInChannelChange): Promise<Channel> {
    if (channel.network !== 'typed-in') throw new PlainError(409, 'Name and limits of this channel come from its network.');
    return this.changed(channel, { name: change.name.trim(), watchUrl: change.watchUrl || null, limits: limitsOf(change.limits) });
  }

  /** Keeps what shows are placed with on this channel. Throws where the network offers no such choice. */
  async setDefaults(channel: Channel, request: ChannelDefaultsRequest): Promise<Channel> {
    const { visibility, category = null, language = null, messages = null, delayS = null, rewind = null, replay = null } = request;
    const { licence = null, listedDays = null, adverts = null, keepsMessages = null } = request;
    const defaults = { visibility, category, language, messages, delayS, rewind, replay, licence, listedDays, adverts, keepsMessages };
    const wrong = defaultsNotOffered(defaults, this.ruleBook.rules(channel));
    const [first] = Object.values(wrong);
    if (first) throw new PlainError(422, first, { fields: wrong });
    return this.changed(channel, { defaults });
  }

  /** Throws, in words, what the network answers. */
  async partners(channel: Channel): Promise<PartnerView[]> {
    const connector = this.access.connectorOf(channel);
    if (!connector?.partners) return [];
    try {
      return await connector.partners(this.access.of(channel));
    } catch (error) {
      throw new PlainError(502, wordsOfNetworkError(error, channel, connector));
    }
  }

  private async changed(channel: Channel, columns: Partial<Channel>): Promise<Channel> {
    await this.rows.change(channel.id, columns);
    this.bus.tell({ kind: 'channels', stationId: channel.stationId });
    return Object.assign(channel, columns);
  }

  /** Asks the network again: who the account is, whether it may broadcast, and which rules will change. */
  async lookAgain(channel: Channel): Promise<Channel> {
    const connector = this.access.connectorOf(channel);
    if (!connector) return channel;
    const access = this.access.of(channel);
    let conditions: Condition[];
    try {
      const identity = (await connector.identities(access.request)).find(({ id }) => id === channel.remoteId);
      if (identity) Object.assign(channel, { name: identity.name, pictureUrl: identity.pictureUrl });
      conditions = [{ code: 'access', state: 'met' }, ...(await connector.conditions(access, channel.kind, this.clock.now()))];
      await this.ruleBook.ask(connector.network);
    } catch (error) {
      if (!(error instanceof AccessEnded)) throw new PlainError(502, wordsOfNetworkError(error, channel, connector));
      conditions = [{ code: 'access', state: 'unmet' }];
    }
    const { name, pictureUrl } = channel;
    await this.changed(channel, { name, pictureUrl, conditions, conditionsAt: this.clock.now() });
    return this.one(channel.stationId, channel.id);
  }

  async askToBroadcast(channel: Channel): Promise<Channel> {
    const connector = this.access.connectorOf(channel);
    if (!connector?.askToBroadcast) throw new PlainError(409, 'This service asks for no permission that could be got from here.');
    try {
      await connector.askToBroadcast(this.access.of(channel));
    } catch (error) {
      throw new PlainError(502, wordsOfNetworkError(error, channel, connector));
    }
    return this.lookAgain(channel);
  }
}

function limitsOf(typed: LimitsTypedIn | undefined): LimitsByHand {
  const { titleMax = null, textMax = null, longestMin = null, maxKbps = null } = typed ?? {};
  return { titleMax, textMax, longestMs: longestMin === null ? null : longestMin * MINUTE_MS, maxKbps };
}

export function identityOf({ id, network, kind, name, pictureUrl }: Channel): ChannelIdentity {
  return { id, network, kind, name, pictureUrl };
}
