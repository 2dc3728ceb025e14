// The right to act for accounts: tokens, their renewal and their loss. Tokens leave this file only
// inside requests.
import { NETWORK_NAMES, type ChannelAccess } from '@lantern/contract';
import { TokenReply } from '@lantern/contract/network-http';
import type { NetworkId } from '@lantern/core';
import { sayNetworkTrouble } from '@lantern/core';
import { Inject, Injectable, Logger } from '@nestjs/common';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { isUnasked } from '../foundation/unasked';
import { Vault } from '../foundation/vault';
import type { Channel } from './channel.entities';
import { ChannelRows } from './channel-rows';
import { AccessEnded, NetworkRefusal, NetworkSilence, type Access, type AuthorisedRequest, type Connector } from './connectors/connector';
import { GuildhandConnector } from './connectors/guildhand.connector';
import { ask, bodyOrError, patiently, textIn } from './connectors/network-http';
import { NetworkSocket } from './connectors/network-socket';
import { NetworkHealth } from './network-health';
import { PipwireConnector } from './connectors/pipwire.connector';
import { ReelmoorConnector } from './connectors/reelmoor.connector';
import { TownfoldConnector } from './connectors/townfold.connector';

const log = new Logger('networks');

export const CLIENT_ID = 'noble-lantern';
/** Refresh a little before the end, so that no request meets a token that dies on its way. */
const REFRESH_EARLY_MS = 60_000;

export interface Tokens {
  access: string;
  refresh: string;
  expiresAt: number;
}

@Injectable()
export class ChannelAccessService {
  private readonly connectors: Record<NetworkId, Connector> = {
    reelmoor: new ReelmoorConnector(),
    townfold: new TownfoldConnector(),
    guildhand: new GuildhandConnector(),
    pipwire: new PipwireConnector(),
  };
  readonly health = new NetworkHealth(() => Date.now());
  /** One refresh at a time per channel: refresh tokens are good once. */
  private readonly refreshing = new Map<string, Promise<Tokens>>();

  constructor(
    private readonly rows: ChannelRows,
    private readonly vault: Vault,
    private readonly clock: Clock,
    private readonly bus: Bus,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  connector(network: NetworkId): Connector {
    return this.connectors[network];
  }

  connectorOf(channel: Pick<Channel, 'network'>): Connector | null {
    return channel.network === 'typed-in' ? null : this.connectors[channel.network];
  }

  stateOf(channel: Channel): ChannelAccess {
    if (channel.access === 'good' && channel.network !== 'typed-in' && !this.vault.open(channel.sealed)) return 'unreadable';
    return channel.access;
  }

  /** The right to act for a linked channel. */
  of(channel: Channel): Access {
    const connector = this.connectorOf(channel)!;
    const token = (stale: string | null) => this.accessToken(channel.id, stale);
    return { remoteId: channel.remoteId!, request: this.requestWith(connector, token), socket: (path) => this.socketWith(connector, token, path) };
  }

  /** Requests with tokens that belong to no channel yet. */
  requestFor(network: NetworkId, tokens: Tokens): AuthorisedRequest {
    return this.requestWith(this.connectors[network], async () => tokens.access);
  }

  /** Requests for what a network tells anybody. */
  publicRequest(network: NetworkId): AuthorisedRequest {
    return this.requestWith(this.connectors[network], async () => null);
  }

  /** Asks the token endpoint (RFC 6749, section 5). Throws NetworkRefusal where it grants nothing. */
  async tokens(network: NetworkId, form: Record<string, string>): Promise<Tokens> {
    // Neither codes nor refresh tokens may be used twice, so this is never repeated.
    const reply = bodyOrError(await this.oauth(network, 'token', form), readTokenRefusal, TokenReply);
    return { access: reply.access_token, refresh: reply.refresh_token, expiresAt: this.clock.now() + reply.expires_in * 1000 };
  }

  /** Gives the access back (RFC 7009). A network that does not hear it keeps a right that nobody here can use. */
  async giveBack(channel: Channel): Promise<void> {
    const tokens = this.vault.open<Tokens>(channel.sealed);
    if (!tokens || channel.network === 'typed-in') return;
    const { network } = channel;
    // Whatever stands in the reply: it may be ignored (section 2.2).
    await patiently({ repeatable: true }, async () =>
      bodyOrError({ ...(await this.oauth(network, 'revoke', { token: tokens.refresh })), body: null }, () => null, 'nothing'),
    ).catch((error: unknown) => {
      if (!(error instanceof NetworkSilence || error instanceof NetworkRefusal || error instanceof AccessEnded)) throw error;
    });
  }

  private oauth(network: NetworkId, what: 'token' | 'revoke', form: Record<string, string>) {
    const url = `${this.settings.networksUrl}${this.connectors[network].oauthPath}/${what}`;
    return ask(url, null, { method: 'POST', body: { client_id: CLIENT_ID, ...form } });
  }

  private requestWith(connector: Connector, token: (stale: string | null) => Promise<string | null>): AuthorisedRequest {
    const { network } = connector;
    return (path, options) => {
      const url = `${this.settings.networksUrl}${path}`;
      return patiently(options, async () => {
        if (isUnasked() && !this.health.mayAsk(network)) throw new NetworkSilence('it has not answered for a while');
        try {
          const first = await token(null);
          const reply = await ask(url, first, options);
          const answer =
            reply.status !== 401 || first === null
              ? bodyOrError(reply, connector.readRefusal, options.reply)
              : bodyOrError(await ask(url, await token(first), options), connector.readRefusal, options.reply);
          this.health.heard(network);
          return answer;
        } catch (error) {
          // What was ended from here says nothing of the network.
          if (error instanceof NetworkSilence && !options.signal?.aborted) this.health.silent(network);
          else if (!(error instanceof NetworkSilence)) this.health.heard(network);
          throw error;
        }
      });
    };
  }

  private async socketWith({ network }: Connector, token: (stale: string | null) => Promise<string>, path: string): Promise<NetworkSocket> {
    if (isUnasked() && !this.health.mayAsk(network)) throw new NetworkSilence('it has not answered for a while');
    const url = `${this.settings.networksUrl.replace(/^http/, 'ws')}${path}`;
    const first = await token(null);
    try {
      return await NetworkSocket.open(url, first).catch(async (error: unknown) => {
        if (!(error instanceof AccessEnded)) throw error;
        return NetworkSocket.open(url, await token(first));
      });
    } catch (error) {
      if (error instanceof NetworkSilence) this.health.silent(network);
      throw error;
    }
  }

  /** A token for the channel; when the caller found `stale` refused, a newer one. */
  private async accessToken(channelId: string, stale: string | null): Promise<string> {
    const channel = await this.rows.mustBe(channelId);
    const tokens = this.vault.open<Tokens>(channel.sealed);
    if (!tokens || channel.access !== 'good') throw new AccessEnded('no access');
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
    try {
      const fresh = await this.tokens(channel.network as NetworkId, { grant_type: 'refresh_token', refresh_token: tokens.refresh });
      await this.rows.change(channel.id, { sealed: this.vault.seal(fresh) });
      return fresh;
    } catch (error) {
      if (!(error instanceof NetworkRefusal)) throw error;
      await this.rows.change(channel.id, { access: 'ended' });
      this.bus.tell({ kind: 'channels', stationId: channel.stationId });
      throw new AccessEnded('access was withdrawn');
    }
  }
}

/** RFC 6749, section 5.2. */
function readTokenRefusal(body: unknown) {
  const reason = textIn(body, 'error');
  return reason === null ? null : { reason, text: textIn(body, 'error_description') ?? '' };
}

/** How a channel is spoken of: by its network, whose rule or answer it is, or by its own name. */
export function placeName(channel: Pick<Channel, 'name' | 'network'>): string {
  return channel.network === 'typed-in' ? channel.name : NETWORK_NAMES[channel.network];
}

/** A channel named so that no other is meant: one station has the same name on several networks. */
export function channelInFull(channel: Pick<Channel, 'name' | 'network'>): string {
  return channel.network === 'typed-in' ? channel.name : `${channel.name} (${NETWORK_NAMES[channel.network]})`;
}

/** A network's reason in our words; null where we know no better ones than its own. A reason may be called anything, also as what every object has. */
export function ourWords(connector: Connector | null, reason: string): string | null {
  return connector && Object.hasOwn(connector.words, reason) ? connector.words[reason]! : null;
}

/** What went wrong with a network, in one or two sentences that name the channel and the way out. */
export function wordsOfNetworkError(
  error: unknown,
  channel: Pick<Channel, 'name' | 'network'>,
  connector: Connector | null,
  again: 'by hand' | 'by itself' = 'by hand',
): string {
  const network = placeName(channel);
  if (error instanceof NetworkRefusal) return ourWords(connector, error.reason) ?? sayNetworkTrouble({ code: 'refused', network, said: error.words });
  if (error instanceof NetworkSilence) return sayNetworkTrouble({ code: 'silent', network, how: error.message }, again);
  if (error instanceof AccessEnded) return sayNetworkTrouble({ code: 'access ended', network, channel: channel.name });
  if (error instanceof PlainError) return error.words;
  // Total on purpose: this runs in work that nobody waits for, where a thrown error would end every show.
  log.error(error instanceof Error ? error.message : String(error), error instanceof Error ? error.stack : undefined);
  return sayNetworkTrouble({ code: 'fault', network }, again);
}
