import { StationSettings, type FeedAddress, type StationView } from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Post, Put } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { SignedIn } from '../people/signed-in';
import { mayPlan } from '../shows/shows.controller';
import { StationService } from './station.service';

@Controller('api/station')
export class StationController {
  constructor(private readonly station: StationService) {}

  @Get()
  read(@SignedIn() person: Person): Promise<StationView> {
    return this.station.view(person.stationId);
  }

  @Put()
  change(@SignedIn() person: Person, @Body() body: StationSettings): Promise<StationView> {
    mayPlan(person);
    return this.station.change(person.stationId, body);
  }

  @Post('feed')
  openFeed(@SignedIn() person: Person): Promise<FeedAddress> {
    mayPlan(person);
    return this.station.openFeed(person);
  }

  @Delete('feed')
  @HttpCode(204)
  async closeFeed(@SignedIn() person: Person): Promise<void> {
    mayPlan(person);
    await this.station.closeFeed(person);
  }
}
