// A poll on the house page: answered by a press, without an account.
import { BrowserNamed, HouseVote, type HousePollMine } from '@lantern/contract';
import { Body, Controller, Header, HttpCode, Param, Post, Req } from '@nestjs/common';
import { Throttle } from '@nestjs/throttler';
import type { Request } from 'express';
import { Public } from '../people/signed-in';
import { PollsService } from '../polls/polls.service';
import { VisitorsService } from './visitors.service';

/** A household that watches together, behind one address. */
const ANSWERING = { default: { limit: 60, ttl: 60_000 } };

@Public()
@Throttle(ANSWERING)
@Controller('api/house/:slug/poll')
export class HousePollController {
  constructor(
    private readonly visitors: VisitorsService,
    private readonly polls: PollsService,
  ) {}

  /** How the newest poll stands, and what this browser answered. */
  @Post()
  @HttpCode(200)
  @Header('cache-control', 'no-store')
  async mine(@Req() request: Request, @Param('slug') slug: string, @Body() { writer }: BrowserNamed): Promise<HousePollMine> {
    return this.polls.mine((await this.visitors.admit(request, slug)).show, writer);
  }

  @Post('vote')
  @HttpCode(200)
  @Header('cache-control', 'no-store')
  async vote(@Req() request: Request, @Param('slug') slug: string, @Body() body: HouseVote): Promise<HousePollMine> {
    return this.polls.vote((await this.visitors.admit(request, slug)).show, body);
  }
}
