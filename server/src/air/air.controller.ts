import type { AirView, OnAirSummary, WrapResult } from '@lantern/contract';
import { Controller, Delete, Get, HttpCode, Post } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { AirService } from './air.service';

@Controller('api/shows/:id')
export class AirController {
  constructor(private readonly air: AirService) {}

  @May('look at the station')
  @Get('air')
  read(@SignedIn() person: Person, @ShowId() id: string): Promise<AirView> {
    return this.air.view(person.stationId, id);
  }

  /** Also resumes a show that was interrupted. */
  @May('go on air')
  @Post('air')
  @HttpCode(200)
  begin(@SignedIn() person: Person, @ShowId() id: string): Promise<AirView> {
    return this.air.begin(person, id);
  }

  /** Takes back going on air, where nobody can have seen anything of it. */
  @May('go on air')
  @Delete('air')
  @HttpCode(200)
  async takeBack(@SignedIn() person: Person, @ShowId() id: string): Promise<WrapResult> {
    return { results: await this.air.takeBack(person.stationId, id) };
  }

  @May('go on air')
  @Post('wrap')
  @HttpCode(200)
  wrap(@SignedIn() person: Person, @ShowId() id: string): Promise<WrapResult> {
    return this.air.wrap(person.stationId, id);
  }
}

@Controller('api/on-air')
export class OnAirController {
  constructor(private readonly air: AirService) {}

  @May('look at the station')
  @Get()
  list(@SignedIn() person: Person): Promise<OnAirSummary[]> {
    return this.air.onAir(person.stationId);
  }
}
