// One show as it is carried: the stretches that come from its stage, the switch between them and the break card, its
// programme, and everything that reads it: a relay an airing, the house page, the recording. Knows nothing of networks,
// databases or people; it lives from the order to carry it to the order to let it go.
import {
  handOverAfter,
  leaseAfter,
  ProgrammeInput,
  READY_AFTER_MS,
  ranLately,
  ranTogether,
  SourceSignal,
  switched,
  type CueRan,
  type FlvTag,
  type HandOver,
  type HandOverEnd,
  type HandOverEvent,
  type Lease,
  type PartNote,
  type SceneId,
  type SourceId,
  type Switched,
} from '@lantern/core';
import { Logger } from '@nestjs/common';
import { mkdirSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { AirView } from '@lantern/contract';
import { laidOver } from '../air-wire/laid-over';
import type { CarriedState, CarryOrder, LineHad } from '../air-wire/messages';
import { letGo } from '../foundation/let-go';
import type { Settings } from '../foundation/settings';
import { FarEnd } from './far-end';
import type { OutsideFeed } from './outside-lines';
import { BreakCardLoop } from '../media/break-card-loop';
import { FileSink } from '../media/file-sink';
import { HousePackager } from '../media/house-packager';
import { OutgoingPictures } from '../media/outgoing-pictures';
import { Programme } from '../media/programme';
import { Relay } from '../media/relay';
import { recordingFolder, Stretch, stretchNumbers, programmeNumbers, programmeFile, programmeNotes } from '../media/stretch';

/** No piece for so long, and the stage counts as gone, in ms. */
const STAGE_GONE_MS = 2_000;
/** Late pieces of a source are waited for so long before the switch is asked again at the latest. */
const LOOK_AT_LEAST_EVERY_MS = 1_000;

export interface TransmissionHost {
  settings: Pick<Settings, 'recordingsDir' | 'liveDir' | 'ffmpeg' | 'privateTargets'>;
  /** The show's clock, in ms since the epoch. */
  now(): number;
  /** Only goes forward, in ms. */
  steadyNow(): number;
  /** Where an airing is sent; throws what is said instead. */
  line(showId: string, airingId: string): Promise<LineHad>;
  changed(showId: string): void;
  /** What comes from the stage is taken in no longer: it has to begin a new stretch. */
  stretchBroke(showId: string): void;
  /** The stage has been handed over (null), or has not, and why. */
  handedOver(showId: string, handOver: HandOver, ended: HandOverEnd | null): void;
}

/** The picture of whoever takes the stage over, before it is seen. */
interface Coming {
  stretch: Stretch;
  signal: SourceSignal;
  /** It has come steadily for long enough: it is on from its next key frame. */
  ready: boolean;
}

export class Transmission {
  private readonly log: Logger;
  readonly programme: Programme;
  /** What has just gone out; null: it goes to nobody. */
  readonly outgoing: OutgoingPictures | null;
  readonly showId: string;
  readonly slug: string;
  /** Whether its house page is for everybody. */
  open: boolean;
  readonly stationId: string;
  private readonly base: SourceId;
  /** Outside lines as this programme's inputs, by what they come as. */
  private readonly outside = new Map<OutsideFeed, ProgrammeInput>();
  private readonly folder: string;
  private readonly packager: HousePackager;
  private recording: FileSink | null = null;
  /** The number of the recording's file; null: nothing can be written. */
  private readonly recordingNumber: number | null;
  /** What was in the programme when, beside the recording. */
  private notes: FileSink | null = null;
  /** What its inputs are: those of the stage by the numbers of their stretches, and the cards. */
  private readonly numbers = new WeakMap<ProgrammeInput, number>();
  private readonly cards = new WeakSet<ProgrammeInput>();
  /** What is in it now. */
  private part: { stretch: number | null; isCard: boolean; shiftMs: number } | null = null;
  private noted = '';
  private recordedFromMs = 0;
  private readonly relays = new Map<string, Relay>();
  private readonly farEnd: FarEnd | null;
  private readonly signals = new Map<SourceId, SourceSignal>([['stage', new SourceSignal()]]);
  private readonly been = new Set<SourceId>();
  private readonly begunAt: number;
  private readonly recordedBefore: number;
  private card: BreakCardLoop | null = null;
  /** Where its card and the music of it lie. */
  private cardFrom: readonly [card: string, music: string | null] | null = null;
  private stretch: Stretch | null = null;
  /** Of earlier stretches, whose files are being finished. */
  private readonly closing = new Set<Promise<void>>();
  private nextStretch: number;
  private handOver: HandOver | null = null;
  private coming: Coming | null = null;
  private on: SourceId | null = null;
  private reason: Switched['reason'] = 'nothing yet';
  private cardSince: number | null = null;
  private timer: NodeJS.Timeout | null = null;
  private ended = false;
  private chosen: SourceId;
  private beforeBreak: SourceId | null = null;
  private backAt: number | null;
  private lease: Lease;
  /** Since when nobody's stage has been there. */
  private aloneSince: number | null;
  private readonly onAirSince: number;
  scene: SceneId;
  private ran: CueRan[];
  lineOnStage: string | null;
  microphoneOn = true;
  /** What is laid over the picture and what is played, as the stage that has it says. */
  private shown: { graphic: string | null; clip: string | null } = { graphic: null, clip: null };

  constructor(
    order: CarryOrder,
    private readonly host: TransmissionHost,
  ) {
    const { showId, holder } = order;
    this.showId = showId;
    this.slug = order.slug;
    this.open = order.open;
    this.stationId = order.stationId;
    this.base = order.base;
    this.log = new Logger(`show ${showId}`);
    this.onAirSince = order.onAirSince;
    this.scene = order.scene;
    this.ran = order.ran;
    this.lineOnStage = order.lineOnStage ?? null;
    this.chosen = order.chosen;
    this.backAt = order.backAt ?? null;
    this.recordedBefore = order.recordedMs;
    this.lease = { person: { id: holder.personId, name: holder.name }, tab: holder.tab ?? null, connected: false };
    this.aloneSince = host.now();
    this.begunAt = host.steadyNow();
    this.outgoing = order.farEnd ? null : new OutgoingPictures(host.settings.ffmpeg);
    const before = Math.max(0, host.now() - order.onAirSince);
    this.programme = new Programme(
      () => before + host.steadyNow() - this.begunAt,
      (atMs, input, shiftMs) => {
        this.part = { stretch: this.numbers.get(input) ?? null, isCard: this.cards.has(input), shiftMs };
        this.notePart(atMs);
      },
      this.outgoing,
    );
    this.folder = recordingFolder(host.settings, showId);
    const [stretches, programmes] = this.filesThere();
    this.nextStretch = 1 + Math.max(0, ...stretches);
    this.packager = new HousePackager(host.settings.ffmpeg, join(host.settings.liveDir, order.slug), this.programme);
    this.recordingNumber = programmes && 1 + Math.max(0, ...programmes);
    // What is taken up again is recorded at once; a show that begins, from its first picture on.
    if (programmes?.length) this.record();
    for (const airingId of order.airingIds) this.relays.set(airingId, this.relayOf(airingId));
    this.farEnd = order.farEnd
      ? new FarEnd(
          showId,
          host.settings.ffmpeg,
          this.programme,
          () => host.now(),
          () => host.changed(showId),
        )
      : null;
    if (order.cardPath) letGo('taking up the break card', this.useCard(order.cardPath, order.musicPath ?? null));
    this.look();
  }

  /** The recording reads the programme as any other does. May be called twice. */
  private record(): void {
    if (this.recording || this.recordingNumber === null) return;
    const sink = new FileSink(programmeFile(this.folder, this.recordingNumber));
    this.recording = sink;
    this.notes = new FileSink(programmeNotes(this.folder, this.recordingNumber));
    this.notePart(Math.round(this.programme.endMs));
    this.recordedFromMs = this.programme.lengthMs;
    this.programme.read((bytes) => sink.write(bytes));
  }

  /** Notes what is in the programme from `atMs` on, for its recording: what the stage made while nobody saw it belongs there too. */
  private notePart(atMs: number): void {
    if (!this.part) return;
    const { stretch, isCard, shiftMs } = this.part;
    // A card that only waits for the key frame of what was chosen is no loss.
    const lost = isCard && this.chosen === 'stage' && this.on === 'break card';
    const what = `${stretch} ${shiftMs} ${lost}`;
    if (!this.notes || this.noted === what) return;
    this.note({ atMs, stretch, shiftMs, lost });
    this.noted = what;
  }

  private note(note: PartNote): void {
    this.notes?.write(Buffer.from(`${JSON.stringify(note)}\n`));
  }

  /** Numbers of what lies there already. A folder that cannot be made or read costs the recording, and never the picture. */
  private filesThere(): [number[], number[] | null] {
    try {
      mkdirSync(this.folder, { recursive: true });
      const names = readdirSync(this.folder);
      return [stretchNumbers(names), programmeNumbers(names)];
    } catch (error) {
      this.log.error(`nothing can be recorded: ${error instanceof Error ? error.message : String(error)}`);
      return [[], null];
    }
  }

  // ---- the stage

  /** Begins a new stretch from the stage; whatever came before is closed. */
  beginStretch(): Stretch {
    const before = this.stretch;
    this.signals.get('stage')!.begin();
    this.stretch = this.newStretch();
    this.finish(before);
    return this.stretch;
  }

  private newStretch(): Stretch {
    const broken = (which: Stretch) => {
      if (this.stretch === which) this.host.stretchBroke(this.showId);
      else if (this.coming?.stretch === which) this.handOverEvent({ type: 'broke' });
    };
    const stretch = new Stretch(this.nextStretch++, this.folder, this.host.settings.ffmpeg, (from, tag) => this.hear(from, tag), broken);
    this.numbers.set(stretch.input, stretch.number);
    return stretch;
  }

  private finish(stretch: Stretch | null | undefined): void {
    if (!stretch) return;
    const closing = stretch.close().finally(() => this.closing.delete(closing));
    this.closing.add(closing);
    letGo('finishing a stretch', closing);
  }

  /** The stretch that is being received from a tab, if it has this number and something comes of it. */
  stretchNumbered(number: number, tab: string): Stretch | null {
    const stretch = tab === this.lease.tab ? this.stretch : this.takesOver(tab) ? this.coming?.stretch : null;
    return stretch?.number === number && !stretch.broken ? stretch : null;
  }

  /** What viewers see at this moment; null: nothing yet. */
  get source(): SourceId | null {
    return this.on;
  }

  /** Nothing of it goes to anybody but the team. */
  get isRehearsal(): boolean {
    return this.farEnd !== null;
  }

  get holder(): Lease {
    return this.lease;
  }

  /** Somebody's stage comes, goes or takes the show. Answers whether it sends now, and who has lost the stage by it. */
  stageEvent(event: Parameters<typeof leaseAfter>[1]): ReturnType<typeof leaseAfter> {
    if (event.type === 'taken') this.handOverEvent({ type: 'taken' });
    return this.leased(event);
  }

  private leased(event: Parameters<typeof leaseAfter>[1]): ReturnType<typeof leaseAfter> {
    const step = leaseAfter(this.lease, event);
    if (step.lease) this.lease = step.lease;
    if (event.type === 'taken') this.microphoneOn = true;
    if (this.lease.connected) this.aloneSince = null;
    else this.aloneSince ??= this.host.now();
    // A stage that is gone brings nothing more: nobody waits to see that.
    if (event.type === 'closed' && !this.lease.connected) this.signals.get('stage')!.gone();
    this.look();
    this.host.changed(this.showId);
    return step;
  }

  // ---- handing the stage over

  get handing(): HandOver | null {
    return this.handOver;
  }

  /** Whether a tab's picture is awaited, so that it can be handed the stage. */
  takesOver(tab: string): boolean {
    return this.handOver?.state === 'coming' && this.handOver.to.tab === tab;
  }

  /** Whether anything is played at this moment: a clip is its stage's own. */
  get plays(): boolean {
    return this.shown.clip !== null;
  }

  /** Somebody asks for the stage, offers it, agrees or does not. False: it means nothing as things stand. */
  handOverEvent(event: HandOverEvent): boolean {
    const before = this.handOver;
    const { handOver, ended, understood } = handOverAfter(before, event, this.host.steadyNow());
    this.handOver = handOver;
    if (before !== handOver) this.host.changed(this.showId);
    if (before && ended !== null) {
      this.finish(this.coming?.stretch);
      this.coming = null;
      this.host.handedOver(this.showId, before, ended);
      this.look();
    }
    return understood;
  }

  /** Begins, or begins anew, what comes from whoever takes over. Nobody sees it before it is steady. */
  beginComing(): Stretch {
    this.finish(this.coming?.stretch);
    this.coming = { stretch: this.newStretch(), signal: new SourceSignal(), ready: false };
    this.note({ keptOut: this.coming.stretch.number });
    return this.coming.stretch;
  }

  private hearComing(coming: Coming, tag: FlvTag): void {
    const now = this.host.steadyNow();
    coming.signal.note(tag, now);
    const { steadySince } = coming.signal;
    if (!coming.ready && steadySince !== null && now - steadySince >= READY_AFTER_MS) {
      coming.ready = true;
      this.look();
    }
    this.programme.feed(coming.stretch.input, tag);
    // Where the card or a line is on, there is nothing to wait for.
    if (coming.ready && (this.on !== 'stage' || this.programme.onAir === coming.stretch.input)) this.handedOver(coming);
  }

  /** From here on it is the other's stage, and what came from the first is closed. */
  private handedOver(coming: Coming): void {
    const handOver = this.handOver!;
    const before = this.stretch;
    this.handOver = this.coming = null;
    this.stretch = coming.stretch;
    this.signals.set('stage', coming.signal);
    this.leased({ type: 'taken', ...handOver.to });
    this.finish(before);
    this.host.handedOver(this.showId, handOver, null);
  }

  // ---- the switch

  /** A person's choice of what is seen: a source, or the break card. `backAt`: when they go on, in ms since the epoch. */
  choose(source: SourceId, backAt: number | null): void {
    if (source === 'break card') this.beforeBreak = this.chosen === 'break card' ? this.beforeBreak : this.chosen;
    else this.beforeBreak = null;
    this.chosen = source;
    this.backAt = source === 'break card' ? backAt : null;
    this.look();
    this.notePart(Math.round(this.programme.endMs));
    this.host.changed(this.showId);
  }

  /** Takes up a break card that has been made, or made anew. One that cannot be read leaves the one before. */
  async useCard(cardPath: string, musicPath: string | null): Promise<void> {
    if (this.cardFrom?.[0] === cardPath && this.cardFrom[1] === musicPath) return;
    let card: BreakCardLoop;
    try {
      card = await BreakCardLoop.read(cardPath, musicPath);
    } catch (error) {
      this.log.error(`the break card: ${error instanceof Error ? error.message : String(error)}`);
      return;
    }
    if (this.ended) return;
    const before = this.card;
    this.cardFrom = [cardPath, musicPath];
    this.card = card;
    this.cards.add(card.input);
    if (before?.running) {
      // The new one comes on at its first picture; the old is not missed.
      this.programme.select(card.input);
      card.start((tag) => this.programme.feed(card.input, tag), this.host.steadyNow);
      before.stop();
    }
    this.look();
  }

  /** `cue`: the one of the running order that begins with it. */
  takeScene(scene: SceneId, cue: string | null = null): void {
    this.scene = scene;
    // Two in one millisecond would be one to whoever is told of them.
    if (cue !== null) this.ran = ranTogether(this.ran, [{ cue, at: Math.max(this.host.now(), (this.ran.at(-1)?.at ?? 0) + 1) }]);
    this.host.changed(this.showId);
  }

  /** Which outside line stands on the stage from now on. */
  bring(line: string | null): void {
    this.lineOnStage = line;
    this.host.changed(this.showId);
  }

  /** Something is laid over the picture or played, or no longer. */
  show(graphic: string | null, clip: string | null): void {
    this.shown = { graphic, clip };
    this.host.changed(this.showId);
  }

  switchMicrophone(on: boolean): void {
    this.microphoneOn = on;
    this.host.changed(this.showId);
  }

  /** Goes on after a break, with what was seen before it. A second press finds it gone on. */
  resume(): void {
    if (this.chosen !== 'break card') return;
    this.choose(this.beforeBreak ?? this.base, null);
  }

  /** Whether an outside line is in the programme, or meant to be. */
  wants(lineId: string): boolean {
    return this.chosen === `line:${lineId}` || this.beforeBreak === `line:${lineId}`;
  }

  /** One tag that comes on an outside line of the station. */
  hearOutside(feed: OutsideFeed, tag: FlvTag): void {
    const source: SourceId = `line:${feed.lineId}`;
    let input = this.outside.get(feed);
    if (!input) {
      this.outside.set(feed, (input = new ProgrammeInput(source)));
      for (const head of feed.heads()) this.programme.feed(input, head);
      this.signalOf(source).begin();
    }
    // An older connection of the same line, which lingers, says nothing of how the line is.
    if (this.inputOf(source) === input) this.signalOf(source).note(tag, this.host.steadyNow());
    if (this.chosen === source && (this.on !== source || this.programme.onAir !== input)) this.look();
    this.programme.feed(input, tag);
  }

  outsideGone(feed: OutsideFeed): void {
    if (!this.outside.delete(feed)) return;
    const source: SourceId = `line:${feed.lineId}`;
    // It may have been replaced already.
    if (this.inputOf(source) === null) this.signalOf(source).gone();
    this.look();
  }

  private signalOf(source: SourceId): SourceSignal {
    let signal = this.signals.get(source);
    if (!signal) this.signals.set(source, (signal = new SourceSignal()));
    return signal;
  }

  /** What a source comes in by at this moment. */
  private inputOf(source: SourceId): ProgrammeInput | null {
    if (source === 'stage') return (this.coming?.ready ? this.coming.stretch : this.stretch)?.input ?? null;
    return [...this.outside].findLast(([feed]) => source === `line:${feed.lineId}`)?.[1] ?? null;
  }

  private hear(from: Stretch, tag: FlvTag): void {
    if (from === this.coming?.stretch) return this.hearComing(this.coming, tag);
    if (from !== this.stretch) return void this.programme.feed(from.input, tag);
    this.signalOf('stage').note(tag, this.host.steadyNow());
    // Looked at before the tag goes in: a key frame may be the first of what comes on.
    if (this.on !== this.chosen || this.programme.onAir !== from.input) this.look();
    this.programme.feed(from.input, tag);
  }

  /** Has the switch decide, and does what it says. */
  private look(): void {
    if (this.ended) return;
    const now = this.host.steadyNow();
    // What ends by it looks again.
    if (this.handOver) this.handOverEvent({ type: 'time' });
    const { source, reason, lookAgainAt } = switched({ on: this.on, chosen: this.chosen, since: this.begunAt, been: this.been, sources: this.signals }, now);
    const news = source !== this.on || reason !== this.reason;
    this.on = source;
    this.reason = reason;
    if (source === 'break card') this.showCard();
    else {
      // Goes on until the other's key frame has come, and is then ended at the next look.
      const input = source && this.inputOf(source);
      if (input) this.programme.select(input);
      if (this.card?.running && this.programme.onAir !== this.card.input) this.card.stop();
      if (source !== null) {
        this.been.add(source);
        this.cardSince = null;
        this.record();
      }
    }
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => this.look(), Math.max(5, Math.min(LOOK_AT_LEAST_EVERY_MS, (lookAgainAt ?? Infinity) - now)));
    if (news) this.host.changed(this.showId);
  }

  private showCard(): void {
    const { card } = this;
    this.cardSince ??= Math.round(this.host.now());
    if (!card) return; // It is being made; the last picture stands until then.
    this.programme.select(card.input);
    card.start((tag) => this.programme.feed(card.input, tag), this.host.steadyNow);
  }

  // ---- what reads it

  get liveFolder(): string {
    return this.packager.folder;
  }

  private relayOf(airingId: string): Relay {
    return new Relay({
      name: airingId.slice(0, 8),
      ffmpeg: this.host.settings.ffmpeg,
      programme: this.programme,
      privateTargets: this.host.settings.privateTargets,
      line: () => this.host.line(this.showId, airingId),
      goesOut: () => this.programme.goesOut,
      wordsOf: (error) => (error instanceof Error ? error.message : String(error)),
      now: () => this.host.now() as never,
      onChange: () => this.host.changed(this.showId),
    });
  }

  async relay(airingId: string, to: 'start' | 'stop' | 'anew', why: string): Promise<void> {
    let relay = this.relays.get(airingId);
    if (!relay) this.relays.set(airingId, (relay = this.relayOf(airingId)));
    if (to === 'start') relay.start();
    else if (to === 'anew') relay.tryAgain(why);
    else await relay.stop();
  }

  private get stageArrives(): boolean {
    return this.stretch !== null && Date.now() - this.stretch.lastPieceAt < STAGE_GONE_MS;
  }

  /** Since when nobody looks after the picture: no stage is there, or what is to come on a line does not. */
  private alone(): number | null {
    if (this.base !== 'stage') return this.reason === 'chosen' ? null : this.cardSince;
    return this.aloneSince === null ? null : Math.round(this.aloneSince);
  }

  state(): CarriedState {
    const { person, tab, connected } = this.lease;
    return {
      showId: this.showId,
      onAirSince: this.onAirSince,
      scene: this.scene,
      ran: ranLately(this.ran),
      lineOnStage: this.lineOnStage,
      ...this.shown,
      source: this.on,
      reason: this.reason,
      chosen: this.chosen,
      backAt: this.backAt,
      cardSince: this.cardSince,
      aloneSince: this.alone(),
      stageArrives: this.stageArrives,
      holder: { personId: person.id, name: person.name, tab },
      connected,
      microphoneOn: this.microphoneOn,
      recordedMs: this.recordedBefore + (this.recording ? this.programme.lengthMs - this.recordedFromMs : 0),
      kept: this.recordingNumber !== null && (this.recording?.trouble ?? null) === null && (this.stretch?.kept ?? true),
      relays: [...this.relays].map(([airingId, { state }]) => ({ airingId, rendition: null, ...state })),
      farEnd: this.farEnd?.arriving ?? null,
    };
  }

  /** What the planning server knows of this show, with what is known better here laid over it. */
  laidOver(planned: AirView): AirView {
    return laidOver(planned, this.state(), this.host.now());
  }

  /** Stops sending and receiving, and finishes what is kept. May be called twice. */
  async close(): Promise<void> {
    if (this.ended) return;
    this.ended = true;
    if (this.timer) clearTimeout(this.timer);
    // What has been received goes out to its end before those who read are told to finish.
    await Promise.all([...this.closing, this.stretch?.close(), this.coming?.stretch.close()]);
    this.card?.stop();
    await Promise.all([
      ...[...this.relays.values()].map((relay) => relay.stop()),
      this.farEnd?.stop(),
      this.packager.stop(),
      this.recording?.close(),
      this.notes?.close(),
    ]);
  }
}
