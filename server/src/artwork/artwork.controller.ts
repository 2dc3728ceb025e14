// The library and the composer, for the station's people.
import {
  CompositionRequest,
  KeepComposition,
  LookChange,
  LookDraft,
  LookForShow,
  LookOfStation,
  PIECE_KINDS,
  PieceChange,
  PieceForShow,
  type ArtworkView,
  type CompositionPreview,
  type LookPreview,
  type LookView,
  type PackView,
  type PieceKind,
  type ShowView,
} from '@lantern/contract';
import { SKY_MOODS, type PictureRecipe, type SkyMood } from '@lantern/core';
import { Body, Controller, Delete, Get, Header, HttpCode, Param, ParseUUIDPipe, Patch, Post, Put, Query, Req, StreamableFile } from '@nestjs/common';
import type { Request } from 'express';
import { createReadStream, existsSync } from 'node:fs';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { Thumbnails, waitingOf } from '../shows/thumbnails';
import { ComposerService } from './composer.service';
import { kindOfFont } from '../foreign/read-font';
import { LookPacksService } from './look-packs.service';
import { LooksService, plainBackground } from './looks.service';
import { PiecesService } from './pieces.service';

const SeriesId = () => Param('id', new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, 'There is no such series.') }));
const PieceId = () => Param('id', new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, 'This is not in the library.') }));

@Controller('api')
export class ArtworkController {
  constructor(
    private readonly pieces: PiecesService,
    private readonly composer: ComposerService,
    private readonly shows: ShowsService,
    private readonly thumbnails: Thumbnails,
    private readonly packs: LookPacksService,
    private readonly looks: LooksService,
  ) {}

  @May('look at the station')
  @Get('artwork')
  async view(@SignedIn() { stationId }: Person): Promise<ArtworkView> {
    return { pieces: await this.pieces.list(stationId), looks: await this.looks.list(stationId) };
  }

  /** The body is the file of the picture or font. */
  @May('change the library')
  @Post('artwork')
  async add(@SignedIn() person: Person, @Query('kind') kind: string, @Query('name') name: unknown, @Req() request: Request): Promise<ArtworkView> {
    if (!PIECE_KINDS.includes(kind as PieceKind) || kind === 'composition')
      throw new PlainError(400, 'Say whether it is a picture, a portrait, a logo or a font.');
    const called = typeof name === 'string' ? name.slice(0, 80) : '';
    await this.pieces.add(person.stationId, kind as PieceKind, called, request.body as Buffer);
    return this.view(person);
  }

  @May('change the library')
  @Post('artwork/compositions')
  async keepComposition(@SignedIn() person: Person, @Body() { name, showId, recipe }: KeepComposition): Promise<ArtworkView> {
    const kept = recipe as PictureRecipe;
    await this.pieces.addOwn(person.stationId, 'composition', name, await this.composer.drawn(person, showId, kept), plain(kept));
    return this.view(person);
  }

  @May('change the library')
  @Patch('artwork/:id')
  async change(@SignedIn() person: Person, @PieceId() id: string, @Body() body: PieceChange): Promise<ArtworkView> {
    await this.pieces.change(person.stationId, id, body);
    return this.view(person);
  }

  /** `meant`: also where it is used. */
  @May('change the library')
  @Delete('artwork/:id')
  async remove(@SignedIn() person: Person, @PieceId() id: string, @Query('meant') meant: unknown): Promise<ArtworkView> {
    await this.pieces.remove(person.stationId, id, meant === 'yes');
    return this.view(person);
  }

  @May('look at the station')
  @Get('artwork/:id/picture')
  @Header('cache-control', 'private, max-age=86400')
  async picture(@SignedIn() person: Person, @PieceId() id: string): Promise<StreamableFile> {
    await this.pieces.piece(person.stationId, id);
    const file = await this.pieces.file(id);
    if (!file) throw new PlainError(404, 'This picture has no file any more.');
    return new StreamableFile(file, { type: file[0] === 0x89 ? 'image/png' : 'image/jpeg' });
  }

  @May('look at the station')
  @Get('artwork/:id/font')
  @Header('cache-control', 'private, max-age=86400')
  async font(@SignedIn() person: Person, @PieceId() id: string): Promise<StreamableFile> {
    await this.pieces.piece(person.stationId, id);
    const file = await this.pieces.file(id);
    const type = file && kindOfFont(file);
    if (!file || !type) throw new PlainError(404, 'This font has no file any more.');
    return new StreamableFile(file, { type });
  }

  /** A drawn sky, as it lies behind a programme: the same for the same number. */
  @May('look at the station')
  @Get('skies/:mood/:seed')
  @Header('cache-control', 'private, max-age=604800')
  async sky(@Param('mood') mood: string, @Param('seed') seed: string): Promise<StreamableFile> {
    if (!SKY_MOODS.includes(mood as SkyMood) || !/^\d{1,7}$/.test(seed)) throw new PlainError(404, 'There is no such sky.');
    return new StreamableFile(await this.composer.sky(mood as SkyMood, Number(seed)), { type: 'image/jpeg' });
  }

  /** The body is the pack's file. Nothing of it is kept. */
  @May('change the library')
  @Post('looks/packs/open')
  @HttpCode(200)
  openPack(@SignedIn() person: Person, @Req() request: Request): Promise<PackView> {
    return this.packs.open(person.stationId, request.body);
  }

  /** The body is the pack's file. */
  @May('change the library')
  @Post('looks/packs')
  takePack(@SignedIn() person: Person, @Req() request: Request): Promise<LookView> {
    return this.packs.take(person.stationId, request.body);
  }

  @May('look at the station')
  @Get('looks/:id/pack')
  async pack(@SignedIn() person: Person, @PieceId() id: string): Promise<StreamableFile> {
    const { name, bytes } = await this.packs.pack(person.stationId, id);
    // What browsers take for the file's name (RFC 6266, section 5).
    const file = `attachment; filename*=UTF-8''${encodeURIComponent(`${name}.look.zip`)}`;
    return new StreamableFile(bytes, { type: 'application/zip', disposition: file });
  }

  /** Has the pictures of a coming show made with a look. */
  @May('change the library')
  @Put('shows/:id/look')
  async useLook(@SignedIn() person: Person, @ShowId() id: string, @Body() { lookId }: LookForShow): Promise<ShowView> {
    await this.composer.useLook(person, id, lookId);
    return this.show(person, id);
  }

  /** Has the pictures of a series, and of its dates to come, made with a look. */
  @May('change the library')
  @Put('series/:id/look')
  useLookInSeries(@SignedIn() person: Person, @SeriesId() id: string, @Body() { lookId }: LookForShow): Promise<{ title: string; dates: number }> {
    return this.composer.useLookInSeries(person, id, lookId);
  }

  /** The look of all shows for which no other is chosen. */
  @May('change the library')
  @Put('looks/of-station')
  @HttpCode(204)
  chooseForStation(@SignedIn() person: Person, @Body() { lookId }: LookOfStation): Promise<void> {
    return this.looks.chooseForStation(person.stationId, lookId);
  }

  @May('change the library')
  @Post('looks')
  addLook(@SignedIn() person: Person, @Body() body: LookDraft): Promise<LookView> {
    return this.looks.add(person.stationId, body);
  }

  /** A look that may not be kept yet, on pictures of a show as they would be. */
  @May('look at the station')
  @Post('looks/preview')
  @HttpCode(200)
  previewLook(@SignedIn() person: Person, @Body() body: LookDraft): Promise<LookPreview> {
    return this.composer.previewLook(person, body);
  }

  @May('change the library')
  @Put('looks/:id')
  changeLook(@SignedIn() person: Person, @PieceId() id: string, @Body() body: LookChange): Promise<LookView> {
    return this.looks.change(person.stationId, id, body);
  }

  @May('change the library')
  @Delete('looks/:id')
  @HttpCode(204)
  async removeLook(@SignedIn() person: Person, @PieceId() id: string, @Query('meant') meant: unknown): Promise<void> {
    await this.looks.remove(person.stationId, id, meant === 'yes');
  }

  @May('look at the station')
  @Post('shows/:id/compositions/preview')
  @HttpCode(200)
  preview(@SignedIn() person: Person, @ShowId() id: string, @Body() { which, recipe }: CompositionRequest): Promise<CompositionPreview> {
    return this.composer.preview(person, id, which, plain(recipe as PictureRecipe));
  }

  @May('change the library')
  @Put('shows/:id/compositions')
  async keep(@SignedIn() person: Person, @ShowId() id: string, @Body() { which, recipe }: CompositionRequest): Promise<ShowView> {
    await this.composer.keep(person, id, which, plain(recipe as PictureRecipe));
    return this.show(person, id);
  }

  @May('change the library')
  @Put('shows/:id/pictures')
  async fromLibrary(@SignedIn() person: Person, @ShowId() id: string, @Body() { which, pieceId }: PieceForShow): Promise<ShowView> {
    await this.composer.fromLibrary(person, id, which, pieceId);
    return this.show(person, id);
  }

  @May('plan shows')
  @Put('shows/:id/thumbnail')
  async setThumbnail(@SignedIn() person: Person, @ShowId() id: string, @Req() request: Request): Promise<ShowView> {
    await this.composer.setFile(person, id, 'thumbnail', request.body as Buffer);
    return this.show(person, id);
  }

  @May('change the library')
  @Put('shows/:id/waiting')
  async setWaiting(@SignedIn() person: Person, @ShowId() id: string, @Req() request: Request): Promise<ShowView> {
    await this.composer.setFile(person, id, 'waiting', request.body as Buffer);
    return this.show(person, id);
  }

  @May('change the library')
  @Delete('shows/:id/waiting')
  async forgetWaiting(@SignedIn() person: Person, @ShowId() id: string): Promise<ShowView> {
    await this.composer.forgetWaiting(person, id);
    return this.show(person, id);
  }

  @May('look at the station')
  @Get('shows/:id/waiting')
  @Header('cache-control', 'private, max-age=86400')
  async waiting(@SignedIn() person: Person, @ShowId() id: string): Promise<StreamableFile> {
    const { show } = await this.shows.whole(person.stationId, id);
    const path = await this.thumbnails.file(waitingOf(show), 'sent');
    if (!show.waiting || !existsSync(path)) throw new PlainError(404, 'This show has no waiting picture of its own.');
    return new StreamableFile(createReadStream(path), { type: 'image/jpeg' });
  }

  private async show(person: Person, id: string): Promise<ShowView> {
    return this.shows.view(await this.shows.whole(person.stationId, id));
  }
}

/** What came as classes, as the plain object that is kept: in one order, so that the same recipe is the same text. */
function plain({ layout, background, lookId, title, when, line, portraits, mark }: PictureRecipe): PictureRecipe {
  return { layout, background: plainBackground(background), lookId, title: title.trim(), when, line: line.trim(), portraits, mark };
}
