// Lines, keys and clashes over HTTP. A key is only ever in the reply to a request that asks for that one.
import {
  LineChange,
  LineRequest,
  RevealRequest,
  RotateRequest,
  TrialRequest,
  type LinesOfChannel,
  type LineView,
  type PlanView,
  type RevealedEncoderSet,
  type RevealedKey,
  type RotateResult,
  type TrialResult,
} from '@lantern/contract';
import { Body, Controller, Delete, Get, Header, HttpCode, Inject, Param, Post, Put, Req } from '@nestjs/common';
import { Throttle } from '@nestjs/throttler';
import type { Request } from 'express';
import { ChannelsService } from '../channels/channels.service';
import { SETTINGS, type Settings } from '../foundation/settings';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { sessionToken } from '../foundation/session-cookie';
import { ShowId } from '../shows/show-id';
import { LinesService } from './lines.service';
import { PlanService } from './plan.service';
import { RevealService } from './reveal.service';
import { tryLine } from './trial';

/** Enough to set up the encoders of an evening, too few to go through all keys unnoticed. */
const FEW_REVEALS = { default: { limit: 12, ttl: 60_000 } };
const FEW_TRIALS = { default: { limit: 10, ttl: 60_000 } };

@Controller('api')
export class LinesController {
  constructor(
    private readonly channels: ChannelsService,
    private readonly lines: LinesService,
    private readonly plan: PlanService,
    private readonly reveals: RevealService,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  @May('look at the station')
  @Get('plan')
  readPlan(@SignedIn() person: Person): Promise<PlanView> {
    return this.plan.view(person.stationId);
  }

  @May('look at the station')
  @Get('channels/:id/lines')
  async list(@SignedIn() person: Person, @Param('id') id: string): Promise<LinesOfChannel> {
    return this.lines.ofChannel(await this.channels.one(person.stationId, id));
  }

  @May('change channels')
  @Post('channels/:id/lines')
  async add(@SignedIn() person: Person, @Param('id') id: string, @Body() body: LineRequest): Promise<LineView> {
    return this.lines.add(await this.channels.one(person.stationId, id), body);
  }

  @May('change channels')
  @Put('lines/:id')
  async change(@SignedIn() person: Person, @Param('id') id: string, @Body() body: LineChange): Promise<LineView> {
    const { line, channel } = await this.lines.one(person.stationId, id);
    return this.lines.change(line, channel, body);
  }

  @May('change channels')
  @Delete('lines/:id')
  @HttpCode(204)
  async remove(@SignedIn() person: Person, @Param('id') id: string): Promise<void> {
    const { line, channel } = await this.lines.one(person.stationId, id);
    await this.lines.remove(line, channel);
  }

  @May('change channels')
  @Post('lines/:id/rotate')
  @HttpCode(200)
  async rotate(@SignedIn() person: Person, @Param('id') id: string, @Body() body: RotateRequest): Promise<RotateResult> {
    const { line, channel } = await this.lines.one(person.stationId, id);
    return this.lines.rotate(person, line, channel, body.key);
  }

  @May('see keys')
  @Post('lines/:id/reveal')
  @HttpCode(200)
  @Header('cache-control', 'no-store')
  @Throttle(FEW_REVEALS)
  reveal(@SignedIn() person: Person, @Req() request: Request, @Param('id') id: string, @Body() body: RevealRequest): Promise<RevealedKey> {
    return this.reveals.key(person, sessionToken(request)!, id, body.purpose);
  }

  @May('see keys')
  @Post('shows/:id/encoder-sets/:airing')
  @HttpCode(200)
  @Header('cache-control', 'no-store')
  @Throttle(FEW_REVEALS)
  encoderSet(
    @SignedIn() person: Person,
    @Req() request: Request,
    @ShowId() id: string,
    @Param('airing') airing: string,
    @Body() body: RevealRequest,
  ): Promise<RevealedEncoderSet> {
    return this.reveals.encoderSet(person, sessionToken(request)!, id, airing, body.purpose);
  }

  @May('change channels')
  @Post('trials')
  @HttpCode(200)
  @Throttle(FEW_TRIALS)
  try(@SignedIn() person: Person, @Body() body: TrialRequest): Promise<TrialResult> {
    return tryLine(body.address, body.key, this.settings);
  }
}
