import { LessonsDraft, type LessonsView } from '@lantern/contract';
import { Body, Controller, Get, Put } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { LessonsService } from './lessons.service';

@Controller('api/shows/:id/lessons')
export class LessonsController {
  constructor(
    private readonly lessons: LessonsService,
    private readonly shows: ShowsService,
  ) {}

  @May('look at the station')
  @Get()
  async read(@SignedIn() { stationId }: Person, @ShowId() id: string): Promise<LessonsView> {
    return this.lessons.of((await this.shows.whole(stationId, id)).show);
  }

  @May('plan shows')
  @Put()
  async keep(@SignedIn() { stationId }: Person, @ShowId() id: string, @Body() draft: LessonsDraft): Promise<LessonsView> {
    const { show } = await this.shows.whole(stationId, id);
    await this.lessons.keep(show, draft);
    return this.lessons.of(show);
  }
}
