// How an account becomes a channel, by consent at its network (OAuth 2 with PKCE, RFC 6749 and RFC 7636).
import { NETWORK_NAMES, type LinkChoices } from '@lantern/contract';
import { defaultsFor, rulesFor, type NetworkId } from '@lantern/core';
import { Inject, Injectable } from '@nestjs/common';
import { createHash, randomUUID } from 'node:crypto';
import { DataSource } from 'typeorm';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { Vault } from '../foundation/vault';
import { AuditService } from '../people/audit.service';
import { newToken } from '../people/passwords';
import type { Person } from '../people/people.entities';
import { addRow, together } from '../foundation/together';
import { ChannelAccessService, CLIENT_ID, type Tokens } from './access.service';
import { Channel, PendingLink } from './channel.entities';
import { ChannelRows } from './channel-rows';
import { ChannelsService } from './channels.service';
import { NetworkSilence } from './connectors/connector';
import { RuleBookService } from './rule-book.service';
import { Bus } from '../foundation/bus';

const CONSENT_MAY_TAKE_MS = 15 * 60_000;

@Injectable()
export class LinkingService {
  constructor(
    private readonly database: DataSource,
    private readonly vault: Vault,
    private readonly clock: Clock,
    private readonly access: ChannelAccessService,
    private readonly channels: ChannelsService,
    private readonly rows: ChannelRows,
    private readonly ruleBook: RuleBookService,
    private readonly audit: AuditService,
    private readonly bus: Bus,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  /** Begins a link: remembers who asked, and gives the address of the network's consent page. Throws where the network does not answer: nobody is sent to a page that is not there. */
  async begin(person: Person, network: NetworkId): Promise<string> {
    await this.ruleBook.ask(network).catch((error: unknown) => {
      if (error instanceof NetworkSilence) throw new PlainError(502, `${NETWORK_NAMES[network]} gave no answer: ${error.message}. Try again later.`);
      throw error;
    });
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
    const consent = new URL(`${this.settings.networksUrl}${this.access.connector(network).oauthPath}/consent`);
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
    const link = await links.findOneBy({ id: String(reply.state ?? ''), personId: person.id, granted: false });
    if (!link || link.expiresAt < this.clock.now()) {
      throw new PlainError(400, 'This reply does not belong to a link that you began, or came too late. Begin the link again.');
    }
    const opened = this.vault.open<{ verifier: string }>(link.sealed);
    await links.delete({ id: link.id });
    if (reply.error || !reply.code || !opened) {
      throw new PlainError(400, `${NETWORK_NAMES[link.network]} was not linked: access was declined. Nothing has changed.`);
    }
    const tokens = await this.access.tokens(link.network, {
      grant_type: 'authorization_code',
      code: String(reply.code),
      redirect_uri: this.redirectUri(),
      code_verifier: opened.verifier,
    });
    // A new identifier: the old one has been seen in an address bar.
    const granted = { id: newToken(), granted: true, sealed: this.vault.seal(tokens), expiresAt: this.clock.now() + CONSENT_MAY_TAKE_MS };
    return addRow(this.database.manager, PendingLink, { ...link, ...granted });
  }

  async choices(person: Person, linkId: string): Promise<LinkChoices> {
    const { link, tokens } = await this.grantedLink(person, linkId);
    const identities = await this.access.connector(link.network).identities(this.access.requestFor(link.network, tokens));
    const known = await this.channels.list(person.stationId);
    return {
      linkId,
      network: link.network,
      identities: identities.map((identity) => ({
        ...identity,
        alreadyLinked: known.some((channel) => channel.network === link.network && channel.remoteId === identity.id && this.access.stateOf(channel) === 'good'),
      })),
    };
  }

  /** Makes the chosen identity a channel, or gives a channel that had lost its access new tokens. */
  async finish(person: Person, linkId: string, identityId: string): Promise<Channel> {
    const { link, tokens } = await this.grantedLink(person, linkId);
    const { identities } = await this.choices(person, linkId);
    const identity = identities.find(({ id }) => id === identityId);
    if (!identity) throw new PlainError(400, 'This sign-in may not speak for that account. Choose one of the list.');
    const { name, kind, pictureUrl } = identity;
    const channel = await together(this.database, async (entities) => {
      await entities.delete(PendingLink, { id: link.id });
      const known = await this.rows.ofAccount(person.stationId, link.network, identity.id);
      const blank = {
        id: randomUUID(),
        stationId: person.stationId,
        network: link.network,
        remoteId: identity.id,
        watchUrl: null,
        defaults: defaultsFor(rulesFor(link.network, kind)),
        limits: null,
        conditions: [],
        conditionsAt: null,
      };
      const columns = { name, kind, pictureUrl, access: 'good' as const, sealed: this.vault.seal(tokens) };
      if (!known) return this.rows.add(Object.assign(new Channel(), blank, columns));
      await this.rows.change(known.id, columns);
      return Object.assign(known, columns);
    });
    this.bus.tell({ kind: 'channels', stationId: person.stationId });
    await this.audit.note(person, 'linked', `${name}, ${kind} on ${NETWORK_NAMES[link.network]}`);
    // Whether it may broadcast is asked at once, but a network that does not answer does not undo the link.
    return this.channels.lookAgain(channel).catch(() => channel);
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
