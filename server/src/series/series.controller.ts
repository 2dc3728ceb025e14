import { NewRuleRequest, RepeatRequest, SpreadRequest, type DropResult, type SeriesResult, type SeriesView } from '@lantern/contract';
import { Body, Controller, Get, HttpCode, Post } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { SignedIn } from '../people/signed-in';
import { mayPlan, ShowId } from '../shows/shows.controller';
import { SeriesService } from './series.service';

@Controller('api/shows/:id/series')
export class SeriesController {
  constructor(private readonly series: SeriesService) {}

  @Post()
  begin(@SignedIn() person: Person, @ShowId() id: string, @Body() body: RepeatRequest): Promise<SeriesResult> {
    mayPlan(person);
    return this.series.begin(person, id, body);
  }

  @Post('rule')
  @HttpCode(200)
  newRule(@SignedIn() person: Person, @ShowId() id: string, @Body() body: NewRuleRequest): Promise<SeriesResult> {
    mayPlan(person);
    return this.series.newRule(person, id, body);
  }

  /** Brings what differs on this date to others. */
  @Post('spread')
  @HttpCode(200)
  spread(@SignedIn() person: Person, @ShowId() id: string, @Body() { scope, fields }: SpreadRequest): Promise<SeriesResult> {
    mayPlan(person);
    return this.series.spread(person, id, scope, fields);
  }

  @Post('drop')
  @HttpCode(200)
  async drop(@SignedIn() person: Person, @ShowId() id: string): Promise<DropResult> {
    mayPlan(person);
    return this.series.drop(person, id);
  }
}

@Controller('api/series')
export class AllSeriesController {
  constructor(private readonly series: SeriesService) {}

  @Get()
  list(@SignedIn() person: Person): Promise<SeriesView[]> {
    return this.series.list(person.stationId);
  }
}
