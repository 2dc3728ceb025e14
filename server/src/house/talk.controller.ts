// What visitors of a show's page write there for all to read.
import { BrowserNamed, TalkWritten, type HouseMessage, type HouseTalk, type TalkKept } from '@lantern/contract';
import { Body, Controller, Get, Header, HttpCode, Param, ParseUUIDPipe, Post, Req } from '@nestjs/common';
import { Throttle } from '@nestjs/throttler';
import type { Request } from 'express';
import { PlainError } from '../foundation/errors';
import { HouseTalkService } from '../mailbag/house-talk.service';
import { Public } from '../people/signed-in';
import { VisitorsService } from './visitors.service';

/** A household that watches together, and pages that were loaded anew. */
const READING = { default: { limit: 120, ttl: 60_000 } };
/** Behind one address; each browser has turns of its own besides. */
const WRITING = { default: { limit: 30, ttl: 60_000 } };

@Public()
@Throttle(WRITING)
@Controller('api/house/:slug/messages')
export class HouseTalkController {
  constructor(
    private readonly visitors: VisitorsService,
    private readonly talk: HouseTalkService,
  ) {}

  @Throttle(READING)
  @Get()
  @Header('cache-control', 'no-store')
  async list(@Req() request: Request, @Param('slug') slug: string): Promise<HouseTalk> {
    return this.talk.list((await this.visitors.admit(request, slug)).show);
  }

  @Post()
  async write(@Req() request: Request, @Param('slug') slug: string, @Body() body: TalkWritten): Promise<TalkKept> {
    return this.talk.write((await this.visitors.admit(request, slug)).show, body);
  }

  @Post(':messageId/asked-too')
  @HttpCode(200)
  async askToo(
    @Req() request: Request,
    @Param('slug') slug: string,
    @Param('messageId', new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, 'This message is not there any more.') })) id: string,
    @Body() { writer }: BrowserNamed,
  ): Promise<HouseMessage> {
    return this.talk.askToo((await this.visitors.admit(request, slug)).show, id, writer);
  }
}
