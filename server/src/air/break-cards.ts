// Break cards: what viewers see while nobody sends. Drawn from the show's look and encoded into a few seconds that go round, before
// they are needed: nothing is encoded while a show is on the card.
import { DAY_MS, instant, sayBreak } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { createHash, randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { readdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Subscription } from 'rxjs';
import { ComposerService } from '../artwork/composer.service';
import { ClipsService } from '../clips/clips.service';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { letGo } from '../foundation/let-go';
import { RegularWork } from '../foundation/regular-work';
import { SETTINGS, type Settings } from '../foundation/settings';
import { syncPath } from '../media/stretch';
import { MediaProcess } from '../media/media-process';
import type { Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';

/** Cards are made once a show is placed and begins within so long; for those that begin later a day before. */
const MADE_BEFORE_MS = DAY_MS;
const SEEK_EVERY_MS = 10 * 60_000;
/** Somebody may still be typing. */
const SETTLES_MS = 2_000;
const SIZE = { width: 1_280, height: 720 };
/** A whole number of pictures at 30 a second and of AAC frames at 48 kHz. */
const ROUND_SECONDS = 3.2;
const MAY_TAKE_MS = 60_000;
const INCOMING = '.card-';
/** Part of what a card is made of: raised when drawing or encoding changes. */
const MADE_BY = 1;

/** Where a card lies, and the music that is heard over it; null: it is silent. */
export interface BreakCard {
  cardPath: string;
  musicPath: string | null;
}

@Injectable()
export class BreakCards implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('break cards');
  private readonly work = new RegularWork('break cards', SEEK_EVERY_MS, () => this.seek());
  private readonly soon = new Map<string, NodeJS.Timeout>();
  /** By show: two at once would write the same file. */
  private readonly making = new Map<string, Promise<BreakCard | null>>();
  private heard: Subscription | null = null;
  private readonly encoders = new Set<MediaProcess>();
  private stopped = false;

  constructor(
    private readonly shows: ShowRows,
    private readonly composer: ComposerService,
    private readonly clips: ClipsService,
    private readonly bus: Bus,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const left = (await readdir(this.settings.picturesDir)).filter((name) => name.includes(INCOMING));
    await Promise.all(left.map((name) => rm(join(this.settings.picturesDir, name), { force: true })));
    this.work.start();
    this.heard = this.bus.on('show').subscribe(({ showId }) => {
      clearTimeout(this.soon.get(showId));
      const make = () => {
        this.soon.delete(showId);
        letGo('a break card', this.bringUpToDate(showId));
      };
      this.soon.set(showId, setTimeout(make, SETTLES_MS).unref());
    });
  }

  async onApplicationShutdown(): Promise<void> {
    this.stopped = true;
    this.work.stop();
    this.heard?.unsubscribe();
    for (const timer of this.soon.values()) clearTimeout(timer);
    for (const encoder of this.encoders) encoder.kill();
    await Promise.allSettled(this.making.values());
  }

  /** The newest card of a show that lies there, whatever it says; null: none has been made. */
  async there(show: Pick<Show, 'id' | 'stationId' | 'breakCard' | 'breakMusicId'>, backAt: number | null): Promise<BreakCard | null> {
    const path = show.breakCard && this.path(show.id, show.breakCard);
    return backAt === null && path && existsSync(path) ? { cardPath: path, musicPath: await this.clips.toSend(show.stationId, show.breakMusicId) } : null;
  }

  /** Where the card of a show as it is now lies; makes it if it does not yet. Null: it could not be made, which is logged. */
  make(showId: string, backAt: number | null): Promise<BreakCard | null> {
    const before = this.making.get(showId) ?? Promise.resolve(null);
    const made = before.then(() => this.makeNow(showId, backAt));
    this.making.set(showId, made);
    const forget = () => {
      if (this.making.get(showId) === made) this.making.delete(showId);
    };
    made.then(forget, forget);
    return made;
  }

  private async makeNow(showId: string, backAt: number | null): Promise<BreakCard | null> {
    const show = this.stopped ? null : await this.shows.byId(showId);
    if (!show) return null;
    const words = sayBreak(backAt === null ? null : instant(backAt), show.zone);
    const incoming = join(this.settings.picturesDir, `${showId}${INCOMING}${randomUUID()}`);
    try {
      const { png, madeOf } = await this.composer.card(show, { title: words, line: show.title }, SIZE.width);
      const version = createHash('sha256').update(`${MADE_BY} ${words} ${madeOf}`).digest('base64url').slice(0, 24);
      const path = this.path(showId, version);
      if (!existsSync(path)) {
        await writeFile(`${incoming}.png`, await png(), { mode: 0o600 });
        await this.encode(`${incoming}.png`, `${incoming}.flv`);
        await syncPath(`${incoming}.flv`);
        await rename(`${incoming}.flv`, path);
        // Gone while its card was drawn, with all that lay there of it: nobody would take this away again.
        if (!(await this.shows.byId(showId))) {
          await this.clear(showId, []);
          return null;
        }
      }
      if (backAt === null && show.breakCard !== version) await this.shows.setBreakCard(showId, version);
      await this.clear(showId, [version, backAt === null ? version : (show.breakCard ?? version)]);
      return { cardPath: path, musicPath: await this.clips.toSend(show.stationId, show.breakMusicId) };
    } catch (error) {
      // Without a card the last picture stands, which is no reason to keep anybody from going on air.
      if (!this.stopped) this.log.error(error instanceof Error ? error.message : String(error));
      return null;
    } finally {
      await Promise.all(['png', 'flv'].map((end) => rm(`${incoming}.${end}`, { force: true })));
    }
  }

  private async encode(picture: string, target: string): Promise<void> {
    const still = ['-y', '-loop', '1', '-framerate', '30', '-i', picture, '-f', 'lavfi', '-i', 'anullsrc=r=48000:cl=stereo', '-t', String(ROUND_SECONDS)];
    const video = ['-c:v', 'libx264', '-preset', 'veryfast', '-tune', 'stillimage', '-profile:v', 'baseline', '-pix_fmt', 'yuv420p', '-g', '30', '-crf', '20'];
    const sound = ['-c:a', 'aac', '-b:a', '128k', '-ar', '48000', '-ac', '2'];
    let lastWords = '';
    const encoder = new MediaProcess({
      name: 'break card',
      ffmpeg: this.settings.ffmpeg,
      args: [...still, ...video, '-keyint_min', '30', '-sc_threshold', '0', '-threads', '1', ...sound, '-f', 'flv', target],
      onGone: (words) => (lastWords = words),
    });
    this.encoders.add(encoder);
    const well = await encoder.end(MAY_TAKE_MS);
    this.encoders.delete(encoder);
    if (!well) throw new Error(`it could not be encoded: ${lastWords}`);
  }

  /** Cards with times of breaks that are over, and of what the show was before. */
  private async clear(showId: string, kept: readonly string[]): Promise<void> {
    const names = (await readdir(this.settings.picturesDir)).filter((name) => name.startsWith(`${showId}.break-`));
    const stays = new Set(kept.map((version) => `${showId}.break-${version}.flv`));
    await Promise.all(names.filter((name) => !stays.has(name)).map((name) => rm(join(this.settings.picturesDir, name), { force: true })));
  }

  private async bringUpToDate(showId: string): Promise<void> {
    const show = await this.shows.byId(showId);
    if (show?.state === 'placed' && this.isNear(show)) await this.make(showId, null);
  }

  private async seek(): Promise<void> {
    for (const show of await this.shows.allInState('placed')) if (this.isNear(show)) await this.make(show.id, null);
  }

  private isNear({ startsAt, pictureFrom }: Show): boolean {
    return pictureFrom !== 'encoder' && startsAt - this.clock.now() < MADE_BEFORE_MS;
  }

  private path(showId: string, version: string): string {
    return join(this.settings.picturesDir, `${showId}.break-${version}.flv`);
  }
}
