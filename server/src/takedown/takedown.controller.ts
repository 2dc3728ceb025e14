import { TakeAway, type StandingPlace } from '@lantern/contract';
import { Body, Controller, Get, HttpCode, Post } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { TakedownService } from './takedown.service';

@Controller('api/shows/:id/places')
export class TakedownController {
  constructor(
    private readonly shows: ShowsService,
    private readonly takedown: TakedownService,
  ) {}

  @May('look at the station')
  @Get()
  async read(@SignedIn() { stationId }: Person, @ShowId() id: string): Promise<StandingPlace[]> {
    return this.takedown.of((await this.shows.whole(stationId, id)).show);
  }

  @May('plan shows')
  @Post('removal')
  @HttpCode(202)
  async take(@SignedIn() { stationId }: Person, @ShowId() id: string, @Body() { from }: TakeAway): Promise<void> {
    await this.takedown.take((await this.shows.whole(stationId, id)).show, from);
  }
}
