// Lines: which a channel has, which one a show goes out on, and what becomes of them when a key is rotated.
import { NETWORK_NAMES, type LineChange, type LineRequest, type LinesOfChannel, type LineView, type RotateResult } from '@lantern/contract';
import { lineTaken, type RuleSheet } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { DataSource } from 'typeorm';
import { ChannelAccessService, wordsOfNetworkError } from '../channels/access.service';
import type { Channel } from '../channels/channel.entities';
import { ChannelRows, LineRows } from '../channels/channel-rows';
import { AccessEnded, NetworkRefusal, NetworkSilence, type Access, type Connector, type IngestLine, type RemoteLine } from '../channels/connectors/connector';
import { RuleBookService } from '../channels/rule-book.service';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { AuditService } from '../people/audit.service';
import type { Person } from '../people/people.entities';
import { AiringRows } from '../shows/airing-rows';
import type { Airing } from '../shows/show.entities';
import { ShowsService } from '../shows/shows.service';
import { together } from '../foundation/together';
import { LineKeys } from '../channels/line-keys';
import type { Line } from '../channels/line.entities';

/** What a line that was made here is called on its network, when no other is there. */
const OWN_LINE = 'Noble Lantern';

@Injectable()
export class LinesService {
  constructor(
    private readonly database: DataSource,
    private readonly lineRows: LineRows,
    private readonly channelRows: ChannelRows,
    private readonly airingRows: AiringRows,
    private readonly shows: ShowsService,
    private readonly access: ChannelAccessService,
    private readonly ruleBook: RuleBookService,
    private readonly keys: LineKeys,
    private readonly audit: AuditService,
    private readonly clock: Clock,
  ) {}

  /** All lines of a channel, fetched anew where its network keeps them. A network that does not answer leaves what is known. */
  async ofChannel(channel: Channel): Promise<LinesOfChannel> {
    const rules = this.ruleBook.rules(channel);
    let stale: string | null = null;
    try {
      await this.fetch(channel, rules);
    } catch (error) {
      stale = wordsOfNetworkError(error, channel, this.access.connectorOf(channel));
    }
    const lines = await this.lineRows.onChannels([channel.id]);
    const views = await this.views(lines, rules);
    // A line for one show is of no interest once that show is over.
    return { lines: views.filter(({ singleUse, shows }) => !singleUse || shows.length > 0), mayAdd: rules.lines === 'named', stale };
  }

  /** A line of the station's, with its channel. Throws 404 for an unknown one and for another station's alike. */
  async one(stationId: string, lineId: string): Promise<{ line: Line; channel: Channel }> {
    const line = await this.lineRows.byId(lineId);
    const channel = line && (await this.channelRows.one(stationId, line.channelId));
    if (!line || !channel || channel.access === 'unlinked') throw new PlainError(404, 'There is no such line at your station. Reload the page.');
    return { line, channel };
  }

  async add(channel: Channel, request: LineRequest): Promise<LineView> {
    const rules = this.ruleBook.rules(channel);
    if (rules.lines !== 'named') throw new PlainError(409, `${NETWORK_NAMES[channel.network]} lets nobody add lines.`);
    let line: Line;
    if (channel.network === 'typed-in') {
      const { address, key } = request;
      if (!address || !key) throw new PlainError(400, 'Paste the address and the key that the service shows.');
      line = this.keys.typedIn(channel.id, { ...request, address, key });
    } else {
      const made = await this.asked(channel, (connector, access) => connector.lasting!.make!(access, request.name.trim()));
      line = this.remote(channel.id, made, request.heldBy?.trim() ?? '');
    }
    await this.lineRows.add(line);
    return this.view(line, rules);
  }

  /** Names a line anew, and notes who was given its key. */
  async change(line: Line, channel: Channel, change: LineChange): Promise<LineView> {
    const name = change.name.trim();
    if (line.remoteId !== null && name !== line.name) {
      // Where a line has no name there, its name is ours alone.
      await this.asked(channel, async (connector, access) => connector.lasting?.rename?.(access, line.remoteId!, name));
    }
    const changed = { name, heldBy: change.heldBy.trim() };
    await this.lineRows.change(line.id, changed);
    Object.assign(line, changed);
    return this.view(line, this.ruleBook.rules(channel));
  }

  /**
   * Puts a new key in place of the old one. Coming shows follow by themselves, since they name the line
   * and not the key; whoever sends to it from outside has to be told.
   */
  async rotate(person: Person, line: Line, channel: Channel, newKey: string | undefined): Promise<RotateResult> {
    let changed: Partial<Line> = {};
    if (channel.network === 'typed-in') {
      if (!newKey) throw new PlainError(400, 'Have the service issue a new key, and paste it here.');
      changed = { sealed: this.keys.seal(newKey) };
    } else if (line.airingId !== null) {
      const airing = await this.airingRows.mustBe(line.airingId);
      await this.asked(channel, (connector, access) => connector.rotateEventLine(access, airing.remoteId!));
    } else {
      const made = await this.asked(channel, (connector, access) => connector.lasting!.rotate(access, line.remoteId!));
      changed = { address: made.address, backupAddress: made.backupAddress };
    }
    if (Object.keys(changed).length) await this.lineRows.change(line.id, changed);
    Object.assign(line, changed);
    await this.audit.note(person, 'rotated the key of', `${line.name}, ${channel.name}`);
    const view = await this.view(line, this.ruleBook.rules(channel));
    const encoders = view.shows.filter(({ outside }) => outside).map(({ title }) => `The encoder of ${title}`);
    return { line: view, tell: [...(view.heldBy ? [view.heldBy] : []), ...encoders] };
  }

  /** Takes a typed-in line away that no coming show needs. */
  async remove(line: Line, channel: Channel): Promise<void> {
    if (channel.network !== 'typed-in') throw new PlainError(409, 'Lines that come from a network are removed there.');
    const all = await this.lineRows.onChannels([channel.id]);
    if (all.length < 2) throw new PlainError(409, 'A channel keeps at least one line. Add the new one first.');
    const { shows } = await this.view(line, this.ruleBook.rules(channel));
    if (shows.length) throw new PlainError(409, `${shows[0]!.title} is to go out on this line. Choose another line there first.`);
    await this.lineRows.remove([line.id]);
  }

  /**
   * The line that an airing goes out on: the chosen one, else the channel's first, made there if it has
   * none. Null where the network issues one for each show.
   */
  async chosen(airing: Airing, channel: Channel): Promise<Line | null> {
    const rules = this.ruleBook.rules(channel);
    if (rules.lines === 'one per show') return null;
    const mine = airing.lineId === null ? null : await this.lineRows.onChannel(channel.id, airing.lineId);
    if (mine) return mine;
    await this.fetch(channel, rules);
    const [first] = await this.lineRows.lasting([channel.id]);
    if (first) return first;
    if (channel.network === 'typed-in') throw new PlainError(409, `${channel.name} has no line. Add one on its page.`);
    const { lasting } = this.access.connectorOf(channel)!;
    return this.lineRows.add(this.remote(channel.id, await lasting!.make!(this.access.of(channel), OWN_LINE), ''));
  }

  /** Remembers the line that a network issued for one airing. */
  async issuedFor(airing: Airing, channel: Channel, showTitle: string): Promise<void> {
    if (this.ruleBook.rules(channel).lines !== 'one per show') return;
    if (await this.lineRows.ofAiring(airing.id)) return;
    await this.lineRows.add({
      ...{ id: randomUUID(), channelId: channel.id, name: `For ${showTitle}`, remoteId: null, airingId: airing.id },
      ...{ address: null, backupAddress: null, sealed: null, heldBy: '', lastUsedAt: null, createdAt: this.clock.now() },
    });
  }

  /** The lasting line that an airing will go out on, key included, before its event exists. */
  async lasting(airing: Airing, channel: Channel): Promise<IngestLine> {
    const line = await this.chosen(airing, channel);
    if (!line) throw new PlainError(409, `${channel.name} issues the key for this show when it goes on air.`);
    return { address: line.address!, backupAddress: line.backupAddress, key: await this.key(line, channel) };
  }

  /** Where the picture of an airing is sent, key included. */
  async ingest(airing: Airing, channel: Channel): Promise<IngestLine> {
    const connector = this.access.connectorOf(channel);
    if (!connector) {
      const line = (await this.chosen(airing, channel))!;
      return { address: line.address!, backupAddress: line.backupAddress, key: this.typedInKey(line, channel) };
    }
    return connector.line(this.access.of(channel), airing.remoteId!);
  }

  /** The key of a line. Network lines are asked for there. */
  async key(line: Line, channel: Channel): Promise<string> {
    if (channel.network === 'typed-in') return this.typedInKey(line, channel);
    if (line.airingId !== null) {
      const airing = await this.airingRows.mustBe(line.airingId);
      return (await this.asked(channel, (connector, access) => connector.line(access, airing.remoteId!))).key;
    }
    const lines = await this.asked(channel, (connector, access) => connector.lasting!.list(access));
    const found = lines.find(({ remoteId }) => remoteId === line.remoteId);
    if (!found) throw new PlainError(404, `${line.name} is gone from ${NETWORK_NAMES[channel.network]}. Reload the page.`);
    return found.key;
  }

  /** Notes that a picture went out on an airing's line. */
  async noteUse(airing: Airing, channel: Channel): Promise<void> {
    const line = (await this.lineRows.ofAiring(airing.id)) ?? (await this.chosen(airing, channel));
    if (line) await this.lineRows.change(line.id, { lastUsedAt: this.clock.now() });
  }

  private typedInKey(line: Line, channel: Channel): string {
    const key = this.keys.open(line);
    if (key === null) throw new PlainError(409, `The key of ${line.name} on ${channel.name} cannot be read any more. Rotate it: type the key in again.`);
    return key;
  }

  /** Brings what is known of a channel's lasting lines into step with its network. */
  private async fetch(channel: Channel, rules: RuleSheet): Promise<void> {
    const connector = this.access.connectorOf(channel);
    if (!connector?.lasting) return;
    const there = await connector.lasting.list(this.access.of(channel));
    await together(this.database, async () => {
      const known = await this.lineRows.lasting([channel.id]);
      for (const remote of there) {
        const line = known.find(({ remoteId }) => remoteId === remote.remoteId);
        const { address, backupAddress } = remote;
        if (line) await this.lineRows.change(line.id, { address, backupAddress, ...(rules.lines === 'named' && { name: remote.name }) });
        else await this.lineRows.add(this.remote(channel.id, remote, ''));
      }
      const gone = known.filter(({ remoteId }) => !there.some((remote) => remote.remoteId === remoteId));
      await this.lineRows.remove(gone.map(({ id }) => id));
    });
  }

  private remote(channelId: string, { remoteId, name, address, backupAddress }: RemoteLine, heldBy: string): Line {
    const facts = { channelId, name, remoteId, airingId: null, address, backupAddress, sealed: null, heldBy, lastUsedAt: null };
    return { id: randomUUID(), ...facts, createdAt: this.clock.now() };
  }

  /** Asks the channel's network, and turns what goes wrong into words. */
  private async asked<T>(channel: Channel, work: (connector: Connector, access: Access) => Promise<T>): Promise<T> {
    const connector = this.access.connectorOf(channel)!;
    try {
      return await work(connector, this.access.of(channel));
    } catch (error) {
      const known = error instanceof NetworkRefusal || error instanceof NetworkSilence || error instanceof AccessEnded;
      throw known ? new PlainError(502, wordsOfNetworkError(error, channel, connector)) : error;
    }
  }

  private async view(line: Line, rules: RuleSheet): Promise<LineView> {
    return (await this.views([line], rules))[0]!;
  }

  private async views(lines: Line[], rules: RuleSheet): Promise<LineView[]> {
    const channelIds = [...new Set(lines.map(({ channelId }) => channelId))];
    const uses = await this.shows.usesOf(channelIds);
    const all = await this.lineRows.onChannels(channelIds);
    return lines.map((line) => ({
      id: line.id,
      name: line.name,
      address: line.address,
      backupAddress: line.backupAddress,
      singleUse: line.airingId !== null,
      fromNetwork: line.sealed === null,
      heldBy: line.heldBy,
      readable: line.sealed === null || this.keys.open(line) !== null,
      lastUsedAt: line.lastUsedAt,
      shows: uses.flatMap(({ show, airing }) => {
        // What was withdrawn uses no line before it is placed anew.
        if (airing.channelId !== line.channelId || airing.placing === 'withdrawn') return [];
        return lineTaken(airing, rules, all) === line.id
          ? [{ id: show.id, title: show.title, startsAt: show.startsAt, zone: show.zone, outside: show.pictureFrom === 'encoder' }]
          : [];
      }),
    }));
  }
}
