// The own sound of each guest who agreed: taken in their own browser while viewers hear them, sent here take by take, and laid beside the
// recording once that is made.
import { OWN_SOUND_LATE_MS, OWN_SOUND_PIECE_BYTES, type DoorView, type OwnSoundView } from '@lantern/contract';
import { DAY_MS, inRecording, instant, sayDay, type RecordedPart } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { mkdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Subscription } from 'rxjs';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { DiskSpace } from '../foundation/disk-space';
import { PlainError, storageTrouble } from '../foundation/errors';
import { letGo } from '../foundation/let-go';
import { SETTINGS, type Settings } from '../foundation/settings';
import { TurnByTurn } from '../foundation/together';
import { GuestsService } from '../guests/guests.service';
import { JobsService, NotDone } from '../jobs/jobs.service';
import { append } from '../media/append';
import { recordingFolder, syncPath } from '../media/stretch';
import { RecordingRows } from '../recording/recording-rows';
import { RecordingService } from '../recording/recording.service';
import type { Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { layTakes, levelsOf } from './lay-beside';
import { factsOf, halfName, halvesIn, laidName, namesOf, takeName, takesIn, type Take, type TakeType } from '../media/own-sound-files';

const KIND = 'own sounds';
/** Of one guest: a day at 96 kbit/s, in so many takes. */
const MOST_BYTES = 1_000_000_000;
const MOST_TAKES = 400;
/** Both clocks may differ by so much. */
const CLOCKS_MS = 60_000;
/** What still comes after the end comes in many pieces: it is waited for its end. */
const SETTLES_MS = 20_000;

/** What of a guest is to be laid beside the recording. `laid`: something was, beside an earlier one or before all had come. */
interface ToLay {
  guestId: string;
  takes: Take[];
  laid: boolean;
}

const goneFrom = () => new PlainError(404, 'Nothing of this was ever received.');

@Injectable()
export class OwnSoundsService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('own sounds');
  /** By guest: what is written, and what is removed. */
  private readonly turns = new TurnByTurn();
  private readonly stopped = new AbortController();
  private heard: Subscription | null = null;

  constructor(
    private readonly guests: GuestsService,
    private readonly showRows: ShowRows,
    private readonly recordingRows: RecordingRows,
    private readonly recordings: RecordingService,
    private readonly jobs: JobsService,
    private readonly disk: DiskSpace,
    private readonly clock: Clock,
    private readonly bus: Bus,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    jobs.takeUp({
      kind: KIND,
      atOnce: 1,
      triesMax: 3,
      run: (showId) => this.make(showId),
      gaveUp: (showId) => Promise.resolve(this.changed(showId)),
      words: async (showId) => {
        const show = await this.showRows.byId(showId);
        return show
          ? `Lay the own sounds of guests beside “${show.title}”, ${sayDay(instant(show.startsAt), show.zone)}`
          : 'Own sounds of a show that was removed';
      },
    });
  }

  onApplicationBootstrap(): void {
    this.heard = this.bus.on('recording').subscribe(({ showId }) => letGo('laying own sounds', this.want(showId)));
    // A disk that refuses it keeps no server from starting: it is done at the next start.
    letGo('taking up own sounds', this.takeUp());
  }

  /** A server that was killed may have heard of a recording that was ready, and no more; or have removed half of what somebody took back. */
  private async takeUp(): Promise<void> {
    for (const guest of await this.guests.ownSoundsToRemove()) await this.takeBack(guest);
    await this.jobs.needEach(KIND, `SELECT id, stationId FROM shows WHERE ownSounds = 1 AND state = 'over' AND endedAt > ?`, [this.clock.now() - 7 * DAY_MS]);
  }

  onApplicationShutdown(): void {
    this.heard?.unsubscribe();
    this.stopped.abort();
  }

  /** A guest says whether their own sound may be kept. Taking it back removes what was kept. */
  async say(pass: string, agrees: boolean): Promise<DoorView> {
    const { guest, show } = await this.guests.bearer(pass);
    if (!agrees) {
      await this.guests.noteOwnSound(guest, 'removing');
      await this.takeBack(guest);
    } else {
      if (!show.ownSounds) throw new PlainError(409, 'The host does not want the own sound of guests for this show.');
      if (show.state === 'over') throw new PlainError(409, 'This evening is over: nothing of you is taken any more.');
      await this.guests.noteOwnSound(guest, 'agreed');
    }
    return this.guests.door(pass);
  }

  /** How much of a take is there, in bytes. Throws 404 where nothing of it is. */
  async there(pass: string, beganAt: number): Promise<number> {
    const { guest, show } = await this.guests.bearer(pass);
    const folder = recordingFolder(this.settings, show.id);
    const take = (await takesIn(folder)).find((each) => each.guestId === guest.id && each.beganAt === beganAt);
    const facts = take && (await factsOf(folder, take.name));
    if (!facts) throw goneFrom();
    return facts.size;
  }

  /** Takes what comes next of a take, from `offset` on; returns how much of it is there then. */
  async take(pass: string, beganAt: number, type: TakeType, offset: number, body: AsyncIterable<Buffer>): Promise<number> {
    const { guest } = await this.guests.bearer(pass);
    // Whether they have agreed is looked at in their turn: what they took back must not come in behind that.
    return this.turns.run(guest.id, async () => {
      const { guest: now, show } = await this.guests.bearer(pass);
      if (now.ownSound !== 'agreed') throw new PlainError(403, 'You have not agreed to having your own sound kept.');
      await this.mustTake(show, beganAt);
      const folder = recordingFolder(this.settings, show.id);
      const name = takeName({ guestId: guest.id, beganAt, type });
      const mine = (await takesIn(folder)).filter(({ guestId }) => guestId === guest.id);
      const sizes = await Promise.all(mine.map(async (each) => (await factsOf(folder, each.name))?.size ?? 0));
      const there = sizes[mine.findIndex((each) => each.name === name)] ?? null;
      if (there === null && mine.length >= MOST_TAKES) throw new PlainError(413, `At most ${MOST_TAKES} takes are kept of one guest.`);
      if (sizes.reduce((sum, size) => sum + size, 0) > MOST_BYTES) throw new PlainError(413, 'This is longer than any show may be.');
      if (offset !== (there ?? 0)) throw new PlainError(409, `${there ?? 0} bytes of this are there: what comes next begins with those, not with ${offset}.`);
      await mkdir(folder, { recursive: true });
      const size = await append(join(folder, name), there ?? 0, body, OWN_SOUND_PIECE_BYTES);
      if (show.state === 'over') await this.jobs.add(show.stationId, KIND, show.id, this.clock.now() + SETTLES_MS);
      return size;
    });
  }

  /** What is kept of each guest of a show. */
  async of({ id, ownSounds }: Pick<Show, 'id' | 'ownSounds'>): Promise<{ wanted: boolean; sounds: OwnSoundView[] }> {
    const folder = recordingFolder(this.settings, id);
    const takes = await takesIn(folder);
    const names = await this.guests.ownSoundsOf(id);
    const { state } = await this.recordingRows.of(id);
    const trouble = (await this.jobs.find(KIND, id))?.trouble ?? '';
    // One that was laid beside an earlier recording of the show does not fit this one.
    const toMake = new Set((await this.toMake({ id })).map(({ guestId }) => guestId));
    const sounds: OwnSoundView[] = [];
    for (const guestId of new Set(takes.map((take) => take.guestId))) {
      const known = names.get(guestId);
      if (known && known.said !== 'agreed') continue;
      const sizes = await Promise.all(takes.filter((take) => take.guestId === guestId).map((take) => factsOf(folder, take.name)));
      const laid = state === 'ready' && !toMake.has(guestId) ? await factsOf(folder, laidName(guestId)) : null;
      const stands = laid ? 'ready' : state !== 'ready' ? 'waits' : trouble ? 'failed' : 'making';
      sounds.push({
        ...{ guestId, name: known?.name ?? 'Somebody whose pass was withdrawn', state: stands, words: stands === 'failed' ? trouble : '' },
        receivedBytes: sizes.reduce((sum, facts) => sum + (facts?.size ?? 0), 0),
        ...{ url: laid && `/api/shows/${id}/own-sounds/${guestId}/sound.flac`, bytes: laid?.size ?? 0 },
      });
    }
    return { wanted: ownSounds, sounds };
  }

  /** The file of one guest, where it fits the recording and they have not taken it back. */
  async file(show: Pick<Show, 'id' | 'ownSounds'>, guestId: string): Promise<string> {
    const { sounds } = await this.of(show);
    if (!sounds.some((sound) => sound.guestId === guestId && sound.url !== null)) throw new PlainError(404, 'There is no such sound, or it is not ready yet.');
    return join(recordingFolder(this.settings, show.id), laidName(guestId));
  }

  /** Removes what is kept of one guest, for whoever asks the host for that. */
  async remove(showId: string, guestId: string): Promise<void> {
    if ((await this.guests.ownSoundsOf(showId)).has(guestId)) await this.guests.noteOwnSound({ id: guestId, showId }, 'removing');
    await this.takeBack({ id: guestId, showId });
  }

  private async takeBack({ id, showId }: { id: string; showId: string }): Promise<void> {
    await this.turns.run(id, async () => {
      const folder = recordingFolder(this.settings, showId);
      for (const name of await namesOf(folder, id)) await rm(join(folder, name), { force: true });
      await syncPath(folder, 'r').catch(() => undefined);
      await this.guests.noteOwnSound({ id, showId }, 'refused');
    });
    this.changed(showId);
  }

  /** Throws, in words, where nothing is taken for this show at this moment. */
  private async mustTake(show: Show, beganAt: number): Promise<void> {
    const { onAirSince, endedAt, state } = show;
    if (!show.ownSounds || show.rehearsalOf !== null) throw new PlainError(403, 'The host does not want the own sound of guests for this show.');
    if (onAirSince === null) throw new PlainError(403, 'The show is not on air.');
    const now = this.clock.now();
    if (beganAt < onAirSince - CLOCKS_MS || beganAt > (endedAt ?? now) + CLOCKS_MS) throw new PlainError(422, 'This was not taken while the show was on.');
    if (state === 'over') {
      const late = endedAt === null || now > endedAt + OWN_SOUND_LATE_MS;
      if (late || (await this.recordingRows.of(show.id)).state === 'none') throw new PlainError(410, 'The show is over, and nothing more of it is taken.');
    }
    if (this.disk.room.state === 'none') throw new PlainError(507, 'The server has no room for it. It is tried again by itself.');
  }

  private async want(showId: string): Promise<void> {
    const show = await this.showRows.byId(showId);
    if (!show || show.state !== 'over' || !show.ownSounds || (await this.recordingRows.of(showId)).state !== 'ready') return;
    const toMake = await this.toMake(show);
    // What was given up is told, and not begun anew by being told; what was made of an earlier recording is.
    const givenUp = (await this.jobs.find(KIND, showId))?.givenUpAt ?? null;
    if (toMake.some(({ laid }) => givenUp === null || laid)) await this.jobs.add(show.stationId, KIND, showId);
  }

  /** Guests with takes that are newer than what was made of them, or of an earlier recording. */
  private async toMake({ id }: Pick<Show, 'id'>): Promise<ToLay[]> {
    const folder = recordingFolder(this.settings, id);
    const takes = await takesIn(folder);
    const recording = (await factsOf(folder, 'recording.mp4'))?.mtimeMs ?? 0;
    const all: ToLay[] = [];
    for (const guestId of new Set(takes.map((take) => take.guestId))) {
      const mine = takes.filter((take) => take.guestId === guestId);
      const laid = await factsOf(folder, laidName(guestId));
      const times = await Promise.all(mine.map(async ({ name }) => (await factsOf(folder, name))?.mtimeMs ?? 0));
      if (!laid || laid.mtimeMs < Math.max(recording, ...times)) all.push({ guestId, takes: mine, laid: laid !== null });
    }
    return all;
  }

  private async make(showId: string): Promise<void> {
    const show = await this.showRows.byId(showId);
    const { state, parts, lengthMs } = await this.recordingRows.of(showId);
    // Once there is a recording, that asks again.
    if (!show || show.onAirSince === null || state !== 'ready') return;
    const toMake = await this.toMake(show);
    if (!toMake.length) return;
    // What comes from a guest's browser is a file of a stranger.
    const { filmFfmpeg } = this.settings;
    if (filmFfmpeg === null)
      throw new NotDone(
        'The ffmpeg of this server is too old to be safe with what the browsers of guests send. Install a current one (apt-get install ffmpeg), start the server again, then try this again. All is kept.',
        true,
      );
    const folder = recordingFolder(this.settings, showId);
    const { signal } = this.stopped;
    // What a server that was killed had half made.
    for (const name of await halvesIn(folder)) await rm(join(folder, name), { force: true });
    const unread: string[] = [];
    try {
      const levels = await levelsOf(filmFfmpeg, this.recordings.file(showId), signal);
      const names = await this.guests.ownSoundsOf(showId);
      for (const { guestId, takes } of toMake) {
        const made = await this.makeOne(filmFfmpeg, folder, guestId, takes, levels, lengthMs, parts ?? [{ fromMs: 0, atMs: 0, lengthMs }], show.onAirSince);
        if (made) this.changed(showId);
        else unread.push(names.get(guestId)?.name ?? 'a guest');
      }
    } catch (error) {
      const storage = storageTrouble(error);
      if (!storage && !signal.aborted) this.log.error(error instanceof Error ? error.message : String(error));
      throw new NotDone(storage ? storage.words : 'The own sounds of guests could not be laid beside the recording.');
    }
    if (unread.length) throw new NotDone(`Nothing can be read in what the browser of ${unread.join(' and ')} sent. It is kept.`, true);
  }

  /** False: nothing in it can be read. */
  private async makeOne(
    ffmpeg: string,
    folder: string,
    guestId: string,
    takes: readonly Take[],
    levels: Float32Array,
    lengthMs: number,
    parts: readonly RecordedPart[],
    onAirSince: number,
  ): Promise<boolean> {
    const fresh = join(folder, halfName(guestId, randomUUID()));
    const toLay = takes.map(({ name, type, beganAt }) => ({
      ...{ path: join(folder, name), type },
      byTheClocks: (atMs: number) => inRecording(parts, beganAt + atMs - onAirSince),
    }));
    try {
      const { unread } = await layTakes(ffmpeg, toLay, levels, lengthMs, fresh, this.stopped.signal);
      if (unread === takes.length) return false;
      await syncPath(fresh);
      await this.turns.run(guestId, async () => {
        // Whoever took it back meanwhile has nothing here any more.
        const still = (await takesIn(folder)).some((take) => take.guestId === guestId);
        if (!still) return;
        await rename(fresh, join(folder, laidName(guestId)));
        await syncPath(folder, 'r');
      });
      return true;
    } finally {
      await rm(fresh, { force: true });
    }
  }

  private changed(showId: string): void {
    this.bus.tell({ kind: 'recording', showId });
  }
}
