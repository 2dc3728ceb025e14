// Placing shows on channels, changing and withdrawing them there. Each channel answers on its own.
import type { ChannelResult } from '@lantern/contract';
import { checkShow, differencesOf, sayFinding, wordingFor, type AiringFacts, type RuleSheet } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { ChannelAccessService, placeName, wordsOfNetworkError } from '../channels/access.service';
import { Channel } from '../channels/channel.entities';
import { AccessEnded, NetworkRefusal, seenOrGone, type AiringOrder, type Picture } from '../channels/connectors/connector';
import { RuleBookService } from '../channels/rule-book.service';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { LinesService } from '../lines/lines.service';
import { PlanService } from '../lines/plan.service';
import type { Station } from '../people/people.entities';
import { AiringsService, choicesKey, wordsOf } from './airings.service';
import { Airing, Show, standsThere } from './show.entities';
import { ShowsService } from './shows.service';
import { ComposerService } from '../artwork/composer.service';
import { Thumbnails } from './thumbnails';

@Injectable()
export class PlacingService {
  /** Shows being placed at this moment: a second press must not overtake the first. */
  private readonly busy = new Set<string>();

  constructor(
    private readonly database: DataSource,
    private readonly shows: ShowsService,
    private readonly airings: AiringsService,
    private readonly access: ChannelAccessService,
    private readonly ruleBook: RuleBookService,
    private readonly lines: LinesService,
    private readonly plan: PlanService,
    private readonly thumbnails: Thumbnails,
    private readonly composer: ComposerService,
    private readonly clock: Clock,
  ) {}

  /**
   * Places what is missing and leaves alone what stands; with `airingIds` only those. Throws, and asks nobody, if our own
   * checks object to every channel; otherwise a channel objected to is refused and the rest go on. What is only too
   * far ahead is placed by itself once it is not.
   */
  async place(stationId: string, showId: string, airingIds: readonly string[] | null = null): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      await this.composer.bringUpToDate(showId);
      const { show, airings } = await this.shows.whole(stationId, showId);
      if (show.state !== 'draft' && show.state !== 'placed') throw new PlainError(409, 'This show can no longer be placed.');
      if (!airings.length) throw new PlainError(422, 'No channel is ticked. Tick at least one, then place the show.');
      if (show.toLook.includes('time')) throw new PlainError(422, 'Clocks are changed over this start. Look at the time and choose which is meant.');
      const station = await this.airings.station(stationId);
      const missing = airings.filter(({ airing }) => !isReady(airing) && (!airingIds || airingIds.includes(airing.id)));
      const objections = await Promise.all(missing.map(({ airing, channel }) => this.objection(show, airing, channel, station)));
      if (missing.length && objections.every((found) => found !== null && !found.tooFar)) throw new PlainError(422, objections[0]!.words);
      const results = await Promise.all(missing.map(({ airing, channel }, at) => this.placeOne(show, airing, channel, station, objections[at]!)));
      if (show.state === 'draft' && airings.some(({ airing }) => isReady(airing) || airing.placing === 'awaits reach')) {
        await this.database.getRepository(Show).update({ id: show.id }, { state: 'placed', placedAt: show.placedAt ?? this.clock.now() });
      }
      return results;
    });
  }

  /** Makes the event of an airing at the moment of going on air, on a channel that takes nothing in advance. Throws what the network said. */
  async placeNow(show: Show, airing: Airing, channel: Channel): Promise<void> {
    await this.create(show, airing, channel, await this.airings.station(show.stationId), null);
  }

  /** Brings what has changed on the sheet to the channels that were not told of it yet; with `airingIds` only to those. */
  async move(stationId: string, showId: string, airingIds: readonly string[] | null = null): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      await this.composer.bringUpToDate(showId);
      const { show, airings } = await this.shows.whole(stationId, showId);
      const station = await this.airings.station(stationId);
      const standing = airings.filter(({ airing, channel }) => {
        if (airing.placing !== 'placed' || (airingIds && !airingIds.includes(airing.id))) return false;
        return this.shows.untold(show, airing, channel, station).length > 0;
      });
      return Promise.all(
        standing.map(async ({ airing, channel }) => {
          const told = await this.attempt(airing, channel, () => this.tell(show, airing, channel, station));
          const proof = told.done ? await this.proof(show, airing, channel, station) : null;
          return { ...told, ...(proof && { proof }) };
        }),
      );
    });
  }

  /** Makes the channel say what the sheet says or, with `facts`, those. Throws what the network answers. */
  async tell(show: Show, airing: Airing, channel: Channel, station: Station, facts: AiringFacts | null = null): Promise<string> {
    const connector = this.access.connectorOf(channel);
    const order = await this.order(show, airing, channel, station, show.startsAt);
    if (facts) {
      const { title, text, startsAt, lengthMs, visibility } = facts;
      Object.assign(order, { wording: { title, text, shortened: false }, startsAt, lengthMs, visibility });
    }
    if (connector) {
      await connector.change(this.access.of(channel), airing.remoteId!, order);
      if (airing.toldPicture !== (show.thumbnail?.version ?? null)) await this.sendPicture(show, airing, channel);
    }
    await this.keep(airing, { placedAt: order.startsAt ?? show.startsAt, refusal: '', ...this.toldNow(show, airing, order) });
    return `Changed on ${channel.name}.`;
  }

  /** Takes the show off its channels; with `airingIds` only off those. It is withdrawn once it stands nowhere. */
  async withdraw(stationId: string, showId: string, airingIds: readonly string[] | null = null): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      const { show, airings } = await this.shows.whole(stationId, showId);
      if (show.state !== 'draft' && show.state !== 'placed')
        throw new PlainError(409, 'Only a show that has not been on air can be withdrawn. Wrap it up instead.');
      const station = await this.airings.station(stationId);
      const meant = airings.filter(({ airing }) => airing.placing !== 'withdrawn' && (!airingIds || airingIds.includes(airing.id)));
      const results = await Promise.all(meant.map(({ airing, channel }) => this.attempt(airing, channel, () => this.takeOff(show, airing, channel, station))));
      if (airings.every(({ airing }) => airing.placing === 'withdrawn'))
        await this.database.getRepository(Show).update({ id: show.id }, { state: 'withdrawn' });
      return results;
    });
  }

  /** Withdraws an airing and places it anew, where a change cannot be had otherwise. It gets another address there. */
  async replace(stationId: string, showId: string, airingId: string): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      const { show, airings } = await this.shows.whole(stationId, showId);
      const one = airings.find(({ airing }) => airing.id === airingId);
      if (!one || !standsThere(one.airing)) throw new PlainError(409, 'The show does not stand on this channel. Place it instead.');
      const station = await this.airings.station(stationId);
      const { airing, channel } = one;
      // Whether it can be placed anew is looked at before anything is taken away.
      const objection = await this.objection(show, Object.assign(new Airing(), airing, { placing: 'none', placedAt: null }), channel, station);
      if (objection) throw new PlainError(422, objection.words);
      const withdrawn = await this.attempt(airing, channel, () => this.takeOff(show, airing, channel, station));
      if (!withdrawn.done) return [withdrawn];
      await this.keep(airing, { ...NOWHERE, round: airing.round + 1 });
      return [await this.placeOne(show, airing, channel, station, null)];
    });
  }

  private async takeOff(show: Show, airing: Airing, channel: Channel, station: Station): Promise<string> {
    const connector = this.access.connectorOf(channel);
    if (connector && standsThere(airing)) {
      // What we are unsure of is found again first: asking with the same identifier makes nothing new.
      if (!airing.remoteId) {
        const order = await this.order(show, airing, channel, station, show.startsAt);
        Object.assign(airing, await connector.place(this.access.of(channel), order, onceOf(airing)));
      }
      // What is gone already needs no withdrawing.
      await seenOrGone(connector.withdraw(this.access.of(channel), airing.remoteId!));
    }
    await this.keep(airing, { placing: 'withdrawn', refusal: '', seen: null, seenAt: null, gone: false });
    return `Withdrawn from ${channel.name}.`;
  }

  private async placeOne(show: Show, airing: Airing, channel: Channel, station: Station, objection: Objection | null): Promise<ChannelResult> {
    if (objection?.tooFar) {
      await this.keep(airing, { refusal: '', placing: 'awaits reach' });
      return result(airing, channel, true, objection.words);
    }
    if (objection) {
      await this.keep(airing, { refusal: objection.words, placing: airing.placing === 'unsure' ? 'unsure' : 'refused' });
      return result(airing, channel, false, objection.words);
    }
    const connector = this.access.connectorOf(channel);
    if (!connector) {
      await this.keep(airing, { placing: 'placed', placedAt: show.startsAt, refusal: '' });
      return result(airing, channel, true, `${channel.name} is ready: its picture is sent when the show goes on air.`);
    }
    if (!this.ruleBook.rules(channel).maySchedule) {
      await this.keep(airing, { placing: 'awaits air', refusal: '' });
      return result(airing, channel, true, `${channel.name} is ready: the show begins there when you go on air.`);
    }
    try {
      await this.create(show, airing, channel, station, show.startsAt);
    } catch (error) {
      const refusal = wordsOfNetworkError(error, channel, connector);
      await this.keep(airing, { refusal });
      return result(airing, channel, false, refusal);
    }
    try {
      await this.sendPicture(show, airing, channel);
    } catch (error) {
      const refusal = `It stands there, but without its picture. ${wordsOfNetworkError(error, channel, connector)}`;
      await this.keep(airing, { refusal });
      return result(airing, channel, true, refusal);
    }
    const proof = await this.proof(show, airing, channel, station);
    return { ...result(airing, channel, true, `Placed on ${channel.name}.`), ...(proof && { proof }) };
  }

  /** What the channel says of the event that was just placed; null where it does not answer: it is looked at again later. */
  private async proof(show: Show, airing: Airing, channel: Channel, station: Station): Promise<ChannelResult['proof'] | null> {
    const connector = this.access.connectorOf(channel);
    const there = connector?.look && (await connector.look(this.access.of(channel), airing.remoteId!).catch(() => null));
    if (!there) return null;
    await this.keep(airing, { seen: there.facts, seenAt: this.clock.now(), gone: false });
    const { title, startsAt, lengthMs, visibility } = there.facts;
    const same = differencesOf(this.airings.facts(show, airing, channel, station), there.facts, airing.told).length === 0;
    return { title, startsAt, lengthMs, visibility, watchUrl: airing.watchUrl, same };
  }

  /** Makes the event of an airing, or finds the one that an earlier try may have made. Throws what the network said. */
  private async create(show: Show, airing: Airing, channel: Channel, station: Station, startsAt: number | null): Promise<void> {
    const connector = this.access.connectorOf(channel)!;
    const access = this.access.of(channel);
    const wasUnsure = airing.placing === 'unsure';
    const waited = airing.placing === 'awaits air';
    const order = await this.order(show, airing, channel, station, startsAt);
    await this.keep(airing, { placing: 'unsure', refusal: '', visibility: order.visibility });
    try {
      const placed = await connector.place(access, order, onceOf(airing));
      const { remoteId, watchUrl } = placed;
      await this.keep(airing, { placing: 'placed', placedAt: startsAt, remoteId, watchUrl, refusal: '', ...this.toldNow(show, airing, order) });
      // An event found from an earlier try may carry an older text; and only now is the address known that a text may tell.
      const told = await this.order(show, airing, channel, station, startsAt);
      const complete = told.wording.text === order.wording.text && told.wording.title === order.wording.title;
      if (startsAt !== null && (wasUnsure || !complete)) {
        await connector.change(access, remoteId, told);
        await this.keep(airing, this.toldNow(show, airing, told));
      }
    } catch (error) {
      const certain = error instanceof NetworkRefusal || error instanceof AccessEnded;
      if (certain && !wasUnsure && airing.remoteId === null) await this.keep(airing, { placing: waited ? 'awaits air' : 'refused' });
      throw error;
    }
    await this.lines.issuedFor(airing, channel, show.title);
  }

  /** Everything that is told to a channel's network about an airing. */
  private async order(show: Show, airing: Airing, channel: Channel, station: Station, startsAt: number | null): Promise<AiringOrder> {
    const rules = this.ruleBook.rules(channel);
    const line = await this.lines.chosen(airing, channel);
    const filling = this.airings.filling(show, airing.watchUrl, station);
    const settings = this.airings.chosen(airing, channel);
    return {
      wording: wordingFor({ ...wordsOf(show, airing), filling }, rules),
      startsAt: rules.maySchedule ? startsAt : null,
      lengthMs: show.lengthMs,
      visibility: settings.visibility,
      settings,
      remoteLineId: line?.remoteId ?? null,
      picture: rules.lockedAfterPlacing.includes('everything') ? await this.picture(show, rules) : null,
    };
  }

  /** What is kept of what a channel was told. */
  private toldNow(show: Show, airing: Airing, { wording, startsAt, lengthMs, visibility }: AiringOrder): Partial<Airing> {
    const told: AiringFacts = { title: wording.title, text: wording.text, startsAt: startsAt ?? show.startsAt, lengthMs, visibility };
    return { told, visibility, toldPicture: show.thumbnail?.version ?? null, toldChoices: choicesKey(airing) };
  }

  private async picture(show: Show, rules: RuleSheet): Promise<Picture | null> {
    if (!show.thumbnail || !rules.thumbnail) return null;
    return { jpeg: (await this.thumbnails.rendition(show, rules.thumbnail)).jpeg, words: show.thumbnailAlternative };
  }

  private async sendPicture(show: Show, airing: Airing, channel: Channel): Promise<void> {
    const connector = this.access.connectorOf(channel);
    const picture = connector && (await this.picture(show, this.ruleBook.rules(channel)));
    if (picture) await connector.setThumbnail(this.access.of(channel), airing.remoteId!, picture);
  }

  private async attempt(airing: Airing, channel: Channel, work: () => Promise<string>): Promise<ChannelResult> {
    try {
      return result(airing, channel, true, await work());
    } catch (error) {
      const words = wordsOfNetworkError(error, channel, this.access.connectorOf(channel));
      await this.keep(airing, { refusal: words });
      return result(airing, channel, false, words);
    }
  }

  /** What our own checks say against an airing, in words; null when nothing does. */
  private async objection(show: Show, airing: Airing, channel: Channel, station: Station): Promise<Objection | null> {
    const state = this.access.stateOf(channel);
    const simply = (words: string) => ({ words, tooFar: false });
    if (state === 'ended') return simply(`Access to ${channel.name} was withdrawn or has run out. Link the channel again.`);
    if (state === 'unreadable') return simply(`The key file that sealed the access to ${channel.name} is lost. Link the channel again.`);
    const findings = checkShow(this.airings.checked(show, airing, channel, station), this.ruleBook.rules(channel), this.clock.now());
    const first = findings.find(({ severity }) => severity === 'objection');
    if (first) return { words: sayFinding(first, placeName(channel), show.zone), tooFar: false };
    const tooFar = findings.find(({ code }) => code === 'start-too-far');
    if (tooFar) return { words: sayFinding(tooFar, placeName(channel), show.zone), tooFar: true };
    // Whether the channel may broadcast is left to the network: a condition may have been met since it was asked.
    const clash = await this.plan.objection(show.stationId, airing);
    return clash === null ? null : simply(clash);
  }

  private async keep(airing: Airing, change: Partial<Airing>): Promise<void> {
    Object.assign(airing, change);
    await this.database.getRepository(Airing).save(airing);
  }

  private async alone<T>(showId: string, work: () => Promise<T>): Promise<T> {
    if (this.busy.has(showId)) throw new PlainError(409, 'The channels are still being asked. Wait for their answers.');
    this.busy.add(showId);
    try {
      return await work();
    } finally {
      this.busy.delete(showId);
      this.shows.changes.next(showId);
    }
  }
}

/** Why an airing cannot be placed as it is. */
interface Objection {
  words: string;
  /** No fault of the show: it is placed by itself once it has come into reach. */
  tooFar: boolean;
}

/** An airing whose event was taken off, before it gets another. */
const NOWHERE = { placing: 'none', placedAt: null, remoteId: null, watchUrl: null, told: null, toldPicture: null, toldChoices: null } as const;

/** By what a network knows the same placing again: another one after the event was withdrawn and placed anew. */
const onceOf = ({ id, round }: Airing): string => (round === 0 ? id : `${id}.${round}`);

/** Whether nothing needs to be done for an airing until it goes on air. */
const isReady = ({ placing }: Airing): boolean => placing === 'placed' || placing === 'awaits air';

function result(airing: Airing, channel: Channel, done: boolean, words: string): ChannelResult {
  return { airingId: airing.id, channelName: channel.name, done, words };
}
