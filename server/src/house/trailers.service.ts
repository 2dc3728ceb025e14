// A trailer for those who wait: taken as whatever film the host has, kept as one that every browser plays.
import { TRAILER_MAX_BYTES, TRAILER_MAX_MS } from '@lantern/contract';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import type { Request } from 'express';
import { randomBytes } from 'node:crypto';
import { readdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Bus } from '../foundation/bus';
import { letGo } from '../foundation/let-go';
import { SETTINGS, type Settings } from '../foundation/settings';
import { ForeignFilms, type RunFilm, type Taking } from '../foreign/foreign-films';
import type { Show, Trailer } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';

const TAKEN: Taking = { what: 'film', mostBytes: TRAILER_MAX_BYTES, readers: ['mov', 'matroska'], kinds: 'Choose an MP4, MOV, WebM or MKV file.' };
const HEIGHT = 720;
/** The end of the name of a film that is still as it came. */
const INCOMING = '.incoming';

@Injectable()
export class TrailersService implements OnApplicationBootstrap {
  private readonly log = new Logger('trailers');

  constructor(
    private readonly showRows: ShowRows,
    private readonly films: ForeignFilms,
    private readonly bus: Bus,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const left = (await readdir(this.settings.picturesDir)).filter((file) => file.endsWith(INCOMING));
    await Promise.all(left.map((file) => rm(join(this.settings.picturesDir, file), { force: true })));
    for (const { id, trailer } of await this.showRows.withTrailer()) {
      if (trailer?.state === 'making')
        await this.showRows.setTrailer(id, { ...trailer, state: 'failed', words: 'The server stopped while it was made. Choose the film again.' });
    }
  }

  path({ id }: { id: string }): string {
    return join(this.settings.picturesDir, `${id}.trailer.mp4`);
  }

  /** Takes a film as it comes in. Answers once it is here; making it ready goes on afterwards. Throws what is wrong with it. */
  async take(show: Show, request: Request): Promise<void> {
    const version = randomBytes(6).toString('base64url');
    const film = await this.films.take(request, `${this.path(show)}.${version}${INCOMING}`, TAKEN);
    const noted = this.note(show.id, { version, state: 'making', lengthMs: 0, words: '' });
    letGo(
      'making a trailer ready',
      film.inTurn(async (run) => {
        await noted;
        await this.make(show, run, version, show.trailer);
      }),
    );
    await noted;
  }

  async forget(show: Show): Promise<void> {
    await this.note(show.id, null);
    await rm(this.path(show), { force: true });
  }

  private async make(show: Show, run: RunFilm, version: string, before: Trailer | null): Promise<void> {
    const made = `${this.path(show)}.new.mp4`;
    // One thread leaves room for a show.
    const { lengthMs, tooMuch, complaint } = await run([
      ...['-t', String(TRAILER_MAX_MS / 1000), '-map', '0:v:0', '-map', '0:a:0?'],
      ...['-vf', `scale=-2:'min(${HEIGHT},ih)',format=yuv420p`, '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '23', '-threads', '1', '-r', '30'],
      ...['-c:a', 'aac', '-b:a', '128k', '-ac', '2', '-movflags', '+faststart', '-progress', 'pipe:1', '-f', 'mp4', made],
    ]);
    const current = await this.showRows.byId(show.id);
    // Another film was chosen meanwhile, or none after all.
    if (current?.trailer?.version !== version) return rm(made, { force: true });
    if (lengthMs === 0 || tooMuch) {
      this.log.warn(complaint);
      await rm(made, { force: true });
      const words = tooMuch || `There is no picture in that film that can be read. ${TAKEN.kinds}`;
      // What was there before stays.
      return this.note(show.id, before?.state === 'ready' ? { ...before, words } : { version, state: 'failed', lengthMs: 0, words });
    }
    await rename(made, this.path(show));
    await this.note(show.id, { version, state: 'ready', lengthMs, words: '' });
  }

  private async note(showId: string, trailer: Trailer | null): Promise<void> {
    await this.showRows.setTrailer(showId, trailer);
    this.bus.tell({ kind: 'show', showId });
  }
}
