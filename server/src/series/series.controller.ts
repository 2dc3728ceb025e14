import { NewRuleRequest, RepeatRequest, SpreadRequest, type DropResult, type SeriesResult, type SeriesView } from '@lantern/contract';
import { Body, Controller, Get, HttpCode, Post } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { SeriesService } from './series.service';

@Controller('api/shows/:id/series')
export class SeriesController {
  constructor(private readonly series: SeriesService) {}

  @May('plan shows')
  @Post()
  begin(@SignedIn() person: Person, @ShowId() id: string, @Body() body: RepeatRequest): Promise<SeriesResult> {
    return this.series.begin(person, id, body);
  }

  @May('plan shows')
  @Post('rule')
  @HttpCode(200)
  newRule(@SignedIn() person: Person, @ShowId() id: string, @Body() body: NewRuleRequest): Promise<SeriesResult> {
    return this.series.newRule(person, id, body);
  }

  /** Brings what differs on this date to others. */
  @May('plan shows')
  @Post('spread')
  @HttpCode(200)
  spread(@SignedIn() person: Person, @ShowId() id: string, @Body() { scope, fields }: SpreadRequest): Promise<SeriesResult> {
    return this.series.spread(person, id, scope, fields);
  }

  @May('plan shows')
  @Post('drop')
  @HttpCode(200)
  async drop(@SignedIn() person: Person, @ShowId() id: string): Promise<DropResult> {
    return this.series.drop(person, id);
  }
}

@Controller('api/series')
export class AllSeriesController {
  constructor(private readonly series: SeriesService) {}

  @May('look at the station')
  @Get()
  list(@SignedIn() person: Person): Promise<SeriesView[]> {
    return this.series.list(person.stationId);
  }
}
