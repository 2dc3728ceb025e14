import type { JobView } from '@lantern/contract';
import { Controller, Delete, Get, HttpCode, Param, Post } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { JobsService } from './jobs.service';

@Controller('api/jobs')
export class JobsController {
  constructor(private readonly jobs: JobsService) {}

  /** What has not been done at the first try, and is being tried again or waits for somebody. */
  @May('look at the station')
  @Get()
  inTrouble(@SignedIn() person: Person): Promise<JobView[]> {
    return this.jobs.inTrouble(person.stationId);
  }

  @May('set up the station')
  @Post(':id/now')
  @HttpCode(204)
  async tryNow(@SignedIn() person: Person, @Param('id') id: string): Promise<void> {
    await this.jobs.tryNow(person.stationId, id);
  }

  @May('set up the station')
  @Delete(':id')
  @HttpCode(204)
  async giveUp(@SignedIn() person: Person, @Param('id') id: string): Promise<void> {
    await this.jobs.giveUp(person.stationId, id);
  }
}
