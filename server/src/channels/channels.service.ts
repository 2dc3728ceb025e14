// The station's channels: linking by consent (OAuth 2 with PKCE), typing in, and acting for them.
import { NETWORK_NAMES, type ChannelView, type LinkChoices, type TypedInChannelRequest } from '@lantern/contract';
import type { TokenReply } from '@lantern/contract/network-http';
import type { NetworkId } from '@lantern/core';
import { Inject, Injectable } from '@nestjs/common';
import { createHash, randomUUID } from 'node:crypto';
import { DataSource, In } from 'typeorm';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { Vault } from '../foundation/vault';
import { newToken } from '../people/passwords';
import type { Person } from '../people/people.entities';
import { Channel, PendingLink } from './channel.entities';
import { AccessEnded, NetworkRefusal, NetworkSilence, type Access, type AuthorisedRequest, type Connector, type IngestLine } from './connectors/connector';
import { ask, bodyOrError } from './connectors/network-http';
import { ReelmoorConnector } from './connectors/reelmoor.connector';
import { TownfoldConnector } from './connectors/townfold.connector';

const CLIENT_ID = 'noble-lantern';
const CONSENT_MAY_TAKE_MS = 15 * 60_000;
/** Refresh a little before the end, so that no request meets a token that dies on its way. */
const REFRESH_EARLY_MS = 60_000;

interface Tokens {
  access: string;
  refresh: string;
  expiresAt: number;
}

@Injectable()
export class ChannelsService {
  private readonly connectors: Record<NetworkId, Connector> = {
    reelmoor: new ReelmoorConnector(),
    townfold: new TownfoldConnector(),
  };
  /** One refresh at a time per channel: refresh tokens are good once. */
  private readonly refreshing = new Map<string, Promise<Tokens>>();

  constructor(
    private readonly database: DataSource,
    private readonly vault: Vault,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  list(stationId: string): Promise<Channel[]> {
    return this.database.getRepository(Channel).find({ where: { stationId }, order: { network: 'ASC', name: 'ASC' } });
  }

  /** The channels with these identifiers; throws if one is not the station's. */
  async some(stationId: string, ids: string[]): Promise<Channel[]> {
    const found = await this.database.getRepository(Channel).findBy({ stationId, id: In(ids) });
    if (found.length !== new Set(ids).size)
      throw new PlainError(404, 'One of these channels does not belong to your station. Reload the page and choose again.');
    return found;
  }

  view(channel: Channel): ChannelView {
    const { id, network, kind, name, pictureUrl, linked } = channel;
    return { id, network, kind, name, pictureUrl, linked };
  }

  connectorOf(channel: Channel): Connector | null {
    return channel.network === 'typed-in' ? null : this.connectors[channel.network];
  }

  /** The address and key of a typed-in channel. */
  typedInLine(channel: Channel): IngestLine {
    const line = this.vault.open<IngestLine>(channel.sealed);
    if (!line) throw new PlainError(409, `The key of ${channel.name} cannot be read any more. Type the channel in again.`);
    return line;
  }

  async typeIn(person: Person, request: TypedInChannelRequest): Promise<Channel> {
    const sealed = this.vault.seal({ address: request.address.replace(/\/$/, ''), key: request.key } satisfies IngestLine);
    const channel = { id: randomUUID(), stationId: person.stationId, network: 'typed-in' as const, kind: 'service' as const, linked: true };
    return this.database
      .getRepository(Channel)
      .save(
        Object.assign(new Channel(), { ...channel, name: request.name.trim(), pictureUrl: null, remoteId: null, sealed, watchUrl: request.watchUrl || null }),
      );
  }

  /** Begins a link: remembers who asked, and gives the address of the network's consent page. */
  async beginLink(person: Person, network: NetworkId): Promise<string> {
    const links = this.database.getRepository(PendingLink);
    await links.createQueryBuilder().delete().where('expiresAt < :now', { now: this.clock.now() }).execute();
    const verifier = newToken();
    const id = newToken();
    await links.insert({
      id,
      stationId: person.stationId,
      personId: person.id,
      network,
      sealed: this.vault.seal({ verifier }),
      granted: false,
      expiresAt: this.clock.now() + CONSENT_MAY_TAKE_MS,
    });
    const consent = new URL(`${this.settings.networksUrl}${this.connectors[network].oauthPath}/consent`);
    consent.search = new URLSearchParams({
      response_type: 'code',
      client_id: CLIENT_ID,
      redirect_uri: this.redirectUri(),
      state: id,
      code_challenge: createHash('sha256').update(verifier).digest('base64url'),
      code_challenge_method: 'S256',
    }).toString();
    return consent.href;
  }

  /** Takes the network's reply to a consent: only from the browser of the person who asked, and once. */
  async finishConsent(person: Person, reply: { state?: string; code?: string; error?: string }): Promise<PendingLink> {
    const links = this.database.getRepository(PendingLink);
    const link = await links.findOneBy({ id: reply.state ?? '', personId: person.id, granted: false });
    if (!link || link.expiresAt < this.clock.now()) {
      throw new PlainError(400, 'This reply does not belong to a link that you began, or came too late. Begin the link again.');
    }
    const opened = this.vault.open<{ verifier: string }>(link.sealed);
    await links.delete({ id: link.id });
    if (reply.error || !reply.code || !opened) {
      throw new PlainError(400, `${NETWORK_NAMES[link.network]} was not linked: access was declined. Nothing has changed.`);
    }
    const tokens = await this.tokenRequest(link.network, {
      grant_type: 'authorization_code',
      code: reply.code,
      redirect_uri: this.redirectUri(),
      code_verifier: opened.verifier,
    });
    // A new identifier: the old one has been seen in an address bar.
    return links.save({ ...link, id: newToken(), granted: true, sealed: this.vault.seal(tokens), expiresAt: this.clock.now() + CONSENT_MAY_TAKE_MS });
  }

  async linkChoices(person: Person, linkId: string): Promise<LinkChoices> {
    const { link, tokens } = await this.grantedLink(person, linkId);
    const identities = await this.connectors[link.network].identities(this.requestWith(async () => tokens.access));
    const known = await this.list(person.stationId);
    return {
      linkId,
      network: link.network,
      identities: identities.map((identity) => ({
        ...identity,
        alreadyLinked: known.some((channel) => channel.network === link.network && channel.remoteId === identity.id && channel.linked),
      })),
    };
  }

  /** Makes the chosen identity a channel, or gives a channel that had lost its access new tokens. */
  async finishLink(person: Person, linkId: string, identityId: string): Promise<Channel> {
    const { link, tokens } = await this.grantedLink(person, linkId);
    const { identities } = await this.linkChoices(person, linkId);
    const identity = identities.find(({ id }) => id === identityId);
    if (!identity) throw new PlainError(400, 'This sign-in may not speak for that account. Choose one of the list.');
    return this.database.transaction(async (entities) => {
      await entities.delete(PendingLink, { id: link.id });
      const known = await entities.findOneBy(Channel, { stationId: person.stationId, network: link.network, remoteId: identity.id });
      const { name, kind, pictureUrl } = identity;
      const channel = known ?? Object.assign(new Channel(), { id: randomUUID(), stationId: person.stationId, network: link.network, remoteId: identity.id });
      return entities.save(Object.assign(channel, { name, kind, pictureUrl, watchUrl: null, linked: true, sealed: this.vault.seal(tokens) }));
    });
  }

  /** The right to act for a linked channel. */
  access(channel: Channel): Access {
    return { remoteId: channel.remoteId!, request: this.requestWith((stale) => this.accessToken(channel.id, stale)) };
  }

  private requestWith(token: (stale: string | null) => Promise<string>): AuthorisedRequest {
    return async <T>(path: string, options = {}) => {
      const url = `${this.settings.networksUrl}${path}`;
      const first = await token(null);
      const reply = await ask(url, first, options);
      if (reply.status !== 401) return bodyOrError<T>(reply);
      return bodyOrError<T>(await ask(url, await token(first), options));
    };
  }

  /** A token for the channel; when the caller found `stale` refused, a newer one. */
  private async accessToken(channelId: string, stale: string | null): Promise<string> {
    const channel = await this.database.getRepository(Channel).findOneByOrFail({ id: channelId });
    const tokens = this.vault.open<Tokens>(channel.sealed);
    if (!tokens || !channel.linked) throw new AccessEnded('no access');
    const good = tokens.expiresAt - REFRESH_EARLY_MS > this.clock.now() && tokens.access !== stale;
    if (good) return tokens.access;
    let refresh = this.refreshing.get(channelId);
    if (!refresh) {
      refresh = this.refresh(channel, tokens).finally(() => this.refreshing.delete(channelId));
      this.refreshing.set(channelId, refresh);
    }
    return (await refresh).access;
  }

  private async refresh(channel: Channel, tokens: Tokens): Promise<Tokens> {
    const channels = this.database.getRepository(Channel);
    try {
      const fresh = await this.tokenRequest(channel.network as NetworkId, { grant_type: 'refresh_token', refresh_token: tokens.refresh });
      await channels.update({ id: channel.id }, { sealed: this.vault.seal(fresh) });
      return fresh;
    } catch (error) {
      if (!(error instanceof NetworkRefusal)) throw error;
      await channels.update({ id: channel.id }, { linked: false });
      throw new AccessEnded('access was withdrawn');
    }
  }

  private async tokenRequest(network: NetworkId, form: Record<string, string>): Promise<Tokens> {
    const url = `${this.settings.networksUrl}${this.connectors[network].oauthPath}/token`;
    const reply = bodyOrError<TokenReply>(await ask(url, null, { method: 'POST', body: { client_id: CLIENT_ID, ...form } }));
    return { access: reply.access_token, refresh: reply.refresh_token, expiresAt: this.clock.now() + reply.expires_in * 1000 };
  }

  private redirectUri(): string {
    return `${this.settings.publicUrl}/api/channels/links/return`;
  }

  private async grantedLink(person: Person, id: string): Promise<{ link: PendingLink; tokens: Tokens }> {
    const link = await this.database.getRepository(PendingLink).findOneBy({ id, personId: person.id, granted: true });
    const tokens = link && this.vault.open<Tokens>(link.sealed);
    if (!link || !tokens || link.expiresAt < this.clock.now()) throw new PlainError(404, 'This link has run out. Begin it again.');
    return { link, tokens };
  }
}

/** What went wrong with a network, in one or two sentences that name the channel and the way out. */
export function wordsOfNetworkError(error: unknown, channel: Pick<Channel, 'name' | 'network'>, connector: Connector | null): string {
  const network = NETWORK_NAMES[channel.network];
  if (error instanceof NetworkRefusal) return connector?.ourWords(error.reason) ?? `${network} said: ${error.words} Change it and try again.`;
  if (error instanceof NetworkSilence) return `${network} gave no answer: ${error.message}. Try again; nothing is made twice.`;
  if (error instanceof AccessEnded) return `${network} no longer lets the station act for ${channel.name}. Link the channel again.`;
  if (error instanceof PlainError) return error.words;
  throw error;
}
