import { ShowDraft, type PlaceResult, type ShowSummary, type ShowView } from '@lantern/contract';
import { Body, Controller, Get, Header, HttpCode, Param, ParseUUIDPipe, Post, Put, Req, StreamableFile } from '@nestjs/common';
import type { Request } from 'express';
import { createReadStream } from 'node:fs';
import { PlainError, unknownShow } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { SignedIn } from '../people/signed-in';
import { PlacingService } from './placing.service';
import { ShowsService } from './shows.service';
import { Thumbnails } from './thumbnails';

/** An identifier that is not even one is answered like one that is not known. */
export const ShowId = () => Param('id', new ParseUUIDPipe({ exceptionFactory: unknownShow }));

@Controller('api/shows')
export class ShowsController {
  constructor(
    private readonly shows: ShowsService,
    private readonly placing: PlacingService,
    private readonly thumbnails: Thumbnails,
  ) {}

  @Get()
  list(@SignedIn() person: Person): Promise<ShowSummary[]> {
    return this.shows.list(person.stationId);
  }

  @Post()
  async draft(@SignedIn() person: Person, @Body() body: ShowDraft): Promise<ShowView> {
    mayPlan(person);
    return this.read(person, (await this.shows.draft(person.stationId, body)).id);
  }

  @Get(':id')
  async read(@SignedIn() person: Person, @ShowId() id: string): Promise<ShowView> {
    return this.shows.view(await this.shows.whole(person.stationId, id));
  }

  @Put(':id')
  async change(@SignedIn() person: Person, @ShowId() id: string, @Body() body: ShowDraft): Promise<PlaceResult> {
    mayPlan(person);
    const show = await this.shows.change(person.stationId, id, body);
    const results = show.state === 'placed' ? await this.placing.move(person.stationId, id) : [];
    return { show: await this.read(person, id), results };
  }

  @Put(':id/thumbnail')
  async setThumbnail(@SignedIn() person: Person, @ShowId() id: string, @Req() request: Request): Promise<ShowView> {
    mayPlan(person);
    await this.shows.setThumbnail(person.stationId, id, request.body as Buffer);
    return this.read(person, id);
  }

  @Get(':id/thumbnail')
  @Header('cache-control', 'private, max-age=86400')
  async thumbnail(@SignedIn() person: Person, @ShowId() id: string): Promise<StreamableFile> {
    const { show } = await this.shows.whole(person.stationId, id);
    if (!show.thumbnail) throw new PlainError(404, 'This show has no picture yet.');
    return new StreamableFile(createReadStream(this.thumbnails.path(show, 'sent')), { type: 'image/jpeg' });
  }

  @Post(':id/place')
  @HttpCode(200)
  async place(@SignedIn() person: Person, @ShowId() id: string): Promise<PlaceResult> {
    mayPlan(person);
    const results = await this.placing.place(person.stationId, id);
    return { show: await this.read(person, id), results };
  }

  @Post(':id/withdraw')
  @HttpCode(200)
  async withdraw(@SignedIn() person: Person, @ShowId() id: string): Promise<PlaceResult> {
    mayPlan(person);
    const results = await this.placing.withdraw(person.stationId, id);
    return { show: await this.read(person, id), results };
  }
}

export function mayPlan(person: Person): void {
  if (person.role === 'moderator') throw new PlainError(403, 'Moderators can look at shows but not change them. Ask the owner or a producer.');
}
