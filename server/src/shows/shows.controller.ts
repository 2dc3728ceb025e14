import {
  AttachRequest,
  ChannelScope,
  CropRequest,
  MoveRequest,
  NewShow,
  PlaceScope,
  SettleRequest,
  ShowChange,
  ShowDraft,
  ShowsAsked,
  TemplateRequest,
  type EarlierShow,
  type FoundEvent,
  type KnownWords,
  type PlaceResult,
  type RemovedView,
  type RenditionView,
  type SaveResult,
  type ShowSummary,
  type ShowView,
  type TemplateView,
} from '@lantern/contract';
import { AIRING_FIELDS, instant, MINUTE_MS, type Sides } from '@lantern/core';
import { Body, Controller, Delete, Get, Header, HttpCode, Param, ParseUUIDPipe, Patch, Post, Put, Query, Req, StreamableFile } from '@nestjs/common';
import type { Request } from 'express';
import { createReadStream } from 'node:fs';
import { ComposerService } from '../artwork/composer.service';
import { PlainError, unknownShow } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { whenOf } from './draft';
import { DriftService } from './drift.service';
import { PlacingService } from './placing.service';
import { RemovalService } from './removal.service';
import { RenditionsService } from './renditions.service';
import { ShowsService } from './shows.service';
import { StartingPointsService } from './starting-points.service';
import { Thumbnails } from './thumbnails';

/** An identifier that is not even one is answered like one that is not known. */
export const ShowId = () => Param('id', new ParseUUIDPipe({ exceptionFactory: unknownShow }));

const UnknownId = (name: string, words: string) => Param(name, new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, words) }));
const AiringId = () => UnknownId('airingId', 'The show does not go out on this channel.');

@Controller('api/shows')
export class ShowsController {
  constructor(
    private readonly shows: ShowsService,
    private readonly placing: PlacingService,
    private readonly drift: DriftService,
    private readonly starts: StartingPointsService,
    private readonly thumbnails: Thumbnails,
    private readonly renditions: RenditionsService,
    private readonly composer: ComposerService,
    private readonly removal: RemovalService,
  ) {}

  @May('look at the station')
  @Get()
  list(@SignedIn() person: Person, @Query() asked: ShowsAsked): Promise<ShowSummary[]> {
    return this.shows.list(person.stationId, asked);
  }

  /** What can be suggested where people and rooms are typed. */
  @May('look at the station')
  @Get('known')
  known(@SignedIn() person: Person): Promise<KnownWords> {
    return this.shows.knownWords(person.stationId);
  }

  /** Shows to begin anew from. */
  @May('look at the station')
  @Get('earlier')
  earlier(@SignedIn() person: Person): Promise<EarlierShow[]> {
    return this.shows.earlier(person.stationId);
  }

  @May('plan shows')
  @Post()
  async draft(@SignedIn() person: Person, @Body() body: ShowDraft): Promise<ShowView> {
    return this.read(person, (await this.shows.draft(person.stationId, body, person)).id);
  }

  /** A show to begin with: from nothing or from a template. */
  @May('plan shows')
  @Post('new')
  async begin(@SignedIn() person: Person, @Body() { title, templateId, startsAt, lengthMs, channelIds }: NewShow): Promise<ShowView> {
    const swept = {
      ...(startsAt !== undefined && { startsAt }),
      ...(lengthMs !== undefined && { lengthMin: Math.round(lengthMs / MINUTE_MS) }),
      ...(channelIds && { channelIds }),
    };
    const show = templateId ? await this.starts.fromTemplate(person, templateId) : await this.starts.swept(person, title, swept);
    return this.read(person, show.id);
  }

  @May('look at the station')
  @Get(':id')
  async read(@SignedIn() person: Person, @ShowId() id: string): Promise<ShowView> {
    return this.shows.view(await this.shows.whole(person.stationId, id));
  }

  /** Keeps what was typed. The channels are not told of it before somebody says so. */
  @May('plan shows')
  @Patch(':id')
  async save(@SignedIn() person: Person, @ShowId() id: string, @Body() body: ShowChange): Promise<SaveResult> {
    const kept = await this.shows.keep(person, id, body);
    return { ...kept, show: await this.read(person, id) };
  }

  /** Moves the show or gives it another length, here and on the channels on which it stands. */
  @May('plan shows')
  @Post(':id/move')
  @HttpCode(200)
  async move(@SignedIn() person: Person, @ShowId() id: string, @Body() { startsAt, lengthMs, base }: MoveRequest): Promise<PlaceResult & SaveResult> {
    const { show } = await this.shows.whole(person.stationId, id);
    const changes = { ...whenOf({ startsAt: instant(startsAt), zone: show.zone }), lengthMin: Math.max(1, Math.round(lengthMs / MINUTE_MS)) };
    const kept = await this.shows.keep(person, id, { base, changes });
    const results = show.state === 'placed' && !kept.conflicts.length ? await this.placing.move(person.stationId, id) : [];
    return { ...kept, show: await this.read(person, id), results };
  }

  /** Tells the channels what has changed on the sheet. */
  @May('plan shows')
  @Post(':id/tell')
  @HttpCode(200)
  async tell(@SignedIn() person: Person, @ShowId() id: string, @Body() { airingIds }: ChannelScope): Promise<PlaceResult> {
    const results = await this.placing.move(person.stationId, id, airingIds ?? null);
    return { show: await this.read(person, id), results };
  }

  @May('plan shows')
  @Put(':id/thumbnail')
  async setThumbnail(@SignedIn() person: Person, @ShowId() id: string, @Req() request: Request): Promise<ShowView> {
    await this.composer.setFile(person, id, 'thumbnail', request.body as Buffer);
    return this.read(person, id);
  }

  @May('look at the station')
  @Get(':id/thumbnail')
  @Header('cache-control', 'private, max-age=86400')
  async thumbnail(@SignedIn() person: Person, @ShowId() id: string): Promise<StreamableFile> {
    const { show } = await this.shows.whole(person.stationId, id);
    if (!show.thumbnail) throw new PlainError(404, 'This show has no picture yet.');
    return new StreamableFile(createReadStream(await this.thumbnails.file(show, 'sent')), { type: 'image/jpeg' });
  }

  /** The whole picture, for choosing what of it each shape takes. */
  @May('look at the station')
  @Get(':id/picture')
  @Header('cache-control', 'private, max-age=86400')
  async picture(@SignedIn() person: Person, @ShowId() id: string): Promise<StreamableFile> {
    return new StreamableFile(createReadStream(await this.renditions.wholePath(person.stationId, id)), { type: 'image/jpeg' });
  }

  /** The picture as each channel gets it. */
  @May('look at the station')
  @Get(':id/renditions')
  renditionsOf(@SignedIn() person: Person, @ShowId() id: string): Promise<RenditionView[]> {
    return this.renditions.list(person.stationId, id);
  }

  @May('look at the station')
  @Get(':id/renditions/:channelId')
  @Header('cache-control', 'private, max-age=86400')
  async rendition(@SignedIn() person: Person, @ShowId() id: string, @Param('channelId') channelId: string): Promise<StreamableFile> {
    return new StreamableFile(await this.renditions.one(person.stationId, id, channelId), { type: 'image/jpeg' });
  }

  @May('plan shows')
  @Put(':id/crops')
  async crop(@SignedIn() person: Person, @ShowId() id: string, @Body() body: CropRequest): Promise<ShowView> {
    await this.renditions.crop(person, id, body);
    return this.read(person, id);
  }

  /** Takes a show away; for a day that can be undone. */
  @May('plan shows')
  @Delete(':id')
  async remove(@SignedIn() person: Person, @ShowId() id: string): Promise<RemovedView> {
    return this.removal.remove(person, id);
  }

  @May('plan shows')
  @Post(':id/place')
  @HttpCode(200)
  async place(@SignedIn() person: Person, @ShowId() id: string, @Body() { airingIds, partial = false }: PlaceScope): Promise<PlaceResult> {
    const results = await this.placing.place(person.stationId, id, airingIds ?? null, partial);
    return { show: await this.read(person, id), results };
  }

  @May('plan shows')
  @Post(':id/withdraw')
  @HttpCode(200)
  async withdraw(@SignedIn() person: Person, @ShowId() id: string, @Body() { airingIds }: ChannelScope): Promise<PlaceResult> {
    const results = await this.placing.withdraw(person.stationId, id, airingIds ?? null);
    return { show: await this.read(person, id), results };
  }

  /** Withdraws one airing and places it anew. */
  @May('plan shows')
  @Post(':id/airings/:airingId/replace')
  @HttpCode(200)
  async replace(@SignedIn() person: Person, @ShowId() id: string, @AiringId() airingId: string): Promise<PlaceResult> {
    const results = await this.placing.replace(person.stationId, id, airingId);
    return { show: await this.read(person, id), results };
  }

  /** Looks at what stands on the channels. */
  @May('look at the station')
  @Post(':id/look')
  @HttpCode(200)
  async look(@SignedIn() person: Person, @ShowId() id: string): Promise<PlaceResult> {
    const { show } = await this.shows.whole(person.stationId, id);
    const results = await this.drift.look(show);
    return { show: await this.read(person, id), results };
  }

  @May('plan shows')
  @Post(':id/airings/:airingId/settle')
  @HttpCode(200)
  async settle(@SignedIn() person: Person, @ShowId() id: string, @AiringId() airingId: string, @Body() { sides }: SettleRequest): Promise<PlaceResult> {
    const results = await this.drift.settle(person, id, airingId, sidesOf(sides));
    return { show: await this.read(person, id), results };
  }

  /** Forgets an event that vanished from its channel. */
  @May('plan shows')
  @Post(':id/airings/:airingId/forget')
  @HttpCode(200)
  async forget(@SignedIn() person: Person, @ShowId() id: string, @AiringId() airingId: string): Promise<ShowView> {
    await this.drift.forget(person.stationId, id, airingId);
    return this.read(person, id);
  }

  @May('look at the station')
  @Get(':id/found')
  async found(@SignedIn() person: Person, @ShowId() _id: string, @Query('channel') channelId: string): Promise<FoundEvent[]> {
    return this.drift.found(person.stationId, channelId);
  }

  @May('plan shows')
  @Post(':id/attach')
  @HttpCode(200)
  async attach(@SignedIn() person: Person, @ShowId() id: string, @Body() { channelId, remoteId }: AttachRequest): Promise<ShowView> {
    await this.drift.attach(person, id, channelId, remoteId);
    return this.read(person, id);
  }

  @May('plan shows')
  @Post(':id/again')
  async again(@SignedIn() person: Person, @ShowId() id: string): Promise<ShowView> {
    return this.read(person, (await this.starts.again(person, id)).id);
  }

  @May('plan shows')
  @Post(':id/template')
  @HttpCode(204)
  async keepAsTemplate(@SignedIn() person: Person, @ShowId() id: string, @Body() { name }: TemplateRequest): Promise<void> {
    await this.starts.keepAsTemplate(person, id, name);
  }
}

@Controller('api/templates')
export class TemplatesController {
  constructor(
    private readonly starts: StartingPointsService,
    private readonly removal: RemovalService,
  ) {}

  @May('look at the station')
  @Get()
  list(@SignedIn() person: Person): Promise<TemplateView[]> {
    return this.starts.templates(person.stationId);
  }

  @May('plan shows')
  @Delete(':id')
  async remove(@SignedIn() person: Person, @UnknownId('id', 'There is no such template.') id: string): Promise<RemovedView> {
    return this.removal.removeTemplate(person, id);
  }
}

/** What was removed in the last day. */
@Controller('api/removed')
export class RemovedController {
  constructor(private readonly removal: RemovalService) {}

  @May('look at the station')
  @Get()
  list(@SignedIn() person: Person): Promise<RemovedView[]> {
    return this.removal.list(person.stationId);
  }

  @May('plan shows')
  @Post(':id/restore')
  @HttpCode(200)
  restore(@SignedIn() person: Person, @UnknownId('id', 'This can no longer be taken back.') id: string): Promise<{ showId: string | null; title: string }> {
    return this.removal.restore(person, id);
  }
}

function sidesOf(sides: Record<string, unknown>): Sides {
  const known = AIRING_FIELDS.filter((field) => sides[field] === 'ours' || sides[field] === 'theirs');
  if (!known.length) throw new PlainError(422, 'Say which side is to win.');
  return Object.fromEntries(known.map((field) => [field, sides[field]]));
}
