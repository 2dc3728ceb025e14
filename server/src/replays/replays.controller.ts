import { ReplayWish, type ReplayPlace } from '@lantern/contract';
import { Body, Controller, Get, Put } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { AiringId, ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { ChannelReplaysService } from './channel-replays.service';

@Controller('api/shows/:id/replays')
export class ReplaysController {
  constructor(
    private readonly shows: ShowsService,
    private readonly replays: ChannelReplaysService,
  ) {}

  @May('look at the station')
  @Get()
  async read(@SignedIn() { stationId }: Person, @ShowId() id: string): Promise<ReplayPlace[]> {
    return this.replays.of((await this.shows.whole(stationId, id)).show);
  }

  @May('plan shows')
  @Put(':airingId')
  async wish(@SignedIn() { stationId }: Person, @ShowId() id: string, @AiringId() airingId: string, @Body() wish: ReplayWish): Promise<ReplayPlace[]> {
    const { show } = await this.shows.whole(stationId, id);
    await this.replays.wish(show, airingId, wish);
    return this.replays.of(show);
  }
}
