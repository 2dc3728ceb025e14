// Placing shows on channels, changing and withdrawing them there. Each channel answers on its own.
import type { ChannelResult } from '@lantern/contract';
import {
  airingAfter,
  checkShow,
  asItWillStand,
  differencesOf,
  sayFinding,
  sayFixedOnAir,
  wordingFor,
  wordsOnChannel,
  type AiringEvent,
  type AiringFacts,
  type Finding,
  type RuleSheet,
  sayAllButOne,
  sayNoAccess,
  sayPlaced,
  startOnAir,
  type Instant,
} from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { ChannelAccessService, channelInFull, placeName, wordsOfNetworkError } from '../channels/access.service';
import type { Channel } from '../channels/channel.entities';
import { AccessEnded, isThere, NetworkRefusal, seenOrGone, type AiringOrder, type Picture, type SeenEvent } from '../channels/connectors/connector';
import { RuleBookService } from '../channels/rule-book.service';
import { Clock } from '../foundation/clock';
import { Refused } from '../foundation/errors';
import { LinesService } from '../lines/lines.service';
import { PlanService } from '../lines/plan.service';
import type { Station } from '../people/people.entities';
import { AiringsService } from '../shows/airings.service';
import { NetworkTalk } from './network-talk';
import { AiringRows } from '../shows/airing-rows';
import type { Airing, Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { isStillPlanned, standsThere } from '../shows/show-facts';
import { ShowsService } from '../shows/shows.service';
import { ComposerService } from '../artwork/composer.service';
import { Thumbnails } from '../shows/thumbnails';
import { Bus } from '../foundation/bus';

@Injectable()
export class PlacingService {
  constructor(
    private readonly showRows: ShowRows,
    private readonly airingRows: AiringRows,
    private readonly shows: ShowsService,
    private readonly airings: AiringsService,
    private readonly access: ChannelAccessService,
    private readonly ruleBook: RuleBookService,
    private readonly lines: LinesService,
    private readonly plan: PlanService,
    private readonly thumbnails: Thumbnails,
    private readonly composer: ComposerService,
    private readonly talk: NetworkTalk,
    private readonly bus: Bus,
    private readonly clock: Clock,
  ) {}

  /**
   * Places what is missing and leaves alone what stands; with `airingIds` only those. Throws, and asks nobody, if our own
   * checks object to a channel, unless it is said that the others alone are meant (`partial`): some channels can never be moved
   * again, and must not be placed by the way. What is only too far ahead is placed by itself once it is not.
   */
  async place(stationId: string, showId: string, airingIds: readonly string[] | null = null, partial = true): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      await this.composer.bringUpToDate(showId);
      const { show, airings } = await this.shows.whole(stationId, showId);
      if (!isStillPlanned(show)) throw new Refused('placing: was on air');
      if (!airings.length) throw new Refused('placing: no channel');
      if (show.toLook.includes('time')) throw new Refused('placing: clocks change');
      const station = await this.airings.station(stationId);
      const missing = airings.filter(({ airing }) => !isReady(airing) && (!airingIds || airingIds.includes(airing.id)));
      const objections = await Promise.all(missing.map(({ airing, channel }) => this.objection(show, airing, channel, station)));
      const objected = missing.flatMap(({ channel }, at) => (objections[at] && !objections[at].tooFar ? [{ channel, words: objections[at].words }] : []));
      if (objected.length && objected.length === missing.length) throw new Refused('placing: objection', { words: objected[0]!.words });
      if (objected.length && !partial) {
        throw new Refused('placing: objections', { objections: objected.map(({ channel, words }) => ({ channel: channelInFull(channel), words })) });
      }
      const results = await Promise.all(missing.map(({ airing, channel }, at) => this.placeOne(show, airing, channel, station, objections[at]!)));
      await this.shows.settleState(show.id);
      return results;
    });
  }

  /**
   * Makes the event of an airing while its show is on air: on a channel that takes nothing in advance, or, with `anew`, another one where the
   * first has ended. Throws what the network said.
   */
  placeNow(show: Show, airing: Airing, channel: Channel, anew = false): Promise<void> {
    return this.talk.inTurn(show.id, airing.id, () => this.placeOnAir(show, airing, channel, anew));
  }

  private async placeOnAir(known: Show, airing: Airing, channel: Channel, anew: boolean): Promise<void> {
    const show = await this.asItStands(known, airing);
    if (airing.placing === 'placed' && !anew) return;
    const rules = this.ruleBook.rules(channel);
    if (anew) {
      const start = { placedAt: startOnAir(rules, show.startsAt as Instant, this.clock.now()) };
      // Noted before anything is asked for: a server that is killed in between asks for the same event again.
      if (airing.placing === 'placed') await this.take(airing, 'made anew on air', { ...NOWHERE, ...start, round: airing.round + 1, seen: null, gone: false });
      else await this.keep(airing, start);
    }
    // Of what was being made anew when a server was killed, its start is noted already.
    const planned = startOnAir(rules, show.startsAt as Instant, this.clock.now()) === null ? null : show.startsAt;
    const startsAt = anew ? airing.placedAt : (airing.placedAt ?? planned);
    try {
      await this.create(show, airing, channel, await this.airings.station(show.stationId), rules.maySchedule ? startsAt : null);
    } catch (error) {
      // The event stands there, and only its words could not be brought up to date: that keeps nobody from going on air.
      if (airing.remoteId === null) throw error;
      await this.keep(airing, { refusal: wordsOfNetworkError(error, channel, this.access.connectorOf(channel)) });
    }
  }

  /**
   * Ends an airing of which it is not known whether it stands. What an earlier try made is found by its identifier; a refusal
   * means that there is nothing, and nothing is left standing either way. Throws what the network said.
   */
  endUnsure(show: Show, airing: Airing, channel: Channel): Promise<void> {
    return this.talk.inTurn(show.id, airing.id, () => this.endWhatWasFound(show, airing, channel));
  }

  private async endWhatWasFound(known: Show, airing: Airing, channel: Channel): Promise<void> {
    const show = await this.asItStands(known, airing);
    const connector = this.access.connectorOf(channel);
    if (!connector) return;
    if (!(await this.find(show, airing, channel, await this.airings.station(show.stationId)))) {
      await this.take(airing, 'refused there');
      return;
    }
    const access = this.access.of(channel);
    await connector.end(access, airing.remoteId!).catch(async (error: unknown) => {
      // What was never public cannot be ended everywhere; it can be called off.
      if (!(error instanceof NetworkRefusal)) throw error;
      await connector.withdraw(access, airing.remoteId!);
    });
    await this.take(airing, 'stands');
  }

  /** Reads both anew: whoever had the turn before may have changed them. */
  private async asItStands({ id }: Show, airing: Airing): Promise<Show> {
    Object.assign(airing, await this.airingRows.mustBe(airing.id));
    return this.showRows.mustBe(id);
  }

  /** Withdraws what was made only for going on air, so that it can be made then once more. */
  async undoNow(stationId: string, showId: string, airingIds: readonly string[]): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      const { show, airings } = await this.shows.whole(stationId, showId);
      const station = await this.airings.station(stationId);
      return Promise.all(
        airings
          .filter(({ airing }) => airingIds.includes(airing.id))
          .map(async ({ airing, channel }) => {
            const result = await this.attempt(airing, channel, () => this.takeOff(show, airing, channel, station));
            if (result.done) await this.take(airing, 'taken off again', { ...NOWHERE, round: airing.round + 1 });
            return result;
          }),
      );
    });
  }

  /** Finds the event that an earlier try may have made: asking with the same identifier makes no second. False: there is none. */
  private async find(show: Show, airing: Airing, channel: Channel, station: Station): Promise<boolean> {
    if (airing.remoteId !== null) return true;
    const { maySchedule } = this.ruleBook.rules(channel);
    try {
      const order = await this.order(show, airing, channel, station, maySchedule ? show.startsAt : null);
      const { remoteId, watchUrl } = await this.access.connectorOf(channel)!.place(this.access.of(channel), order, onceOf(airing));
      await this.keep(airing, { remoteId, watchUrl });
      return true;
    } catch (error) {
      if (error instanceof NetworkRefusal) return false;
      throw error;
    }
  }

  /** Brings what has changed on the sheet to the channels that were not told of it yet; with `airingIds` only to those. */
  async move(stationId: string, showId: string, airingIds: readonly string[] | null = null): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      await this.composer.bringUpToDate(showId);
      const { show, airings } = await this.shows.whole(stationId, showId);
      if (show.state === 'over') throw new Refused('placing: over');
      const station = await this.airings.station(stationId);
      const standing = airings.filter(({ airing, channel }) => {
        if (airing.placing !== 'placed' || (airingIds && !airingIds.includes(airing.id))) return false;
        return this.shows.untold(show, airing, channel, station).length > 0;
      });
      return Promise.all(standing.map(({ airing, channel }) => this.moveOne(show, airing, channel, station)));
    });
  }

  private async moveOne(show: Show, airing: Airing, channel: Channel, station: Station): Promise<ChannelResult> {
    // A place in time or a line that another show holds is refused as it would be on placing.
    const clash = show.state === 'placed' ? await this.plan.objection(show.stationId, airing) : null;
    if (clash !== null) {
      await this.keep(airing, { refusal: clash });
      return result(airing, channel, false, clash);
    }
    const locked = this.locked(show, airing, channel, station);
    const untold = this.shows.untold(show, airing, channel, station);
    const pictureStays = untold.includes('picture') && this.pictureStays(show, channel);
    const lockedWords = [
      ...locked.map((finding) => sayFinding(finding, placeName(channel), show.zone)),
      ...(pictureStays ? [sayFixedOnAir(['picture'], placeName(channel))] : []),
    ].join(' ');
    const held = new Set<string>([...locked.map(({ subject }) => subject), ...(pictureStays ? ['picture'] : [])]);
    if (untold.every((field) => held.has(field))) return result(airing, channel, false, lockedWords);
    const told = await this.attempt(airing, channel, () => this.tell(show, airing, channel, station));
    if (!told.done) return told;
    const proven = await this.proven(told, show, airing, channel, station);
    return lockedWords ? { ...proven, done: false, words: sayAllButOne(proven.words, lockedWords) } : proven;
  }

  /** What the channel does not change of what stands there, where the sheet says otherwise by now. */
  private locked(show: Show, airing: Airing, channel: Channel, station: Station): Finding[] {
    const findings = checkShow(this.airings.checked(show, airing, channel, station), this.ruleBook.rules(channel), this.clock.now());
    return findings.filter(({ code }) => code === 'start-locked' || code === 'visibility-locked');
  }

  /** Makes the channel say what the sheet says or, with `facts`, those. Throws what the network answers. */
  async tell(show: Show, airing: Airing, channel: Channel, station: Station, facts: AiringFacts | null = null): Promise<string> {
    const connector = this.access.connectorOf(channel);
    const order = await this.order(show, airing, channel, station, show.startsAt);
    if (!facts) {
      // One thing that cannot be changed there must not keep the rest from being told.
      for (const { code } of this.locked(show, airing, channel, station)) {
        if (code === 'start-locked') order.startsAt = airing.placedAt;
        else order.visibility = airing.visibility;
      }
    } else {
      const { title, text, startsAt, lengthMs, visibility, choices } = facts;
      const settings = { ...order.settings, ...choices, visibility };
      Object.assign(order, { wording: { title, text, shortened: false }, startsAt, lengthMs, visibility, settings });
    }
    if (connector) {
      await connector.change(this.access.of(channel), airing.remoteId!, order);
      if (airing.toldPicture !== (show.thumbnail?.version ?? null) && !this.pictureStays(show, channel)) await this.sendPicture(show, airing, channel);
    }
    await this.keep(airing, { placedAt: order.startsAt ?? show.startsAt, refusal: '', ...this.toldNow(show, airing, channel, order) });
    return sayPlaced({ code: 'changed', channel: channelInFull(channel) });
  }

  /** Takes the show off its channels; with `airingIds` only off those. It is withdrawn once it stands nowhere. */
  async withdraw(stationId: string, showId: string, airingIds: readonly string[] | null = null): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      const { show, airings } = await this.shows.whole(stationId, showId);
      if (!isStillPlanned(show)) throw new Refused('placing: not to be withdrawn');
      const station = await this.airings.station(stationId);
      const meant = airings.filter(({ airing }) => isWithdrawable(airing) && (!airingIds || airingIds.includes(airing.id)));
      const results = await Promise.all(meant.map(({ airing, channel }) => this.attempt(airing, channel, () => this.takeOff(show, airing, channel, station))));
      await this.shows.settleState(show.id);
      return results;
    });
  }

  /** Withdraws an airing and places it anew, where a change cannot be had otherwise. It gets another address there. */
  async replace(stationId: string, showId: string, airingId: string): Promise<ChannelResult[]> {
    return this.alone(showId, async () => {
      const { show, airings } = await this.shows.whole(stationId, showId);
      const one = airings.find(({ airing }) => airing.id === airingId);
      if (!one || !standsThere(one.airing)) throw new Refused('placing: does not stand there');
      const station = await this.airings.station(stationId);
      const { airing, channel } = one;
      // Whether it can be placed anew is looked at before anything is taken away.
      const objection = await this.objection(show, { ...airing, placing: 'none', placedAt: null }, channel, station);
      if (objection) throw new Refused('placing: objection', { words: objection.words });
      const withdrawn = await this.attempt(airing, channel, () => this.takeOff(show, airing, channel, station));
      if (!withdrawn.done) return [withdrawn];
      const results = [await this.placeOne(show, airing, channel, station, null)];
      await this.shows.settleState(show.id);
      return results;
    });
  }

  private async takeOff(show: Show, airing: Airing, channel: Channel, station: Station): Promise<string> {
    const connector = this.access.connectorOf(channel);
    // What we are unsure of is found again first. What is gone already needs no withdrawing.
    if (connector && standsThere(airing) && (await this.find(show, airing, channel, station))) {
      await seenOrGone(connector.withdraw(this.access.of(channel), airing.remoteId!));
    }
    await this.take(airing, 'taken off', { refusal: '', seen: null, seenAt: null, gone: false });
    return sayPlaced({ code: 'withdrawn', channel: channelInFull(channel) });
  }

  private async placeOne(show: Show, airing: Airing, channel: Channel, station: Station, objection: Objection | null): Promise<ChannelResult> {
    // Placing anew is another round: by the identifier of the last one the network would find the event that was called off.
    if (airing.placing === 'withdrawn' && !(objection && !objection.tooFar)) await this.take(airing, 'let go', { ...NOWHERE, round: airing.round + 1 });
    if (objection?.tooFar) {
      await this.take(airing, 'too far ahead', { refusal: '' });
      return result(airing, channel, true, objection.words);
    }
    if (objection) {
      await this.take(airing, 'objected', { refusal: objection.words });
      return result(airing, channel, false, objection.words);
    }
    const connector = this.access.connectorOf(channel);
    if (!connector) {
      await this.take(airing, 'stands', { placedAt: show.startsAt, refusal: '' });
      return result(airing, channel, true, sayPlaced({ code: 'ready for picture', channel: channelInFull(channel) }));
    }
    if (!this.ruleBook.rules(channel).maySchedule) {
      await this.take(airing, 'made on going on air', { refusal: '' });
      return result(airing, channel, true, sayPlaced({ code: 'begins on air', channel: channelInFull(channel) }));
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
      const refusal = sayPlaced({ code: 'without picture', trouble: wordsOfNetworkError(error, channel, connector) });
      await this.keep(airing, { refusal });
      return result(airing, channel, true, refusal);
    }
    return this.proven(result(airing, channel, true, sayPlaced({ code: 'placed', channel: channelInFull(channel) })), show, airing, channel, station);
  }

  /** A result with what the channel itself says of the event; one that is called off, over or missing there is not done. */
  private async proven(told: ChannelResult, show: Show, airing: Airing, channel: Channel, station: Station): Promise<ChannelResult> {
    const proof = await this.proof(show, airing, channel, station);
    if (proof === null) return told;
    if (proof !== 'gone') return { ...told, proof };
    const words = sayPlaced({ code: 'not there after all', network: placeName(channel) });
    await this.keep(airing, { refusal: words });
    return { ...told, done: false, words };
  }

  /** What the channel says of the event that was just placed; null where it does not answer: it is looked at again later. */
  private async proof(show: Show, airing: Airing, channel: Channel, station: Station): Promise<NonNullable<ChannelResult['proof']> | 'gone' | null> {
    const connector = this.access.connectorOf(channel);
    if (!connector?.look) return null;
    let there: SeenEvent | null;
    try {
      there = await connector.look(this.access.of(channel), airing.remoteId!);
    } catch {
      return null;
    }
    if (!isThere(there)) {
      await this.keep(airing, { seen: null, seenAt: this.clock.now(), gone: true });
      return 'gone';
    }
    await this.keep(airing, { seen: there.facts, seenAt: this.clock.now(), gone: false });
    const { title, startsAt, lengthMs, visibility } = there.facts;
    const ours = this.airings.facts(show, airing, channel, station);
    const line = there.remoteLineId === undefined ? null : await this.lines.chosen(airing, channel);
    const same = differencesOf(ours, there.facts, airing.told).length === 0 && (line === null || line.remoteId === there.remoteLineId);
    return { title, startsAt, lengthMs, visibility, watchUrl: airing.watchUrl, same };
  }

  /** Makes the event of an airing, or finds the one that an earlier try may have made. Throws what the network said. */
  private async create(show: Show, airing: Airing, channel: Channel, station: Station, startsAt: number | null): Promise<void> {
    const connector = this.access.connectorOf(channel)!;
    const access = this.access.of(channel);
    const wasUnsure = airing.placing === 'unsure';
    const waited = airing.placing === 'awaits air';
    const order = await this.order(show, airing, channel, station, startsAt);
    await this.take(airing, 'asked', { refusal: '', visibility: order.visibility });
    try {
      const placed = await connector.place(access, order, onceOf(airing));
      const { remoteId, watchUrl } = placed;
      await this.take(airing, 'stands', { placedAt: startsAt, remoteId, watchUrl, refusal: '', ...this.toldNow(show, airing, channel, order) });
      // An event found from an earlier try may carry an older text; and only now is the address known that a text may tell.
      const told = await this.order(show, airing, channel, station, startsAt);
      const complete = told.wording.text === order.wording.text && told.wording.title === order.wording.title;
      if (startsAt !== null && (wasUnsure || !complete)) {
        await connector.change(access, remoteId, told);
        await this.keep(airing, this.toldNow(show, airing, channel, told));
      }
    } catch (error) {
      const certain = error instanceof NetworkRefusal || error instanceof AccessEnded;
      if (certain && !wasUnsure && airing.remoteId === null) await this.take(airing, waited ? 'refused on air' : 'refused there');
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
      wording: wordingFor({ ...wordsOnChannel(show, airing), filling }, rules),
      startsAt: rules.maySchedule ? startsAt : null,
      lengthMs: show.lengthMs,
      visibility: settings.visibility,
      settings,
      remoteLineId: line?.remoteId ?? null,
      picture: rules.lockedAfterPlacing.includes('everything') ? await this.picture(show, rules) : null,
    };
  }

  /** Whether a channel keeps the picture that it has, now that the show is on there. */
  private pictureStays(show: Show, channel: Channel): boolean {
    return (show.state === 'onAir' || show.state === 'interrupted') && this.ruleBook.rules(channel).fixedOnAir.includes('picture');
  }

  /** What is kept of what a channel was told. */
  private toldNow(show: Show, airing: Airing, channel: Channel, { wording, startsAt, lengthMs, visibility, settings }: AiringOrder): Partial<Airing> {
    const { title, text } = wording;
    const told: AiringFacts = { title, text, startsAt: startsAt ?? show.startsAt, lengthMs, visibility, choices: asItWillStand(settings) };
    const toldPicture = this.pictureStays(show, channel) ? airing.toldPicture : (show.thumbnail?.version ?? null);
    return { told, visibility, toldPicture, toldChoices: this.airings.choicesKey(airing, channel) };
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
    if (state === 'ended' || state === 'unreadable') return simply(sayNoAccess(state, channel.name));
    const findings = checkShow(this.airings.checked(show, airing, channel, station), this.ruleBook.rules(channel), this.clock.now());
    const first = findings.find(({ severity }) => severity === 'objection');
    if (first) return { words: sayFinding(first, placeName(channel), show.zone), tooFar: false };
    const tooFar = findings.find(({ code }) => code === 'start-too-far');
    if (tooFar) return { words: sayFinding(tooFar, placeName(channel), show.zone), tooFar: true };
    // Whether the channel may broadcast is left to the network: a condition may have been met since it was asked.
    const clash = await this.plan.objection(show.stationId, airing);
    return clash === null ? null : simply(clash);
  }

  /** Takes an airing further from the state in which it was looked at, and from no other. */
  private async take(airing: Airing, event: AiringEvent, change: Partial<Omit<Airing, 'placing'>> = {}): Promise<void> {
    const placing = await this.airingRows.move(airing.id, airing.placing, event, change);
    if (placing !== null) return void Object.assign(airing, change, { placing });
    // Somebody else came to the same end with the same event: then nothing is lost by it.
    const now = await this.airingRows.byId(airing.id);
    const meant = { placing: airingAfter(airing.placing, event), remoteId: airing.remoteId, ...change };
    if (now?.placing !== meant.placing || now?.remoteId !== meant.remoteId) throw new Refused('placing: changed meanwhile');
    Object.assign(airing, now);
  }

  private async keep(airing: Airing, change: Partial<Omit<Airing, 'placing'>>): Promise<void> {
    Object.assign(airing, change);
    // Only what changed: what was typed while the network was being asked stays as it was typed.
    await this.airingRows.change(airing.id, change);
  }

  /** Nobody else talks to the networks about the show meanwhile. */
  private async alone<T>(showId: string, work: () => Promise<T>): Promise<T> {
    try {
      return await this.talk.press(showId, work);
    } finally {
      this.bus.tell({ kind: 'show', showId });
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
const NOWHERE = { placedAt: null, remoteId: null, watchUrl: null, told: null, toldPicture: null, toldChoices: null } as const;

/** By what a network knows the same placing again: another one after the event was withdrawn and placed anew. */
const onceOf = ({ id, round }: Airing): string => (round === 0 ? id : `${id}.${round}`);

/** Whether nothing needs to be done for an airing until it goes on air. */
const isReady = ({ placing }: Airing): boolean => placing === 'placed' || placing === 'awaits air';

/** Whether there is something on the channel, or waiting for it, that can be taken back. */
const isWithdrawable = (airing: Airing): boolean => standsThere(airing) || airing.placing === 'awaits air' || airing.placing === 'awaits reach';

function result(airing: Airing, channel: Channel, done: boolean, words: string): ChannelResult {
  return { airingId: airing.id, channelName: channelInFull(channel), done, words };
}
