// Reelmoor's HTTP interface.
import {
  ReelmoorBroadcastChange,
  ReelmoorBroadcastRequest,
  ReelmoorLineRequest,
  type ReelmoorBroadcast,
  type ReelmoorChannelList,
  type ReelmoorLine,
  type ReelmoorLineList,
} from '@lantern/contract/network-http';
import { Body, Controller, Delete, Get, Headers, HttpCode, Inject, Param, Patch, Post, Put, Req, UseInterceptors } from '@nestjs/common';
import { ApiBearerAuth, ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { DataSource } from 'typeorm';
import { now } from '../kit/clock';
import { EventRow, type Line } from '../kit/entities';
import { Events } from '../kit/events';
import { accountsOfLogin, loginOf } from '../kit/oauth.controller';
import { TroubleInterceptor } from '../kit/own-interface';
import { Refusal } from '../kit/refusal';
import { newId } from '../kit/secrets';
import { SETTINGS, type Settings } from '../kit/settings';
import { WATCH_PATH } from '../kit/watch.controller';
import { checkBroadcast, checkStart, reelmoorRules } from './rules';

const STATUS = { planned: 'scheduled', public: 'public', over: 'ended', withdrawn: 'cancelled' } as const;
const bodyOf = (name: string) => ApiBody({ schema: { $ref: `#/components/schemas/${name}` } });

@ApiTags('Reelmoor')
@ApiBearerAuth()
@UseInterceptors(TroubleInterceptor)
@Controller('reelmoor/api')
export class ReelmoorController {
  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    events.register(reelmoorRules);
  }

  @Get('channels')
  @ApiOperation({ summary: 'The library channels that the sign-in may speak for' })
  async channels(@Headers('authorization') bearer: string): Promise<ReelmoorChannelList> {
    const accounts = await accountsOfLogin(this.database, await this.login(bearer));
    return {
      items: accounts.map(({ id, name }) => ({ channelId: id, name, avatarUrl: `${this.settings.publicUrl}/portraits/${id}` })),
    };
  }

  @Get('channels/:channel/lines')
  @ApiOperation({ summary: 'The lasting lines of a channel, keys included' })
  async lines(@Headers('authorization') bearer: string, @Param('channel') channel: string): Promise<ReelmoorLineList> {
    await this.events.account('reelmoor', channel, await this.login(bearer));
    return { items: (await this.events.lines(channel)).map((line) => this.lineOf(line)) };
  }

  @Post('channels/:channel/lines')
  @ApiOperation({ summary: 'Makes a lasting line' })
  @bodyOf('ReelmoorLineRequest')
  async makeLine(@Headers('authorization') bearer: string, @Param('channel') channel: string, @Body() body: ReelmoorLineRequest): Promise<ReelmoorLine> {
    await this.events.account('reelmoor', channel, await this.login(bearer));
    return this.lineOf(await this.events.makeLine('reelmoor', channel, body.label, true));
  }

  @Post('channels/:channel/broadcasts')
  @ApiOperation({ summary: 'Schedules a broadcast. The same Idempotency-Key gives the same broadcast again' })
  @bodyOf('ReelmoorBroadcastRequest')
  async create(
    @Headers('authorization') bearer: string,
    @Headers('idempotency-key') idempotencyKey: string | undefined,
    @Param('channel') channel: string,
    @Body() body: ReelmoorBroadcastRequest,
  ): Promise<ReelmoorBroadcast> {
    await this.events.account('reelmoor', channel, await this.login(bearer));
    const earlier = await this.events.earlier(channel, idempotencyKey);
    if (earlier) return this.broadcast(earlier);
    const startsAt = Date.parse(body.scheduledStart);
    checkBroadcast({ ...body, startsAt }, now());
    const line = (await this.events.lines(channel)).find(({ id }) => id === body.lineId);
    if (!line) throw new Refusal(422, 'lineId', 'This channel has no such line.');
    const event = Object.assign(new EventRow(), {
      id: newId(),
      network: 'reelmoor',
      accountId: channel,
      idempotencyKey: idempotencyKey ?? null,
      title: body.title,
      text: body.description,
      startsAt,
      visibility: body.visibility,
      state: 'planned',
      lineId: line.id,
      beginsBy: body.beginsBy,
      delaySeconds: body.delaySeconds ?? 4,
      thumbnailType: null,
      publicAt: null,
      endedAt: null,
    } satisfies EventRow);
    return this.broadcast(await this.events.save(event));
  }

  @Get('broadcasts/:id')
  async read(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<ReelmoorBroadcast> {
    return this.broadcast(await this.events.ofAccount('reelmoor', id, await this.login(bearer)));
  }

  @Patch('broadcasts/:id')
  @ApiOperation({ summary: 'Changes a broadcast that has not started; title and text also later' })
  @bodyOf('ReelmoorBroadcastChange')
  async change(@Headers('authorization') bearer: string, @Param('id') id: string, @Body() body: ReelmoorBroadcastChange): Promise<ReelmoorBroadcast> {
    const event = await this.open(bearer, id);
    if (body.scheduledStart !== undefined && event.state !== 'planned') throw new Refusal(409, 'started', 'This broadcast has started.');
    const title = body.title ?? event.title;
    const description = body.description ?? event.text;
    const startsAt = body.scheduledStart === undefined ? event.startsAt : Date.parse(body.scheduledStart);
    // A start that is not being moved may have come meanwhile.
    checkBroadcast({ title, description, startsAt }, startsAt === event.startsAt ? Math.min(now(), startsAt) : now());
    return this.broadcast(await this.events.save(Object.assign(event, { title, text: description, startsAt })));
  }

  @Put('broadcasts/:id/thumbnail')
  @HttpCode(204)
  @ApiOperation({ summary: 'Sets the picture: the request body is the file' })
  async thumbnail(@Headers('authorization') bearer: string, @Param('id') id: string, @Req() request: Request): Promise<void> {
    await this.events.setThumbnail(await this.open(bearer, id), request.body as Buffer);
  }

  @Post('broadcasts/:id/start')
  @HttpCode(200)
  async start(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<ReelmoorBroadcast> {
    const event = await this.events.ofAccount('reelmoor', id, await this.login(bearer));
    if (event.state !== 'public') {
      checkStart(event, now(), this.events.pictureArrives(event));
      await this.events.makePublic(event);
    }
    return this.broadcast(event);
  }

  @Post('broadcasts/:id/end')
  @HttpCode(200)
  async end(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<ReelmoorBroadcast> {
    const event = await this.events.ofAccount('reelmoor', id, await this.login(bearer));
    if (event.state === 'withdrawn') throw new Refusal(409, 'cancelled', 'This broadcast was cancelled.');
    await this.events.finish(event);
    return this.broadcast(event);
  }

  @Delete('broadcasts/:id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Cancels a broadcast: event and recording are removed' })
  async cancel(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<void> {
    await this.events.withdraw(await this.events.ofAccount('reelmoor', id, await this.login(bearer)));
  }

  private login(bearer: string): Promise<string> {
    return loginOf(this.database, 'reelmoor', bearer);
  }

  private async open(bearer: string, id: string): Promise<EventRow> {
    const event = await this.events.ofAccount('reelmoor', id, await this.login(bearer));
    if (event.state === 'over' || event.state === 'withdrawn') throw new Refusal(409, 'ended', 'This broadcast has ended.');
    return event;
  }

  private lineOf(line: Line): ReelmoorLine {
    return {
      lineId: line.id,
      label: line.label,
      primaryAddress: `${this.settings.rtmpUrl}/reelmoor`,
      backupAddress: `${this.settings.rtmpUrl}/reelmoor`,
      streamKey: line.key,
    };
  }

  private async broadcast(event: EventRow): Promise<ReelmoorBroadcast> {
    return {
      broadcastId: event.id,
      status: STATUS[event.state],
      title: event.title,
      description: event.text,
      scheduledStart: new Date(event.startsAt).toISOString(),
      lineId: event.lineId,
      receiving: this.events.pictureArrives(event),
      watchingNow: await this.events.watching(event),
      watchUrl: `${this.settings.publicUrl}${WATCH_PATH.reelmoor}/${event.id}`,
    };
  }
}
