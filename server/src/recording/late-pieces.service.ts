// What a stage made while its line was gone: its browser kept it and sends it later, piece upon piece, to the end of the very file
// that it is missing from. Each request says where it begins (Upload-Offset, as in “Resumable Uploads for HTTP”, an IETF draft), so that
// one that is sent twice, or cut off in the middle, does no harm.
import { LATE_CHUNK_BYTES } from '@lantern/contract';
import { Inject, Injectable } from '@nestjs/common';
import { open, readdir, rm, stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { append } from '../media/append';
import { recordingFolder, stretchFiles, stretchNumbers, syncPath } from '../media/stretch';
import { ShowRows } from '../shows/show-rows';
import { lastTimeOf, RecordingService } from './recording.service';

/** A stretch that has ended may still be closed by whoever received it. */
const CLOSED_AFTER_MS = 15_000;
/** No stretch is longer: twelve hours at 6 Mbit/s. */
const LONGEST_BYTES = 32_000_000_000;

@Injectable()
export class LatePiecesService {
  /** Files that somebody is writing to: one at a time. */
  private readonly written = new Set<string>();

  constructor(
    private readonly showRows: ShowRows,
    private readonly recordings: RecordingService,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  /** How much of a stretch is there, in bytes. Throws 404 where there is no such stretch, 409 while it is being received. */
  async there(showId: string, stretch: number): Promise<number> {
    return (await this.ended(showId, stretch)).size;
  }

  /** Takes what comes next of a stretch, from `offset` on; returns how much is there then. `complete`: nothing more will come. */
  async take(showId: string, stretch: number, offset: number, body: AsyncIterable<Buffer>, complete: boolean): Promise<number> {
    const { files, size } = await this.ended(showId, stretch);
    if (this.written.has(files.pieces)) throw new PlainError(409, 'Somebody else is sending this part. It is tried again by itself.');
    this.written.add(files.pieces);
    try {
      if (offset !== size) throw new PlainError(409, `${size} bytes of this part are there: what comes next begins with those, not with ${offset}.`);
      if (size > LONGEST_BYTES) throw new PlainError(413, 'This part is longer than any show may be.');
      await this.noteLate(files);
      const now = await append(files.pieces, size, body, LATE_CHUNK_BYTES);
      if (complete) await this.recordings.cameWhole(showId);
      return now;
    } finally {
      this.written.delete(files.pieces);
    }
  }

  private async ended(showId: string, stretch: number): Promise<{ files: ReturnType<typeof stretchFiles>; size: number }> {
    const folder = recordingFolder(this.settings, showId);
    const numbers = stretchNumbers(await readdir(folder).catch(() => []));
    const show = await this.showRows.byId(showId);
    if (!show || !numbers.includes(stretch)) throw new PlainError(404, 'Nothing of this part was ever received.');
    const files = stretchFiles(folder, stretch);
    const { size, mtimeMs } = await stat(files.pieces);
    const isNewest = stretch === Math.max(...numbers);
    const isClosed = (await exists(files.done)) || (await exists(files.late)) || Date.now() - mtimeMs > CLOSED_AFTER_MS;
    if ((isNewest && show.state !== 'over') || !isClosed) throw new PlainError(409, 'This part is still being received. It is tried again by itself.');
    return { files, size };
  }

  /** Notes how much of it viewers could see, before it grows, and that its FLV is to be made anew. */
  private async noteLate(files: ReturnType<typeof stretchFiles>): Promise<void> {
    if (!(await exists(files.late))) {
      const inTime = await lastTimeOf(files.flv);
      const file = await open(files.late, 'w');
      try {
        await file.writeFile(String(inTime));
        await file.sync();
      } finally {
        await file.close();
      }
    }
    await rm(files.done, { force: true });
    await syncPath(dirname(files.done), 'r');
  }
}

const exists = (path: string): Promise<boolean> =>
  stat(path).then(
    () => true,
    () => false,
  );
