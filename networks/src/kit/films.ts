// Films that are put in the place of recordings: taken in pieces, from where they broke off (“Resumable Uploads for HTTP”, IETF draft).
import { Inject, Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { createReadStream, type ReadStream } from 'node:fs';
import { mkdir, open, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { EventRow, FilmRow } from './entities';
import { Refusal } from './refusal';
import { SETTINGS, type Settings } from './settings';

const LARGEST_BYTES = 8_000_000_000;
/** What an event shows once it is over. */
export type Shows = 'own' | 'film' | 'nothing';

@Injectable()
export class Films {
  constructor(
    private readonly database: DataSource,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  private get rows() {
    return this.database.getRepository(FilmRow);
  }

  private path(id: string): string {
    return join(this.settings.mediaDir, 'films', `${id}.mp4`);
  }

  /** A film of so many bytes; asked for again with the same `once`, the same one. */
  async begin(event: EventRow, bytes: number, once: string | null): Promise<FilmRow> {
    if (event.state !== 'over') throw new Refusal(409, 'not-over', 'A film takes the place of a recording once the broadcast is over.');
    if (bytes > LARGEST_BYTES) throw new Refusal(413, 'film-too-heavy', 'Films may weigh 8 GB at most.');
    const known = once === null ? null : await this.rows.findOneBy({ eventId: event.id, idempotencyKey: once });
    if (known) return known;
    const film = {
      id: randomUUID(),
      eventId: event.id,
      idempotencyKey: once,
      bytes,
      state: 'receiving' as const,
      words: '',
      shown: false,
      language: '',
      captions: '',
    };
    await mkdir(join(this.settings.mediaDir, 'films'), { recursive: true });
    await this.rows.insert(film);
    return film;
  }

  async find(id: string): Promise<FilmRow> {
    const film = await this.rows.findOneBy({ id });
    if (!film) throw new Refusal(404, 'unknown-film', 'There is no such film.');
    return film;
  }

  async received({ id, bytes, state }: FilmRow): Promise<number> {
    if (state === 'ready') return bytes;
    return (await stat(this.path(id)).catch(() => null))?.size ?? 0;
  }

  /** Takes the next piece, which begins at `offset`. Nothing of it is taken where another was to come. */
  async take(film: FilmRow, offset: number, piece: Buffer): Promise<FilmRow> {
    if (film.state !== 'receiving') return film;
    const there = await this.received(film);
    if (offset !== there) throw new Refusal(409, 'offset', `${there} bytes are here: go on from there.`, { 'upload-offset': String(there) });
    if (there + piece.length > film.bytes) throw new Refusal(422, 'too-much', 'This is more than was announced.');
    const file = await open(this.path(film.id), 'a');
    try {
      await file.appendFile(piece);
    } finally {
      await file.close();
    }
    return there + piece.length < film.bytes ? film : this.whole(film);
  }

  private async whole(film: FilmRow): Promise<FilmRow> {
    const head = Buffer.alloc(12);
    const file = await open(this.path(film.id));
    await file.read(head, 0, 12, 0).finally(() => file.close());
    // An ISO base media file begins with its type (ISO/IEC 14496-12, 4.3).
    const isFilm = head.toString('latin1', 4, 8) === 'ftyp';
    const state = isFilm ? ('ready' as const) : ('refused' as const);
    const words = isFilm ? '' : 'This is no MP4.';
    if (!isFilm) await rm(this.path(film.id), { force: true });
    await this.rows.update({ id: film.id }, { state, words });
    return { ...film, state, words };
  }

  async setCaptions({ id }: FilmRow, language: string, captions: string): Promise<void> {
    await this.rows.update({ id }, { language, captions });
  }

  /** The film that is shown in the place of an event's recording; null: none is. */
  shownAt(eventId: string): Promise<FilmRow | null> {
    return this.rows.findOneBy({ eventId, shown: true });
  }

  async show(event: EventRow, shows: Shows, filmId: string | null): Promise<void> {
    if (event.state !== 'over') throw new Refusal(409, 'not-over', 'What is shown afterwards is chosen once the broadcast is over.');
    const film = shows === 'film' ? await this.find(filmId ?? '') : null;
    if (film && (film.eventId !== event.id || film.state !== 'ready')) throw new Refusal(409, 'film-not-ready', 'This film is not there yet.');
    await this.rows.update({ eventId: event.id, shown: true }, { shown: false });
    if (film) await this.rows.update({ id: film.id }, { shown: true });
    event.replay = shows !== 'nothing';
    await this.database.getRepository(EventRow).save(event);
  }

  stream({ id }: FilmRow, from: number, to: number): ReadStream {
    return createReadStream(this.path(id), { start: from, end: to });
  }

  /** With its event. */
  async remove(eventId: string): Promise<void> {
    for (const { id } of await this.rows.findBy({ eventId })) await rm(this.path(id), { force: true });
    await this.rows.delete({ eventId });
  }
}
