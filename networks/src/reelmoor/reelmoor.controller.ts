// Reelmoor's HTTP interface.
import {
  ReelmoorBroadcastChange,
  ReelmoorBroadcastRequest,
  ReelmoorLineRequest,
  type ReelmoorAnnouncements,
  type ReelmoorChoices,
  type ReelmoorChosen,
  type ReelmoorBroadcast,
  type ReelmoorBroadcastList,
  type ReelmoorChannelList,
  type ReelmoorLine,
  type ReelmoorLineList,
  type ReelmoorStanding,
  type ReelmoorVisibility,
} from '@lantern/contract/network-http';
import { Body, Controller, Delete, Get, Headers, HttpCode, Inject, Param, Patch, Post, Put, Req, UseInterceptors } from '@nestjs/common';
import { ApiBearerAuth, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { DataSource } from 'typeorm';
import { now } from '../kit/clock';
import type { Account, EventRow, LimitName, Line } from '../kit/entities';
import { Events } from '../kit/events';
import { LimitBook } from '../kit/limits';
import { NETWORK_LOOKS } from '../kit/looks';
import { accountsOfLogin, loginOf } from '../kit/oauth.controller';
import { bodyOf, TroubleInterceptor } from '../kit/own-interface';
import { Refusal } from '../kit/refusal';
import { SETTINGS, type Settings } from '../kit/settings';
import { DAY_MS, mustMayBroadcast, WAIT_AFTER_ASKING_MS } from '../kit/standing';
import { checkBroadcast, checkStart, reelmoorRules } from './rules';

const STATUS = { planned: 'scheduled', public: 'public', over: 'ended', withdrawn: 'cancelled' } as const;
const MINUTE_MS = 60_000;
const ANNOUNCED: Partial<Record<LimitName, { as: ReelmoorAnnouncements['items'][number]['limit']; unit: number }>> = {
  title: { as: 'titleCharacters', unit: 1 },
  text: { as: 'descriptionCharacters', unit: 1 },
  ahead: { as: 'daysAhead', unit: DAY_MS },
  longest: { as: 'longestHours', unit: 60 * MINUTE_MS },
};

@ApiTags('Reelmoor')
@ApiBearerAuth()
@UseInterceptors(TroubleInterceptor)
@Controller('reelmoor/api')
export class ReelmoorController {
  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
    private readonly limits: LimitBook,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    events.register(reelmoorRules);
  }

  @Get('announcements')
  @ApiOperation({ summary: 'Limits that will change, told in advance' })
  async announcements(): Promise<ReelmoorAnnouncements> {
    const changes = await this.limits.announced('reelmoor', Object.keys(ANNOUNCED) as LimitName[]);
    return {
      items: changes.map(({ id, limit, value, from }) => {
        const { as, unit } = ANNOUNCED[limit]!;
        return { announcementId: id, limit: as, value: value / unit, inForceFrom: new Date(from).toISOString() };
      }),
    };
  }

  @Get('channels')
  @ApiOperation({ summary: 'The library channels that the sign-in may speak for' })
  async channels(@Headers('authorization') bearer: string): Promise<ReelmoorChannelList> {
    const accounts = await accountsOfLogin(this.database, await this.login(bearer));
    return {
      items: accounts.map(({ id, name }) => ({ channelId: id, name, avatarUrl: `${this.settings.publicUrl}/portraits/${id}` })),
    };
  }

  @Get('channels/:channel/standing')
  @ApiOperation({ summary: 'Whether the channel may broadcast' })
  async standing(@Headers('authorization') bearer: string, @Param('channel') channel: string): Promise<ReelmoorStanding> {
    return standingOf(await this.account(bearer, channel));
  }

  @Post('channels/:channel/standing/ask')
  @HttpCode(200)
  @ApiOperation({ summary: 'Asks for broadcasting, which is allowed a day later' })
  async askToBroadcast(@Headers('authorization') bearer: string, @Param('channel') channel: string): Promise<ReelmoorStanding> {
    const account = await this.account(bearer, channel);
    account.askedAt ??= now();
    return standingOf(await this.events.saveAccount(account));
  }

  @Get('channels/:channel/lines')
  @ApiOperation({ summary: 'The lasting lines of a channel, keys included' })
  async lines(@Headers('authorization') bearer: string, @Param('channel') channel: string): Promise<ReelmoorLineList> {
    await this.account(bearer, channel);
    return { items: (await this.events.lines(channel)).map((line) => this.lineOf(line)) };
  }

  @Post('channels/:channel/lines')
  @ApiOperation({ summary: 'Makes a lasting line' })
  @bodyOf('ReelmoorLineRequest')
  async makeLine(@Headers('authorization') bearer: string, @Param('channel') channel: string, @Body() body: ReelmoorLineRequest): Promise<ReelmoorLine> {
    await this.account(bearer, channel);
    return this.lineOf(await this.events.makeLine('reelmoor', channel, body.label, true));
  }

  @Patch('channels/:channel/lines/:line')
  @ApiOperation({ summary: 'Names a line anew' })
  @bodyOf('ReelmoorLineRequest')
  async nameLine(
    @Headers('authorization') bearer: string,
    @Param('channel') channel: string,
    @Param('line') id: string,
    @Body() body: ReelmoorLineRequest,
  ): Promise<ReelmoorLine> {
    const line = await this.ownLine(bearer, channel, id);
    return this.lineOf(await this.events.saveLine(Object.assign(line, { label: body.label })));
  }

  @Post('channels/:channel/lines/:line/reset')
  @HttpCode(200)
  @ApiOperation({ summary: 'Issues a new key for a line; the old one is good no longer' })
  async resetLine(@Headers('authorization') bearer: string, @Param('channel') channel: string, @Param('line') id: string): Promise<ReelmoorLine> {
    return this.lineOf(await this.events.renewKey(await this.ownLine(bearer, channel, id)));
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
    const account = await this.account(bearer, channel);
    const earlier = await this.events.earlier(channel, idempotencyKey);
    if (earlier) return this.broadcast(earlier);
    mustMayBroadcast(account);
    const { title, description: text, visibility, beginsBy, rewindHours = 0, replay = true } = body;
    const planned = { title, text, startsAt: Date.parse(body.scheduledStart), lengthMs: body.durationMinutes * MINUTE_MS };
    checkBroadcast(planned, await this.limits.inForce('reelmoor'), now(), true);
    const line = (await this.events.lines(channel)).find(({ id }) => id === body.lineId);
    if (!line) throw new Refusal(422, 'lineId', 'This channel has no such line.');
    const event = await this.events.make({
      network: 'reelmoor',
      accountId: channel,
      idempotencyKey: idempotencyKey ?? null,
      ...planned,
      visibility,
      lineId: line.id,
      beginsBy,
      delaySeconds: body.delaySeconds ?? 4,
      rewindHours,
      replay,
      facts: factsOf({ messages: 'everyone', ...body }),
      chosen: await this.chosenOf(body),
    });
    return this.broadcast(event);
  }

  @Get('channels/:channel/broadcasts')
  @ApiOperation({ summary: 'What is planned on a channel' })
  async planned(@Headers('authorization') bearer: string, @Param('channel') channel: string): Promise<ReelmoorBroadcastList> {
    await this.account(bearer, channel);
    return { items: await Promise.all((await this.events.all({ accountId: channel, state: 'planned' })).map((event) => this.broadcast(event))) };
  }

  @Get('broadcasts/:id')
  async read(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<ReelmoorBroadcast> {
    return this.broadcast(await this.events.ofAccount('reelmoor', id, await this.login(bearer)));
  }

  @Patch('broadcasts/:id')
  @ApiOperation({ summary: 'Changes a broadcast; its start only before it has started' })
  @bodyOf('ReelmoorBroadcastChange')
  async change(@Headers('authorization') bearer: string, @Param('id') id: string, @Body() body: ReelmoorBroadcastChange): Promise<ReelmoorBroadcast> {
    const event = await this.events.open('reelmoor', id, await this.login(bearer));
    const startsAt = body.scheduledStart === undefined ? event.startsAt : Date.parse(body.scheduledStart);
    const moved = startsAt !== event.startsAt;
    if (moved && event.state !== 'planned') throw new Refusal(409, 'started', 'This broadcast has started.');
    const changed = {
      title: body.title ?? event.title,
      text: body.description ?? event.text,
      startsAt,
      lengthMs: body.durationMinutes === undefined ? event.lengthMs : body.durationMinutes * MINUTE_MS,
      lineId: body.lineId ?? event.lineId,
      visibility: body.visibility ?? event.visibility,
      beginsBy: body.beginsBy ?? event.beginsBy,
      delaySeconds: body.delaySeconds ?? event.delaySeconds,
      rewindHours: body.rewindHours ?? event.rewindHours,
      replay: body.replay ?? event.replay,
      facts: { ...event.facts, ...factsOf(body) },
      chosen: { ...event.chosen, ...(await this.chosenOf(body)) },
    };
    const fixed = (['lineId', 'beginsBy', 'delaySeconds', 'rewindHours', 'replay'] as const).find((field) => changed[field] !== event[field]);
    if (fixed && event.state !== 'planned') throw new Refusal(409, 'started', 'This broadcast has started: how it is played is fixed.');
    checkBroadcast(changed, await this.limits.inForce('reelmoor'), now(), moved);
    const lines = await this.events.lines(event.accountId);
    if (!lines.some((line) => line.id === changed.lineId)) throw new Refusal(422, 'lineId', 'This channel has no such line.');
    return this.broadcast(await this.events.save(Object.assign(event, changed)));
  }

  @Put('broadcasts/:id/thumbnail')
  @HttpCode(204)
  @ApiOperation({ summary: 'Sets the picture: the request body is the file' })
  async thumbnail(@Headers('authorization') bearer: string, @Param('id') id: string, @Req() request: Request): Promise<void> {
    await this.events.setThumbnail(await this.events.open('reelmoor', id, await this.login(bearer)), request.body as Buffer);
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

  private async account(bearer: string, channel: string): Promise<Account> {
    return this.events.account('reelmoor', channel, await this.login(bearer));
  }

  private async ownLine(bearer: string, channel: string, id: string): Promise<Line> {
    await this.account(bearer, channel);
    const line = (await this.events.lines(channel)).find((each) => each.id === id);
    if (!line) throw new Refusal(404, 'lineId', 'This channel has no such line.');
    return line;
  }

  private lineOf(line: Line): ReelmoorLine {
    return {
      lineId: line.id,
      label: line.label,
      primaryAddress: `${this.settings.rtmpUrl}/reelmoor`,
      backupAddress: `${this.settings.rtmpUrl}/reelmoor-backup`,
      streamKey: line.key,
    };
  }

  /** What is asked for, as far as it can be had. */
  private async chosenOf(body: ReelmoorChoices): Promise<Partial<ReelmoorChosen>> {
    const { category, language, audience, tags, embeddable, paidMention, licence, listedDaysBefore, playlist, nextUrl, adverts, messagesStay } = body;
    const { messageEverySeconds, writerAgeDays } = body;
    if (nextUrl) {
      const id = nextUrl.startsWith(`${this.settings.publicUrl}${NETWORK_LOOKS.reelmoor.eventPath}/`) ? nextUrl.split('/').at(-1)!.split('?')[0]! : '';
      const there = id ? await this.events.byId(id) : null;
      if (there?.network !== 'reelmoor') throw new Refusal(422, 'nextUrl', 'Only what stands here can be shown next.');
    }
    const asked = {
      ...{ category, language, audience, tags, embeddable, paidMention, licence, listedDaysBefore, playlist, nextUrl, adverts, messagesStay },
      ...{ messageEverySeconds, writerAgeDays },
    };
    return Object.fromEntries(Object.entries(asked).filter(([, value]) => value !== undefined));
  }

  private async broadcast(event: EventRow): Promise<ReelmoorBroadcast> {
    const watchUrl = `${this.settings.publicUrl}${NETWORK_LOOKS.reelmoor.eventPath}/${event.id}`;
    const admission = await this.events.admissionKey(event);
    return {
      broadcastId: event.id,
      status: STATUS[event.state],
      title: event.title,
      description: event.text,
      scheduledStart: new Date(event.startsAt).toISOString(),
      durationMinutes: Math.ceil(event.lengthMs / MINUTE_MS),
      lineId: event.lineId,
      visibility: event.visibility as ReelmoorVisibility,
      beginsBy: event.beginsBy,
      delaySeconds: event.delaySeconds,
      rewindHours: event.rewindHours,
      replay: event.replay,
      messages: MAY_WRITE[reelmoorRules.mayWrite(event)],
      chosen: { ...UNCHOSEN, ...event.chosen },
      receiving: this.events.pictureArrives(event),
      watchingNow: await this.events.watching(event),
      watchUrl,
      playbackUrl: event.state === 'public' ? `${watchUrl}/live.m3u8` : null,
      admissionUrl: admission === null ? null : `${watchUrl}?as=${admission}`,
    };
  }
}

const MAY_WRITE = { everyone: 'everyone', followers: 'followers', members: 'followers', nobody: 'off' } as const;

/** How a broadcast stands whose maker has said nothing. */
const UNCHOSEN: ReelmoorChosen = {
  ...{ category: null, language: null, audience: 'everybody', tags: [], embeddable: true, paidMention: false, licence: 'all-rights-kept' },
  ...{ listedDaysBefore: 0, playlist: '', nextUrl: '', adverts: true, messagesStay: true, messageEverySeconds: 0, writerAgeDays: 0 },
};

/** What its page shows of the choices. A programme for children has no messages, whatever was asked for. */
function factsOf(choices: ReelmoorChoices): Record<string, string> {
  const { category, language, messages, audience, tags, embeddable, paidMention, licence, playlist, nextUrl, adverts } = choices;
  if (tags && tags.length > 12) throw new Refusal(422, 'tags', 'A broadcast has 12 tags at most.');
  return {
    ...(category && { category }),
    ...(language && { language }),
    ...(messages && { messages: messages === 'off' ? 'off' : `from ${messages}` }),
    ...(audience && { for: audience === 'adults' ? 'adults of 18 and over' : audience }),
    ...(audience === 'children' && { messages: 'off' }),
    ...(tags && { tags: tags.join(', ') || 'none' }),
    ...(embeddable !== undefined && { 'on other sites': embeddable ? 'yes' : 'no' }),
    ...(paidMention !== undefined && { 'paid mention': paidMention ? 'yes' : 'no' }),
    ...(licence && { terms: licence === 'CC-BY-4.0' ? 'Creative Commons, by attribution' : 'all rights kept' }),
    ...(playlist !== undefined && { playlist: playlist || 'none' }),
    ...(nextUrl !== undefined && { 'shown next': nextUrl || 'anything' }),
    ...(adverts !== undefined && { adverts: adverts ? 'yes' : 'no' }),
  };
}

function standingOf({ phoneVerified, askedAt }: Account): ReelmoorStanding {
  const say = (at: number) => new Date(at).toISOString();
  return {
    phoneVerified,
    firstAskedAt: askedAt === null ? null : say(askedAt),
    allowedFrom: askedAt === null ? null : say(askedAt + WAIT_AFTER_ASKING_MS),
  };
}
