import { StationSettings, type FeedAddress, type StationView } from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Post, Put } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { StationService } from './station.service';

@Controller('api/station')
export class StationController {
  constructor(private readonly station: StationService) {}

  @May('look at the station')
  @Get()
  read(@SignedIn() person: Person): Promise<StationView> {
    return this.station.view(person.stationId);
  }

  @May('set up the station')
  @Put()
  change(@SignedIn() person: Person, @Body() body: StationSettings): Promise<StationView> {
    return this.station.change(person.stationId, body);
  }

  @May('set up the station')
  @Post('feed')
  openFeed(@SignedIn() person: Person): Promise<FeedAddress> {
    return this.station.openFeed(person);
  }

  @May('set up the station')
  @Delete('feed')
  @HttpCode(204)
  async closeFeed(@SignedIn() person: Person): Promise<void> {
    await this.station.closeFeed(person);
  }
}
