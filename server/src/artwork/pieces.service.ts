// The library: pictures, portraits, logos, compositions and fonts, and where each is used.
import type { PieceChange, PieceKind, PieceUse, PieceView } from '@lantern/contract';
import { instant, OWN_LETTERS, sayDay, type ClipInShow, type PictureRecipe } from '@lantern/core';
import { Inject, Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { isDeepStrictEqual } from 'node:util';
import { DataSource } from 'typeorm';
import { Clock } from '../foundation/clock';
import { ForeignFiles } from '../foreign/foreign-files';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import type { ShowPicture } from '../shows/show.entities';
import { together } from '../foundation/together';
import { emptyPicture, type DecodedPicture } from '../foreign/incoming-picture';
import type { ReadFont } from '../foreign/read-font';
import { Look, Piece } from './piece.entities';
import { writeTogether } from '../foundation/whole-files';
import { Bus } from '../foundation/bus';
import { ShowRows } from '../shows/show-rows';
import { SeriesRows } from '../shows/series-rows';
import { TemplateRows } from '../shows/series-rows';

const MOST_PIECES = 500;
/** Of what is drawn here: as large as any network takes. */
const OWN_MAX_PX = 1_920;

@Injectable()
export class PiecesService {
  constructor(
    private readonly templateRows: TemplateRows,
    private readonly seriesRows: SeriesRows,
    private readonly showRows: ShowRows,
    private readonly database: DataSource,
    private readonly clock: Clock,
    private readonly foreign: ForeignFiles,
    private readonly bus: Bus,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async list(stationId: string): Promise<PieceView[]> {
    const pieces = await this.database.getRepository(Piece).find({ where: { stationId }, order: { addedAt: 'DESC' } });
    const uses = await this.uses(stationId);
    return pieces.map(({ id, kind, name, alternative, rights, width, height, recipe, addedAt }): PieceView => {
      const url = `/api/artwork/${id}/${kind === 'font' ? 'font' : 'picture'}`;
      return { id, kind, name, alternative, rights, width, height, recipe, addedAt, url, usedBy: uses({ id, kind, name, recipe }) };
    });
  }

  /** Takes a picture into the library. Throws what is wrong with it. */
  async add(stationId: string, kind: PieceKind, name: string, bytes: Buffer): Promise<Piece> {
    if (!Buffer.isBuffer(bytes)) throw emptyPicture();
    await this.room(stationId);
    if (kind === 'font') {
      const font = await this.lookedAtFont(bytes);
      return this.keep(stationId, kind, font.name.slice(0, 80), { bytes: font.bytes, keptWidth: 0, keptHeight: 0 }, null, font.rights);
    }
    return this.keep(stationId, kind, name, await this.looked(bytes), null);
  }

  /** A picture that came from elsewhere, looked at and decoded, and not kept. Throws what is wrong with it. */
  looked(bytes: Buffer): Promise<DecodedPicture> {
    return this.foreign.ask<DecodedPicture>({ kind: 'picture', bytes, as: 'piece' });
  }

  /** A font that came from elsewhere, drawn once and not kept. Throws what is wrong with it. */
  lookedAtFont(bytes: Buffer): Promise<ReadFont> {
    return this.foreign.ask<ReadFont>({ kind: 'font', bytes });
  }

  /** Takes something that was drawn here. */
  async addOwn(stationId: string, kind: PieceKind, name: string, drawing: Buffer, recipe: PictureRecipe | null = null): Promise<Piece> {
    await this.room(stationId);
    const { data, info } = await sharp(drawing)
      .resize({ width: OWN_MAX_PX, withoutEnlargement: true })
      .png({ compressionLevel: 3 })
      .toBuffer({ resolveWithObject: true });
    return this.keep(stationId, kind, name, { bytes: data, keptWidth: info.width, keptHeight: info.height }, recipe);
  }

  private async room(stationId: string): Promise<void> {
    if ((await this.database.getRepository(Piece).countBy({ stationId })) >= MOST_PIECES) {
      throw new PlainError(409, `The library holds ${MOST_PIECES} pieces. Take out some that are not used.`);
    }
  }

  private async keep(
    stationId: string,
    kind: PieceKind,
    name: string,
    { keptWidth, keptHeight, bytes }: Pick<DecodedPicture, 'bytes' | 'keptWidth' | 'keptHeight'>,
    recipe: PictureRecipe | null,
    rights = '',
  ): Promise<Piece> {
    const piece = Object.assign(new Piece(), {
      id: randomUUID(),
      stationId,
      kind,
      name: name.trim() || 'Untitled',
      alternative: '',
      rights,
      recipe,
      addedAt: this.clock.now(),
    });
    Object.assign(piece, { width: keptWidth, height: keptHeight });
    await writeTogether([[this.path(piece.id), bytes]]);
    try {
      await this.database.getRepository(Piece).insert(piece);
    } catch (error) {
      // A file that no row tells of would lie there for ever.
      await rm(this.path(piece.id), { force: true });
      throw error;
    }
    this.bus.tell({ kind: 'library', stationId });
    return piece;
  }

  async change(stationId: string, id: string, { name, alternative, rights }: PieceChange): Promise<void> {
    await this.piece(stationId, id);
    await this.database
      .getRepository(Piece)
      .update({ id }, { name: name.trim(), alternative: alternative.trim(), ...(rights !== undefined && { rights: rights.trim() }) });
    this.bus.tell({ kind: 'library', stationId });
  }

  /**
   * Takes a piece out of the library. Where it is used this is refused unless it is meant: pictures made from it stay as
   * they are, and make themselves no more.
   */
  async remove(stationId: string, id: string, meant: boolean): Promise<void> {
    const piece = await this.piece(stationId, id);
    const uses = (await this.uses(stationId))(piece);
    // Shows keep what they took from a composition.
    if (uses.length && !meant && piece.kind !== 'composition')
      throw new PlainError(409, `It is used by ${uses.map(({ words }) => words).join(', ')}. Take it out there first, or say that you mean it.`);
    await together(this.database, async (entities) => {
      await entities.delete(Piece, { id });
      for (const look of await entities.findBy(Look, { stationId }))
        if (isUsedBy(look, id)) await entities.update(Look, { id: look.id }, withoutPieceOf(look, id));
      const without = (picture: ShowPicture | null) => picture && withoutPiece(picture, id);
      for (const { id: showId, thumbnail, waiting } of await this.showRows.withPictures(stationId)) {
        if (isMadeFrom(thumbnail, id) || isMadeFrom(waiting, id))
          await this.showRows.setPictures(showId, { thumbnail: without(thumbnail), waiting: without(waiting) });
      }
      for (const rows of [this.seriesRows, this.templateRows]) {
        for (const { id: from, picture, waiting } of await rows.atStation(stationId))
          if (isMadeFrom(picture, id) || isMadeFrom(waiting, id)) await rows.change(from, { picture: without(picture), waiting: without(waiting) });
      }
    });
    await rm(this.path(id), { force: true });
    this.bus.tell({ kind: 'library', stationId });
  }

  async piece(stationId: string, id: string): Promise<Piece> {
    const piece = await this.database.getRepository(Piece).findOneBy({ id, stationId });
    if (!piece) throw new PlainError(404, 'This is not in the library any more. Choose something else.');
    return piece;
  }

  async file(id: string): Promise<Buffer | null> {
    return existsSync(this.path(id)) ? readFile(this.path(id)) : null;
  }

  /** The portraits of people by their names in small letters. */
  async portraits(stationId: string): Promise<Map<string, Piece>> {
    const pieces = await this.database.getRepository(Piece).find({ where: { stationId, kind: 'portrait' }, order: { addedAt: 'ASC' } });
    return new Map(pieces.map((piece) => [piece.name.toLowerCase(), piece]));
  }

  /** Tells for a piece where it is used. */
  private async uses(stationId: string): Promise<(piece: Pick<Piece, 'id' | 'kind' | 'name' | 'recipe'>) => PieceUse[]> {
    const [shows, series, templates, looks] = await Promise.all([
      this.showRows.withPictures(stationId),
      this.seriesRows.atStation(stationId),
      this.templateRows.atStation(stationId),
      this.database.getRepository(Look).findBy({ stationId }),
    ]);
    return ({ id, kind, name, recipe }) => {
      const from = (picture: ShowPicture | null) =>
        kind === 'composition' ? !!picture?.recipe && isDeepStrictEqual(picture.recipe, recipe) : isMadeFrom(picture, id);
      const isStill = (clips: readonly ClipInShow[]) => clips.some(({ from, item }) => from === 'still' && item === id);
      const portrayed = ({ people, thumbnail, waiting }: PicturedShow) =>
        kind === 'portrait' &&
        [thumbnail, waiting].some((picture) => picture?.recipe?.portraits) &&
        people.some((person) => person.name.toLowerCase() === name.toLowerCase());
      const found: PieceUse[] = [];
      const inSeries = new Map<string, PicturedShow[]>();
      for (const show of shows) {
        if (!from(show.thumbnail) && !from(show.waiting) && !portrayed(show) && !isStill(show.clips)) continue;
        if (show.seriesId === null) found.push({ showId: show.id, words: `“${show.title}” on ${sayDay(instant(show.startsAt), show.zone)}` });
        else inSeries.set(show.seriesId, [...(inSeries.get(show.seriesId) ?? []), show]);
      }
      // A series is one use, however many of its dates are planned.
      for (const dates of inSeries.values())
        found.push({ showId: dates[0]!.id, words: `“${dates[0]!.title}” (${dates.length === 1 ? '1 date' : `${dates.length} dates`})` });
      for (const each of series)
        if (!inSeries.has(each.id) && (from(each.picture) || from(each.waiting) || isStill(each.pattern.clips)))
          found.push({ showId: null, words: `the series “${each.pattern.title}”` });
      for (const each of templates)
        if (from(each.picture) || from(each.waiting) || isStill(each.pattern.clips)) found.push({ showId: null, words: `the template “${each.name}”` });
      for (const each of looks) if (isUsedBy(each, id)) found.push({ showId: null, words: `the look “${each.name}”` });
      return found;
    };
  }

  private path(id: string): string {
    return join(this.settings.picturesDir, `${id}.piece`);
  }
}

type PicturedShow = Awaited<ReturnType<ShowRows['withPictures']>>[number];

function isMadeFrom(picture: ShowPicture | null, id: string): boolean {
  const background = picture?.recipe?.background;
  return picture?.pieceId === id || (background?.kind === 'picture' && background.pieceId === id);
}

const isUsedBy = ({ logoId, sponsors, letters, background }: Look, id: string): boolean =>
  logoId === id || sponsors.includes(id) || letters.display === id || letters.text === id || (background?.kind === 'picture' && background.pieceId === id);

/** What a look is without a piece: the lantern, the product's letters, an evening in its ground colour. */
function withoutPieceOf({ logoId, sponsors, letters, background, revision }: Look, id: string): Partial<Look> {
  return {
    revision: revision + 1,
    logoId: logoId === id ? null : logoId,
    sponsors: sponsors.filter((each) => each !== id),
    letters: { display: letters.display === id ? OWN_LETTERS.display : letters.display, text: letters.text === id ? OWN_LETTERS.text : letters.text },
    background: background?.kind === 'picture' && background.pieceId === id ? null : background,
  };
}

/** The picture as it is, and no more than that. */
function withoutPiece(picture: ShowPicture, id: string): ShowPicture {
  if (!isMadeFrom(picture, id)) return picture;
  const rest = { ...picture };
  for (const part of ['pieceId', 'recipe', 'madeOf', 'follows'] as const) delete rest[part];
  return rest;
}
