import type { ShowView } from '@lantern/contract';
import { Controller, HttpCode, Param, Post } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { AnnouncementsService } from './announcements.service';

@Controller('api/shows/:id/announcements')
export class AnnouncementsController {
  constructor(
    private readonly shows: ShowsService,
    private readonly announcements: AnnouncementsService,
  ) {}

  /** Has the channel make an announcement now. */
  @May('plan shows')
  @Post(':announcementId/post')
  @HttpCode(200)
  async post(@SignedIn() person: Person, @ShowId() id: string, @Param('announcementId') announcementId: string): Promise<ShowView> {
    await this.announcements.postNow(person.stationId, id, announcementId);
    return this.shows.view(await this.shows.whole(person.stationId, id));
  }
}
