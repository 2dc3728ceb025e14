import type { AirView, WrapResult } from '@lantern/contract';
import { Controller, Get, HttpCode, Post } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { SignedIn } from '../people/signed-in';
import { mayPlan, ShowId } from '../shows/shows.controller';
import { AirService } from './air.service';

@Controller('api/shows/:id')
export class AirController {
  constructor(private readonly air: AirService) {}

  @Get('air')
  read(@SignedIn() person: Person, @ShowId() id: string): Promise<AirView> {
    return this.air.view(person.stationId, id);
  }

  /** Also resumes a show that was interrupted. */
  @Post('air')
  @HttpCode(200)
  begin(@SignedIn() person: Person, @ShowId() id: string): Promise<AirView> {
    mayPlan(person);
    return this.air.begin(person.stationId, id);
  }

  @Post('wrap')
  @HttpCode(200)
  wrap(@SignedIn() person: Person, @ShowId() id: string): Promise<WrapResult> {
    mayPlan(person);
    return this.air.wrap(person.stationId, id);
  }
}
