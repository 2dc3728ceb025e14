// What recordings take on the disk, and taking one away to make room.
import type { RecordingsOnDisk } from '@lantern/contract';
import { Inject, Injectable } from '@nestjs/common';
import { readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { Bus } from '../foundation/bus';
import { breathe } from '../foundation/breathe';
import { DiskSpace } from '../foundation/disk-space';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { takesIn } from '../media/own-sound-files';
import { runToFile } from '../media/run-to-end';
import { recordingFolder } from '../media/stretch';
import { RecordingRows } from '../recording/recording-rows';
import type { Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { Cut } from './cut.entities';

const LITTLE = 0.8;
const MOST_SHOWN = 200;

@Injectable()
export class RecordingsOnDiskService {
  constructor(
    private readonly database: DataSource,
    private readonly shows: ShowRows,
    private readonly recordings: RecordingRows,
    private readonly disk: DiskSpace,
    private readonly bus: Bus,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async of(stationId: string): Promise<RecordingsOnDisk> {
    const names = await readdir(this.settings.recordingsDir).catch(() => []);
    const recordings: RecordingsOnDisk['recordings'] = [];
    for (const showId of names) {
      const bytes = await bytesIn(join(this.settings.recordingsDir, showId));
      const show = bytes > 0 ? await this.shows.byId(showId) : null;
      await breathe();
      if (show?.stationId !== stationId) continue;
      const cuts = await this.database.getRepository(Cut).findBy({ showId });
      const guests = new Set((await takesIn(join(this.settings.recordingsDir, showId))).map(({ guestId }) => guestId));
      const shown = show.houseReplay && show.state === 'over';
      recordings.push({ showId, title: show.title, startsAt: show.startsAt, zone: show.zone, bytes, cuts: cuts.length, ownSounds: guests.size, shown });
    }
    recordings.sort((a, b) => b.bytes - a.bytes);
    const usedBytes = recordings.reduce((sum, { bytes }) => sum + bytes, 0);
    const { freeBytes } = await this.disk.look();
    const quotaBytes = this.settings.recordingsQuotaBytes ?? (freeBytes === null ? null : usedBytes + freeBytes);
    const share = quotaBytes === null ? 0 : usedBytes / quotaBytes;
    return { quotaBytes, usedBytes, state: share >= 1 ? 'none' : share >= LITTLE ? 'little' : 'enough', recordings: recordings.slice(0, MOST_SHOWN) };
  }

  /** Takes the recording of a show away for good, with its cuts; figures, chapters, captions and notes stay. */
  async remove({ id, state }: Show): Promise<void> {
    if (state === 'onAir' || state === 'interrupted') throw new PlainError(409, 'This show is on air. Wrap it up first.');
    if ((await this.recordings.of(id)).state === 'making') throw new PlainError(409, 'The recording is being put together. Wait until it is ready.');
    const cuts = this.database.getRepository(Cut);
    if (await cuts.existsBy({ showId: id, state: 'making' })) throw new PlainError(409, 'A cut of it is being made. Wait until it is ready, or stop it.');
    // First what says that it is there: a server that is killed in between leaves bytes, and no page that leads nowhere.
    await cuts.delete({ showId: id });
    await this.recordings.become(id, { state: 'none', lengthMs: 0, parts: null });
    await rm(recordingFolder(this.settings, id), { recursive: true, force: true });
    this.bus.tell({ kind: 'recording', showId: id });
  }

  /** Its sound alone, as a file that is made when somebody asks and kept beside it. */
  async sound({ id }: Show): Promise<string> {
    const folder = recordingFolder(this.settings, id);
    const [recording, sound] = [join(folder, 'recording.mp4'), join(folder, 'recording.m4a')];
    if ((await this.recordings.of(id)).state !== 'ready') throw new PlainError(404, 'There is no recording of this show.');
    const [from, made] = [await stat(recording), await stat(sound).catch(() => null)];
    if (made && made.mtimeMs >= from.mtimeMs) return sound;
    const fresh = `${sound}.${process.hrtime.bigint()}`;
    try {
      await runToFile(
        this.settings.ffmpeg,
        ['-y', '-i', recording, '-vn', '-c:a', 'copy', '-movflags', '+faststart', '-f', 'ipod', fresh],
        () => undefined,
        new AbortController().signal,
      );
      await rename(fresh, sound);
    } catch {
      throw new PlainError(409, 'There is no sound in this recording that could be kept by itself.');
    } finally {
      await rm(fresh, { force: true });
    }
    return sound;
  }
}

async function bytesIn(folder: string): Promise<number> {
  const names = await readdir(folder).catch(() => []);
  const sizes = await Promise.all(
    names.map((name) =>
      stat(join(folder, name)).then(
        ({ size }) => size,
        () => 0,
      ),
    ),
  );
  return sizes.reduce((sum, size) => sum + size, 0);
}
