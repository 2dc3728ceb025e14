import {
  CropRequest,
  HereNow,
  NewShow,
  ShowChange,
  ShowDraft,
  ShowsAsked,
  TemplateRequest,
  type EarlierShow,
  type KnownWords,
  type OtherHere,
  type RemovedView,
  type RenditionView,
  type SaveResult,
  type ShowSummary,
  type ShowView,
  type TemplateView,
} from '@lantern/contract';
import { MINUTE_MS } from '@lantern/core';
import { Body, Controller, Delete, Get, Header, HttpCode, Param, Patch, Post, Put, Query, StreamableFile } from '@nestjs/common';
import { createReadStream } from 'node:fs';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { OthersHere } from './others-here';
import { RemovalService } from './removal.service';
import { RenditionsService } from './renditions.service';
import { ShowId, UnknownId } from './show-id';
import { ShowsService } from './shows.service';
import { StartingPointsService } from './starting-points.service';
import { Thumbnails } from './thumbnails';

@Controller('api/shows')
export class ShowsController {
  constructor(
    private readonly shows: ShowsService,
    private readonly starts: StartingPointsService,
    private readonly thumbnails: Thumbnails,
    private readonly renditions: RenditionsService,
    private readonly removal: RemovalService,
    private readonly others: OthersHere,
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

  /** Said again and again by whoever has it open; answers who else has. */
  @May('look at the station')
  @Post(':id/here')
  @HttpCode(200)
  async here(@SignedIn() person: Person, @ShowId() id: string, @Body() body: HereNow): Promise<OtherHere[]> {
    const { show } = await this.shows.whole(person.stationId, id);
    return this.others.note(person, show.id, body);
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

  @May('look at the station')
  @Get(':id/thumbnail')
  @Header('cache-control', 'private, max-age=86400')
  async thumbnail(@SignedIn() person: Person, @ShowId() id: string): Promise<StreamableFile> {
    const { show } = await this.shows.whole(person.stationId, id);
    if (!show.thumbnail) throw new PlainError(404, 'This show has no picture yet.');
    return new StreamableFile(createReadStream(await this.thumbnails.file(show, 'sent')), { type: 'image/jpeg' });
  }

  /** The picture as small as lists show it. */
  @May('look at the station')
  @Get(':id/glance')
  @Header('cache-control', 'private, max-age=604800, immutable')
  async glance(@SignedIn() person: Person, @ShowId() id: string): Promise<StreamableFile> {
    const { show } = await this.shows.whole(person.stationId, id);
    if (!show.thumbnail) throw new PlainError(404, 'This show has no picture yet.');
    const picture = await this.thumbnails.glance(show, show.thumbnail.version).catch(() => {
      throw new PlainError(404, 'The picture of this show cannot be read any more. Choose it again on its sheet.');
    });
    return new StreamableFile(picture, { type: 'image/jpeg' });
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
