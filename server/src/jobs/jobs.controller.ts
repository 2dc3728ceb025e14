import type { JobView } from '@lantern/contract';
import { Controller, Delete, Get, HttpCode, Param, Post } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { SignedIn } from '../people/signed-in';
import { mayPlan } from '../shows/shows.controller';
import { JobsService } from './jobs.service';

@Controller('api/jobs')
export class JobsController {
  constructor(private readonly jobs: JobsService) {}

  /** What has not been done at the first try, and is being tried again or waits for somebody. */
  @Get()
  inTrouble(@SignedIn() person: Person): Promise<JobView[]> {
    return this.jobs.inTrouble(person.stationId);
  }

  @Post(':id/now')
  @HttpCode(204)
  async tryNow(@SignedIn() person: Person, @Param('id') id: string): Promise<void> {
    mayPlan(person);
    await this.jobs.tryNow(person.stationId, id);
  }

  @Delete(':id')
  @HttpCode(204)
  async giveUp(@SignedIn() person: Person, @Param('id') id: string): Promise<void> {
    mayPlan(person);
    await this.jobs.giveUp(person.stationId, id);
  }
}
