import { NoteDraft, type NotesView } from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Param, Post } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { LiveNotesService } from './live-notes.service';

@Controller('api/shows/:id/notes')
export class LiveNotesController {
  constructor(
    private readonly shows: ShowsService,
    private readonly notes: LiveNotesService,
  ) {}

  @May('look at the station')
  @Get()
  async list(@SignedIn() person: Person, @ShowId() id: string): Promise<NotesView> {
    return this.notes.view((await this.shows.whole(person.stationId, id)).show);
  }

  @May('help on the stage')
  @Post()
  @HttpCode(200)
  async add(@SignedIn() person: Person, @ShowId() id: string, @Body() note: NoteDraft): Promise<NotesView> {
    const { show } = await this.shows.whole(person.stationId, id);
    await this.notes.add(show, note, person.name);
    return this.notes.view(show);
  }

  @May('help on the stage')
  @Delete(':noteId')
  @HttpCode(200)
  async remove(@SignedIn() person: Person, @ShowId() id: string, @Param('noteId') noteId: string): Promise<NotesView> {
    const { show } = await this.shows.whole(person.stationId, id);
    await this.notes.remove(show, noteId);
    return this.notes.view(show);
  }
}
