// One show on air, as its networks see it: a watch on the network for every airing, what all lamps show, and what the air
// process is told to send. Lives from going on air to wrapping up, and is made anew when the planning server is.
import type { AiringOnAirView, AirView } from '@lantern/contract';
import {
  backoffMs,
  BehindMeasured,
  happened,
  lampOf,
  limitsAhead,
  mayBeMadeAnew,
  ranLately,
  ranTogether,
  sayLampReason,
  sayLimitAhead,
  shouldStartThere,
  toldWith,
  type AiringOnAir,
  type Happening,
  type Instant,
  type Lamp,
  type LastTold,
  sayRendition,
  type RelayState,
  type SourceId,
} from '@lantern/core';
import { Logger } from '@nestjs/common';
import { laidOver } from '../air-wire/laid-over';
import type { CarriedState, CarryOrder, HolderState } from '../air-wire/messages';
import type { Channel } from '../channels/channel.entities';
import { placeName, wordsOfNetworkError, type ChannelAccessService, ourWords } from '../channels/access.service';
import { identityOf } from '../channels/channels.service';
import { AccessEnded, NetworkRefusal, NetworkSilence } from '../channels/connectors/connector';
import type { RuleBookService } from '../channels/rule-book.service';
import type { Clock } from '../foundation/clock';
import { letGo } from '../foundation/let-go';
import type { LinesService } from '../lines/lines.service';
import type { Airing, Show } from '../shows/show.entities';
import type { BreakCard } from './break-cards';
import type { StageStanding } from './stage-rows';

const ASK_EVERY_MS = 500;
const SAMPLE_EVERY_MS = 5_000;
/** The network sees nothing for so long although we send: the connection is made anew. */
const UNSEEN_IS_BROKEN_MS = 6_000;

interface AiringWatch {
  airing: Airing;
  channel: Channel;
  facts: AiringOnAir;
  unseenSince: Instant | null;
  lastSample: { lamp: Lamp; at: Instant } | null;
  timer: NodeJS.Timeout | null;
  useNoted: boolean;
  /** Whether it has been public. */
  seen: boolean;
  /** Since when; null: it has not been, or not since this is watched and nobody has said so yet. */
  publicSince: number | null;
  /** How late viewers see it there. */
  behind: BehindMeasured;
  /** Raised when its event is made anew: what was asked about the one before is not heard any more. */
  round: number;
}

export interface AirSessionHost {
  clock: Clock;
  access: ChannelAccessService;
  lines: LinesService;
  ruleBook: RuleBookService;
  /** Makes the event of an airing on a channel that takes nothing in advance or, `anew`, another where it has ended. */
  placeNow(airing: Airing, channel: Channel, anew: boolean): Promise<void>;
  /** An airing that was being placed stands there now, and the show is no longer on air. */
  placedTooLate(airing: Airing): void;
  /** Has something done about an airing's picture. Where the air process is away, it is said again once it is back. */
  relay(airingId: string, to: 'start' | 'stop' | 'anew', why?: string): void;
  /** When an airing was first seen to be public; null: never yet. */
  litSince(airingId: string): Promise<number | null>;
  /** Keeps a sample for the report. */
  sample(airingId: string, at: Instant, lamp: Lamp, watching: number | null): void;
  changed(): void;
  houseWatching(): number;
  /** So much of the show has been received by now, in ms: kept, so that it is known after a kill. */
  recorded(lengthMs: number): void;
  /** How its stage stands, where that has changed. */
  keep(standing: StageStanding): void;
  roomWords(): string;
  /** What of it is told later. */
  happened(news: readonly Happening[]): void;
}

const IDLE: RelayState = { state: 'idle', said: '', nextTryAt: null };

export class AirSession {
  private readonly log: Logger;
  private readonly watches: AiringWatch[];
  private readonly noting: NodeJS.Timeout;
  private ended = false;
  /** As the air process last said; null: it has not yet, or is away. */
  private carried: CarriedState | null = null;
  private standing: StageStanding;
  private recordedMs: number;
  private told: LastTold;

  constructor(
    readonly show: Show,
    /** How its stage is found: as it was left, where a process was stopped in between. */
    found: { standing: StageStanding; recordedMs: number; told: LastTold },
    airings: { airing: Airing; channel: Channel }[],
    private readonly host: AirSessionHost,
  ) {
    this.log = new Logger(`show ${show.id}`);
    this.standing = found.standing;
    this.recordedMs = found.recordedMs;
    this.told = found.told;
    this.noting = setInterval(() => {
      if (this.carried) host.recorded(this.recordedMs);
    }, SAMPLE_EVERY_MS);
    this.watches = airings.map(({ airing, channel }) => this.watchOf(airing, channel));
  }

  /** Begins to ask and to send. Once, after whoever made it knows it. */
  start(): void {
    for (const watch of this.watches) if (!watch.facts.heldBack) this.startOne(watch);
  }

  /** Begins one that was held back. A second press finds it begun. */
  release(airingId: string): void {
    const watch = this.watches.find(({ airing }) => airing.id === airingId);
    if (!watch?.facts.heldBack) return;
    watch.facts.heldBack = false;
    this.standing = { ...this.standing, heldBack: this.standing.heldBack.filter((id) => id !== airingId) };
    this.host.keep(this.standing);
    this.startOne(watch);
    this.host.changed();
  }

  private startOne(watch: AiringWatch): void {
    if (watch.facts.placed) this.begin(watch);
    else if (watch.facts.beingPlaced) letGo('placing on air', this.place(watch, 1, false));
  }

  /** Has another event made where the airing's own has ended, or was refused. A second press finds it being made. */
  makeAnew(airingId: string): void {
    const watch = this.watches.find(({ airing }) => airing.id === airingId);
    if (!watch || !mayBeMadeAnew(watch.facts)) return;
    if (watch.timer) clearTimeout(watch.timer);
    watch.round += 1;
    Object.assign(watch, { unseenSince: null, useNoted: false, publicSince: null, behind: new BehindMeasured() });
    watch.facts = { ...watch.facts, ...{ placed: false, beingPlaced: true, report: null, silentSince: null, startRefused: null } };
    // It sends by the key of the event that is no more.
    this.host.relay(airingId, 'stop');
    letGo('placing on air', this.place(watch, 1, true));
    this.host.changed();
  }

  /** Whether its picture passes through here at all. */
  get isCarried(): boolean {
    return this.show.pictureFrom !== 'encoder';
  }

  /** What the air process is told so that it carries this show, from the beginning or on from where it was. */
  order(card: BreakCard | null, { houseVisibility }: Pick<Show, 'houseVisibility'> = this.show): CarryOrder {
    const { programme: scene, ran, lineOnStage, chosen, backAt, holder } = this.standing;
    return {
      showId: this.show.id,
      slug: this.show.slug,
      open: houseVisibility === 'everyone',
      onAirSince: this.show.onAirSince!,
      recordedMs: this.recordedMs,
      ...{ scene, ran: ranLately(ran), lineOnStage, chosen, backAt, cardPath: card?.cardPath ?? null, musicPath: card?.musicPath ?? null, holder: holder! },
      ...{ stationId: this.show.stationId, base: baseOf(this.show) },
      airingIds: this.watches.map(({ airing }) => airing.id),
      farEnd: this.show.rehearsalOf !== null,
    };
  }

  /** Airings whose picture is to go out, and for which nothing is done yet. */
  get resting(): string[] {
    return this.watches
      .filter((watch) => watch.facts.placed && !watch.facts.heldBack && !watch.facts.fromOutside && this.relayOf(watch).state === 'idle')
      .map(({ airing }) => airing.id);
  }

  /** What the air process says of it; null: it is away. */
  hear(carried: CarriedState | null): void {
    if (this.ended) return;
    this.carried = carried;
    if (carried) {
      this.recordedMs = carried.recordedMs;
      this.tellHappened(carried);
      for (const watch of this.watches) if (this.relayOf(watch).state === 'sending') this.noteUse(watch.airing);
      const standing: StageStanding = {
        programme: carried.scene,
        ran: ranTogether(this.standing.ran, carried.ran),
        lineOnStage: carried.lineOnStage ?? null,
        chosen: carried.chosen,
        backAt: carried.backAt ?? null,
        holder: carried.holder,
        heldBack: this.standing.heldBack,
      };
      if (!sameStanding(standing, this.standing)) {
        this.standing = standing;
        this.host.keep(standing);
      }
    }
    this.host.changed();
  }

  private tellHappened({ scene, ran, graphic, clip, source }: CarriedState): void {
    const news = happened(this.told, { scene, ran, graphic: graphic ?? null, clip: clip ?? null, source: source ?? null }, this.host.clock.now());
    if (!news.length) return;
    this.told = toldWith(this.told, news);
    this.host.happened(news);
  }

  /** Whether the stage is this person's, in this tab. */
  isHeldBy(personId: string, tab: string | null): boolean {
    const { holder } = this.standing;
    return tab !== null && holder?.tab === tab && holder.personId === personId;
  }

  /** Since when nobody has been at its stage, in ms since the epoch; null: somebody is, or nobody knows. */
  get aloneSince(): number | null {
    return this.carried?.aloneSince ?? null;
  }

  view(): AirView {
    const now = this.host.clock.now();
    const { programme, ran, lineOnStage, chosen, backAt, holder } = this.standing;
    const planned: AirView = {
      showState: this.show.state,
      startsBy: null,
      onAirSince: this.show.onAirSince,
      ...{ programme, ran, lineOnStage },
      graphic: null,
      ...{ source: null, sourceReason: 'nothing yet', chosen, backAt, cardSince: null },
      stageArrives: false,
      holder: holder && { personId: holder.personId, name: holder.name, connected: false, microphoneOn: true, hasSent: holder.tab !== null },
      holdsIt: false,
      lines: [],
      houseWatching: this.host.houseWatching(),
      farEnd: null,
      roomWords: this.host.roomWords(),
      recordedMs: this.recordedMs,
      airings: this.watches.map((watch) => this.airingView(watch, now)),
      plannedAt: now,
      now,
    };
    return this.carried ? laidOver(planned, this.carried, now) : planned;
  }

  /** How its lamps stand, as one word: another once one of them changes. */
  get lamps(): string {
    const now = this.host.clock.now();
    return this.watches.map((watch) => lampOf({ ...watch.facts, relay: this.relayOf(watch) }, now).lamp).join();
  }

  /** Whether anybody out there can have seen anything of it: it has been public somewhere, or has gone out where nobody tells. */
  get hasBeenSeen(): boolean {
    return this.watches.some(({ seen }) => seen);
  }

  /** Stops asking. The networks and the air process are told elsewhere. */
  close(): void {
    this.ended = true;
    clearInterval(this.noting);
    for (const watch of this.watches) if (watch.timer) clearTimeout(watch.timer);
  }

  private relayOf({ airing }: AiringWatch): RelayState {
    const relay = this.carried?.relays.find(({ airingId }) => airingId === airing.id);
    if (!relay) return IDLE;
    const { state, said, nextTryAt, rendition } = relay;
    return { state, said, nextTryAt: (nextTryAt ?? null) as Instant | null, rendition };
  }

  private begin(watch: AiringWatch): void {
    if (!watch.facts.fromOutside) this.host.relay(watch.airing.id, 'start');
    letGo('asking a network', this.ask(watch));
  }

  /** Makes the event there, now that the show is on air; a network that does not answer is asked again. */
  private async place(watch: AiringWatch, tries: number, anew: boolean): Promise<void> {
    const { access, clock } = this.host;
    try {
      await this.host.placeNow(watch.airing, watch.channel, anew);
      watch.facts = { ...watch.facts, beingPlaced: false, placed: true, startRefused: null, silentSince: null, startsAt: startOf(watch.airing, this.show) };
      // The show was wrapped up, or taken back, while its network made the event.
      if (this.ended) return this.host.placedTooLate(watch.airing);
      this.begin(watch);
    } catch (error) {
      watch.facts.startRefused = wordsOfNetworkError(error, watch.channel, access.connectorOf(watch.channel));
      watch.facts.silentSince ??= clock.now();
      if (error instanceof NetworkSilence && !this.ended) {
        watch.timer = setTimeout(() => letGo('placing on air', this.place(watch, tries + 1, anew)), backoffMs(tries, Math.random()));
      }
    }
    this.sample(watch);
    this.host.changed();
  }

  private watchOf(airing: Airing, channel: Channel): AiringWatch {
    const { ruleBook } = this.host;
    const facts: AiringOnAir = {
      placed: airing.placing === 'placed',
      // What it is not known of whether it stands is asked for again, as what is made only now.
      beingPlaced: airing.placing === 'awaits air' || airing.placing === 'unsure',
      heldBack: this.standing.heldBack.includes(airing.id),
      fromOutside: this.show.pictureFrom === 'encoder',
      startsAt: startOf(airing, this.show),
      rules: ruleBook.rules(channel),
      relay: IDLE,
      report: null,
      silentSince: null,
      startRefused: null,
      accessEnded: false,
    };
    return {
      airing,
      channel,
      facts,
      behind: new BehindMeasured(),
      unseenSince: null,
      lastSample: null,
      timer: null,
      useNoted: false,
      seen: false,
      publicSince: null,
      round: 0,
    };
  }

  private airingView(watch: AiringWatch, now: Instant): AiringOnAirView {
    watch.facts.relay = this.relayOf(watch);
    const { lamp, reason } = lampOf(watch.facts, now);
    const { rendition } = watch.facts.relay;
    return {
      airingId: watch.airing.id,
      channel: identityOf(watch.channel),
      channelName: watch.channel.name,
      network: placeName(watch.channel),
      lamp,
      words: sayLampReason(reason, placeName(watch.channel), this.show.zone),
      ahead: lamp === 'lit' ? this.ahead(watch, now) : [],
      heldBack: watch.facts.heldBack,
      mayBeMadeAnew: mayBeMadeAnew(watch.facts),
      watching: watch.facts.report?.facts.watching ?? null,
      behind: lamp === 'lit' ? watch.behind.at(now, this.saidBehindMs(watch)) : null,
      rendition: rendition ? sayRendition(rendition) : '',
      watchUrl: watch.airing.watchUrl ?? watch.channel.watchUrl,
    };
  }

  /** How late viewers see it by what its network says, in ms. */
  private saidBehindMs({ airing, channel }: AiringWatch): number | null {
    const [usual] = this.host.ruleBook.rules(channel).delaysS;
    return usual === undefined ? null : (airing.choices.delayS ?? channel.defaults.delayS ?? usual) * 1_000;
  }

  /** Where the public playback of each airing is that viewers can see now, and whose address it stands under. */
  get playbacks(): { airingId: string; playbackUrl: string; watchUrl: string }[] {
    return this.watches.flatMap(({ airing, facts }) => {
      const { event, playbackUrl = null } = facts.report?.facts ?? {};
      return event === 'public' && playbackUrl && airing.watchUrl ? [{ airingId: airing.id, playbackUrl, watchUrl: airing.watchUrl }] : [];
    });
  }

  /** It was measured how late viewers see an airing, in ms. */
  hearBehind(airingId: string, ms: number): void {
    this.watches.find(({ airing }) => airing.id === airingId)?.behind.add(this.host.clock.now(), ms);
    this.host.changed();
  }

  private ahead({ channel, publicSince }: AiringWatch, now: Instant): string[] {
    return limitsAhead(this.host.ruleBook.rules(channel), publicSince, now).map((limit) => sayLimitAhead(limit, placeName(channel), this.show.zone));
  }

  /** Asks one network how its event stands, acts on the answer, and asks again. */
  private async ask(watch: AiringWatch): Promise<void> {
    const { clock } = this.host;
    const connector = this.host.access.connectorOf(watch.channel);
    const { round } = watch;
    const isLate = () => this.ended || watch.round !== round;
    let askAgainMs = ASK_EVERY_MS;
    if (connector) {
      const access = this.host.access.of(watch.channel);
      try {
        const facts = await connector.report(access, watch.airing.remoteId!);
        if (isLate()) return;
        watch.facts.report = { at: clock.now(), facts };
        watch.facts.silentSince = null;
        watch.facts.accessEnded = false;
        if (facts.pictureArrives) this.noteUse(watch.airing);
        this.mendIfUnseen(watch, facts.pictureArrives);
        if (shouldStartThere(watch.facts, clock.now())) {
          await connector.start(access, watch.airing.remoteId!);
          watch.facts.startRefused = null;
          askAgainMs = 0;
        }
      } catch (error) {
        if (isLate()) return;
        this.noteTrouble(watch, error);
      }
    }
    if (isLate()) return;
    this.sample(watch);
    this.host.changed();
    watch.timer = setTimeout(() => letGo('asking a network', this.ask(watch)), askAgainMs);
  }

  /** A picture has gone out on the airing's line, from here or from an outside encoder. */
  private noteUse(airing: Airing): void {
    const watch = this.watches.find((each) => each.airing === airing);
    if (!watch || watch.useNoted) return;
    watch.useNoted = true;
    this.host.lines.noteUse(airing, watch.channel).catch((error: Error) => this.log.warn(error.message));
  }

  private noteTrouble(watch: AiringWatch, error: unknown): void {
    if (error instanceof NetworkRefusal && error.status === 404) {
      watch.facts.report = { at: this.host.clock.now(), facts: { event: 'missing', pictureArrives: false, watching: null } };
    } else if (error instanceof NetworkRefusal) {
      const connector = this.host.access.connectorOf(watch.channel);
      watch.facts.startRefused = ourWords(connector, error.reason) ?? error.words;
    } else if (error instanceof AccessEnded) {
      watch.facts.accessEnded = true;
    } else if (error instanceof NetworkSilence) {
      watch.facts.silentSince ??= this.host.clock.now();
    } else {
      this.log.error(error instanceof Error ? error.message : String(error), error instanceof Error ? error.stack : undefined);
      watch.facts.silentSince ??= this.host.clock.now();
    }
  }

  /** A connection that looks whole from here and empty from there is broken. */
  private mendIfUnseen(watch: AiringWatch, seen: boolean): void {
    const now = this.host.clock.now();
    const sending = this.relayOf(watch).state === 'sending' && (this.carried?.source ?? null) !== null;
    if (seen || !sending) {
      watch.unseenSince = null;
      return;
    }
    watch.unseenSince ??= now;
    if (now - watch.unseenSince < UNSEEN_IS_BROKEN_MS) return;
    watch.unseenSince = null;
    this.host.relay(watch.airing.id, 'anew', 'the picture is sent but does not arrive');
  }

  private sample(watch: AiringWatch): void {
    const now = this.host.clock.now();
    const { lamp } = lampOf({ ...watch.facts, relay: this.relayOf(watch) }, now);
    watch.seen ||= lamp === 'lit' || watch.facts.report?.facts.event === 'public';
    if (watch.seen && watch.publicSince === null) {
      watch.publicSince = now;
      // It may have been public before this process was there; what was made anew here was not.
      if (watch.round === 0)
        letGo(
          'since when a show is public',
          this.host.litSince(watch.airing.id).then((since) => {
            if (watch.round === 0) watch.publicSince = Math.min(since ?? now, now);
          }),
        );
    }
    const last = watch.lastSample;
    if (last && last.lamp === lamp && now - last.at < SAMPLE_EVERY_MS) return;
    watch.lastSample = { lamp, at: now };
    this.host.sample(watch.airing.id, now, lamp, watch.facts.report?.facts.watching ?? null);
  }
}

function sameStanding(a: StageStanding, b: StageStanding): boolean {
  const same = (one: HolderState | null, other: HolderState | null) => one?.personId === other?.personId && (one?.tab ?? null) === (other?.tab ?? null);
  return (
    a.programme === b.programme &&
    a.ran.length === b.ran.length &&
    a.ran.at(-1)?.at === b.ran.at(-1)?.at &&
    a.lineOnStage === b.lineOnStage &&
    a.chosen === b.chosen &&
    a.backAt === b.backAt &&
    same(a.holder, b.holder)
  );
}

/** Where the picture of a show comes from, unless a person chooses otherwise. */
export const baseOf = ({ pictureFrom, outsideLineId }: Pick<Show, 'pictureFrom' | 'outsideLineId'>): SourceId =>
  pictureFrom === 'outside line' && outsideLineId ? `line:${outsideLineId}` : 'stage';

/** For when its event stands there, which is not the show's own start where it was made on air. */
const startOf = (airing: Pick<Airing, 'placedAt'>, show: Pick<Show, 'startsAt'>): Instant => (airing.placedAt ?? show.startsAt) as Instant;
