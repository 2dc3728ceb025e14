// One show on air: the stretches that come from its stage, its programme, a relay and a watch on the
// network for every airing, and what all lamps show. Lives from going on air to wrapping up.
import type { AiringOnAirView, AirView } from '@lantern/contract';
import { backoffMs, lampOf, sayLampReason, shouldStartThere, type AiringOnAir, type Instant, type Lamp, type SceneId, sayRoom } from '@lantern/core';
import { Logger } from '@nestjs/common';
import { mkdirSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Channel } from '../channels/channel.entities';
import { placeName, wordsOfNetworkError, type ChannelAccessService, ourWords } from '../channels/access.service';
import { identityOf } from '../channels/channels.service';
import { AccessEnded, NetworkRefusal, NetworkSilence } from '../channels/connectors/connector';
import type { RuleBookService } from '../channels/rule-book.service';
import type { Clock } from '../foundation/clock';
import { letGo } from '../foundation/let-go';
import type { Settings } from '../foundation/settings';
import type { LinesService } from '../lines/lines.service';
import type { Person } from '../people/people.entities';
import type { Airing, Show } from '../shows/show.entities';
import { HousePackager } from '../media/house-packager';
import { Programme } from '../media/programme';
import { Relay } from '../media/relay';
import { recordingFolder, Stretch } from '../media/stretch';

const ASK_EVERY_MS = 500;
const SAMPLE_EVERY_MS = 5_000;
/** No piece for so long, and the stage counts as gone. */
const STAGE_GONE_MS = 2_000;
/** The network sees nothing for so long although we send: the connection is made anew. */
const UNSEEN_IS_BROKEN_MS = 6_000;

interface AiringWatch {
  airing: Airing;
  channel: Channel;
  relay: Relay;
  facts: AiringOnAir;
  unseenSince: Instant | null;
  lastSample: { lamp: Lamp; at: Instant } | null;
  timer: NodeJS.Timeout | null;
  useNoted: boolean;
  /** Whether it has been public. */
  seen: boolean;
}

export interface AirSessionHost {
  settings: Settings;
  clock: Clock;
  access: ChannelAccessService;
  lines: LinesService;
  ruleBook: RuleBookService;
  /** Makes the event of an airing on a channel that takes nothing in advance. */
  placeNow(airing: Airing, channel: Channel): Promise<void>;
  /** Keeps a sample for the report. */
  sample(airingId: string, at: Instant, lamp: Lamp, watching: number | null): void;
  changed(): void;
  houseWatching(): number;
  /** So much of the show has been received by now, in ms: kept, so that it is known after a kill. */
  recorded(lengthMs: number): void;
  /** What comes from the stage is taken in no longer: it has to begin a new stretch. */
  stretchBroke(): void;
  roomWords(): string;
}

/** How a stage is found: as it was left, where the server was stopped in between. */
export interface Found {
  programme: SceneId;
  recordedMs: number;
}

export class AirSession {
  private readonly log: Logger;
  readonly programme = new Programme();
  private readonly packager: HousePackager;
  private readonly watches: AiringWatch[];
  private readonly folder: string;
  private readonly recordedBefore: number;
  private scene: SceneId;
  private readonly noting: NodeJS.Timeout;
  private stretch: Stretch | null = null;
  /** Of earlier stretches, whose files are being finished. */
  private readonly closing = new Set<Promise<void>>();
  private nextStretch: number;
  private ended = false;

  constructor(
    readonly show: Show,
    /** Who went on air: whose stage is meant to send until somebody else takes over. */
    readonly begunBy: Pick<Person, 'id' | 'name'>,
    found: Found,
    airings: { airing: Airing; channel: Channel }[],
    private readonly host: AirSessionHost,
  ) {
    this.log = new Logger(`show ${show.id}`);
    this.scene = found.programme;
    this.recordedBefore = found.recordedMs;
    this.noting = setInterval(() => {
      if (this.programme.lengthMs > 0) host.recorded(this.recordedMs);
    }, SAMPLE_EVERY_MS);
    this.folder = recordingFolder(host.settings, show.id);
    this.nextStretch = this.firstStretch();
    this.packager = new HousePackager(host.settings.ffmpeg, join(host.settings.liveDir, show.slug), this.programme);
    this.watches = airings.map(({ airing, channel }) => this.watchOf(airing, channel));
    for (const watch of this.watches) {
      if (watch.facts.placed) this.begin(watch);
      else if (watch.facts.beingPlaced) letGo('placing on air', this.place(watch, 1));
    }
  }

  get liveFolder(): string {
    return this.packager.folder;
  }

  /** The number after those that are there. A folder that cannot be made or read costs the recording, and never the picture. */
  private firstStretch(): number {
    try {
      mkdirSync(this.folder, { recursive: true });
      return 1 + Math.max(0, ...readdirSync(this.folder).map((name) => Number(/^stretch-(\d+)\.webm$/.exec(name)?.[1] ?? 0)));
    } catch (error) {
      this.log.error(`nothing can be recorded: ${error instanceof Error ? error.message : String(error)}`);
      return 1;
    }
  }

  /** Begins a new stretch from a stage; whatever came before is closed. */
  beginStretch(): Stretch {
    const before = this.stretch;
    const broken = (which: Stretch) => this.stretch === which && this.host.stretchBroke();
    this.stretch = new Stretch(this.nextStretch++, this.folder, this.host.settings.ffmpeg, (from, tag) => this.programme.feed(from, tag), broken);
    if (before) {
      const closing = before.close().finally(() => this.closing.delete(closing));
      this.closing.add(closing);
      letGo('finishing a stretch', closing);
    }
    return this.stretch;
  }

  /** The stretch that is being received, if it has this number and something comes of it. */
  stretchNumbered(number: number): Stretch | null {
    return this.stretch?.number === number && !this.stretch.broken ? this.stretch : null;
  }

  private get stageArrives(): boolean {
    return this.stretch !== null && Date.now() - this.stretch.lastPieceAt < STAGE_GONE_MS;
  }

  view(): AirView {
    const now = this.host.clock.now();
    return {
      showState: this.show.state,
      onAirSince: this.show.onAirSince,
      programme: this.scene,
      stageArrives: this.stageArrives,
      holder: null,
      holdsIt: false,
      houseWatching: this.host.houseWatching(),
      roomWords: this.stretch && !this.stretch.kept ? sayRoom({ code: 'broken off' }) : this.host.roomWords(),
      recordedMs: this.recordedMs,
      airings: this.watches.map((watch) => this.airingView(watch, now)),
      now,
    };
  }

  /** How much of the show has been received, before and after whatever stopped the server. */
  private get recordedMs(): number {
    return this.recordedBefore + this.programme.lengthMs;
  }

  take(scene: SceneId): void {
    this.scene = scene;
    this.host.changed();
  }

  /** Whether anybody out there can have seen anything of it: it has been public somewhere, or has gone out where nobody tells. */
  get hasBeenSeen(): boolean {
    return this.watches.some(({ seen }) => seen);
  }

  /** Stops sending and receiving. The networks are told elsewhere. */
  async close(): Promise<void> {
    if (this.ended) return;
    this.ended = true;
    clearInterval(this.noting);
    for (const watch of this.watches) if (watch.timer) clearTimeout(watch.timer);
    await Promise.all([...this.closing, this.stretch?.close()]);
    await Promise.all([...this.watches.map(({ relay }) => relay.stop()), this.packager.stop()]);
  }

  private begin(watch: AiringWatch): void {
    if (!watch.facts.fromOutside) watch.relay.start();
    letGo('asking a network', this.ask(watch));
  }

  /** Makes the event there, now that the show is on air; a network that does not answer is asked again. */
  private async place(watch: AiringWatch, tries: number): Promise<void> {
    const { access, clock } = this.host;
    try {
      await this.host.placeNow(watch.airing, watch.channel);
      watch.facts = { ...watch.facts, beingPlaced: false, placed: true, startRefused: null, silentSince: null };
      if (!this.ended) this.begin(watch);
    } catch (error) {
      watch.facts.startRefused = wordsOfNetworkError(error, watch.channel, access.connectorOf(watch.channel));
      watch.facts.silentSince ??= clock.now();
      if (error instanceof NetworkSilence && !this.ended) {
        watch.timer = setTimeout(() => letGo('placing on air', this.place(watch, tries + 1)), backoffMs(tries, Math.random()));
      }
    }
    this.sample(watch);
    this.host.changed();
  }

  private watchOf(airing: Airing, channel: Channel): AiringWatch {
    const { access, lines, ruleBook, clock, settings } = this.host;
    const relay = new Relay({
      name: airing.id.slice(0, 8),
      ffmpeg: settings.ffmpeg,
      programme: this.programme,
      privateTargets: settings.privateTargets,
      line: () => lines.ingest(airing, channel),
      onSending: () => this.noteUse(airing),
      wordsOf: (error) => wordsOfNetworkError(error, channel, access.connectorOf(channel)),
      now: () => clock.now(),
      onChange: () => this.host.changed(),
    });
    const facts: AiringOnAir = {
      placed: airing.placing === 'placed',
      // What it is not known of whether it stands is asked for again, as what is made only now.
      beingPlaced: airing.placing === 'awaits air' || airing.placing === 'unsure',
      fromOutside: this.show.pictureFrom === 'encoder',
      startsAt: this.show.startsAt as Instant,
      rules: ruleBook.rules(channel),
      relay: relay.state,
      report: null,
      silentSince: null,
      startRefused: null,
      accessEnded: false,
    };
    return { airing, channel, relay, facts, unseenSince: null, lastSample: null, timer: null, useNoted: false, seen: false };
  }

  private airingView(watch: AiringWatch, now: Instant): AiringOnAirView {
    watch.facts.relay = watch.relay.state;
    const { lamp, reason } = lampOf(watch.facts, now);
    return {
      airingId: watch.airing.id,
      channel: identityOf(watch.channel),
      channelName: watch.channel.name,
      network: placeName(watch.channel),
      lamp,
      words: sayLampReason(reason, placeName(watch.channel), this.show.zone),
      watching: watch.facts.report?.facts.watching ?? null,
      watchUrl: watch.airing.watchUrl ?? watch.channel.watchUrl,
    };
  }

  /** Asks one network how its event stands, acts on the answer, and asks again. */
  private async ask(watch: AiringWatch): Promise<void> {
    const { clock } = this.host;
    const connector = this.host.access.connectorOf(watch.channel);
    let askAgainMs = ASK_EVERY_MS;
    if (connector) {
      const access = this.host.access.of(watch.channel);
      try {
        const facts = await connector.report(access, watch.airing.remoteId!);
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
        this.noteTrouble(watch, error);
      }
    }
    if (this.ended) return;
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
    const sending = watch.relay.state.state === 'sending' && this.stageArrives;
    if (seen || !sending) {
      watch.unseenSince = null;
      return;
    }
    watch.unseenSince ??= now;
    if (now - watch.unseenSince < UNSEEN_IS_BROKEN_MS) return;
    watch.unseenSince = null;
    watch.relay.tryAgain('the picture is sent but does not arrive');
  }

  private sample(watch: AiringWatch): void {
    const now = this.host.clock.now();
    const { lamp } = lampOf({ ...watch.facts, relay: watch.relay.state }, now);
    watch.seen ||= lamp === 'lit' || watch.facts.report?.facts.event === 'public';
    const last = watch.lastSample;
    if (last && last.lamp === lamp && now - last.at < SAMPLE_EVERY_MS) return;
    watch.lastSample = { lamp, at: now };
    this.host.sample(watch.airing.id, now, lamp, watch.facts.report?.facts.watching ?? null);
  }
}
