import { ThanksDraft, type ThanksView } from '@lantern/contract';
import { Body, Controller, Get, HttpCode, Post } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { ThanksService } from './thanks.service';

@Controller('api/shows/:id/thanks')
export class ThanksController {
  constructor(
    private readonly shows: ShowsService,
    private readonly thanks: ThanksService,
  ) {}

  @May('look at the station')
  @Get()
  async read(@SignedIn() { stationId }: Person, @ShowId() id: string): Promise<ThanksView> {
    return this.thanks.of((await this.shows.whole(stationId, id)).show);
  }

  /** Writes to everybody of a group who was not written to; sent again, it writes nobody twice. */
  @May('plan shows')
  @Post()
  @HttpCode(200)
  async send(@SignedIn() { stationId }: Person, @ShowId() id: string, @Body() draft: ThanksDraft): Promise<ThanksView> {
    const { show } = await this.shows.whole(stationId, id);
    await this.thanks.send(show, draft);
    return this.thanks.of(show);
  }
}
