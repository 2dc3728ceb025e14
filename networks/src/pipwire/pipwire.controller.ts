// Pipwire's HTTP interface.
import {
  PipwireCastRequest,
  PipwirePostRequest,
  type PipwireCast,
  type PipwireChanges,
  type PipwireHandles,
  type PipwireLine,
  type PipwirePicture,
  type PipwirePost,
} from '@lantern/contract/network-http';
import { Body, Controller, Delete, Get, Headers, HttpCode, Inject, Param, Post, Req, UseInterceptors } from '@nestjs/common';
import { ApiBearerAuth, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { existsSync } from 'node:fs';
import { rename, writeFile } from 'node:fs/promises';
import { DataSource } from 'typeorm';
import { now } from '../kit/clock';
import type { Account, EventRow, LimitName, Line } from '../kit/entities';
import { Events } from '../kit/events';
import { LimitBook } from '../kit/limits';
import { NETWORK_LOOKS } from '../kit/looks';
import { accountsOfLogin, loginOf } from '../kit/oauth.controller';
import { bodyOf, TroubleInterceptor } from '../kit/own-interface';
import { Posts } from '../kit/posts';
import { Refusal } from '../kit/refusal';
import { newId } from '../kit/secrets';
import { SETTINGS, type Settings } from '../kit/settings';
import { mustMayBroadcast } from '../kit/standing';
import { checkSaying, DELAY_SECONDS, pipwireRules } from './rules';

const IS = { planned: 'waiting', public: 'live', over: 'gone', withdrawn: 'removed' } as const;
const HOUR_MS = 3_600_000;
const CHANGES: Partial<Record<LimitName, { as: PipwireChanges['changes'][number]['what']; unit: number }>> = {
  text: { as: 'characters', unit: 1 },
  longest: { as: 'longest_hours', unit: HOUR_MS },
};

@ApiTags('Pipwire')
@ApiBearerAuth()
@UseInterceptors(TroubleInterceptor)
@Controller('pipwire/1')
export class PipwireController {
  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
    private readonly limits: LimitBook,
    private readonly posts: Posts,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    events.register(pipwireRules);
  }

  @Get('changes')
  @ApiOperation({ summary: 'Limits that will change, told in advance' })
  async changes(): Promise<PipwireChanges> {
    const changes = await this.limits.announced('pipwire', Object.keys(CHANGES) as LimitName[]);
    return {
      changes: changes.map(({ id, limit, value, from }) => ({ id, what: CHANGES[limit]!.as, to: value / CHANGES[limit]!.unit, at: from })),
    };
  }

  @Get('handles')
  @ApiOperation({ summary: 'The handles that the sign-in may speak for' })
  async handles(@Headers('authorization') bearer: string): Promise<PipwireHandles> {
    const accounts = await accountsOfLogin(this.database, await this.login(bearer));
    return {
      handles: accounts.map(({ id, name, followers }) => ({
        handle: id,
        shown_as: name,
        face: `${this.settings.publicUrl}/portraits/${id}`,
        followers,
      })),
    };
  }

  @Post('handles/:handle/pictures')
  @ApiOperation({ summary: 'Takes a picture for a cast to come: the request body is the file' })
  async picture(@Headers('authorization') bearer: string, @Param('handle') handle: string, @Req() request: Request): Promise<PipwirePicture> {
    await this.account(bearer, handle);
    const bytes = request.body as Buffer;
    await this.events.checkThumbnail('pipwire', bytes);
    const picture = newId();
    await writeFile(this.events.thumbnailPath({ id: picture }), bytes);
    return { picture };
  }

  @Post('handles/:handle/casts')
  @ApiOperation({ summary: 'Makes a cast. It begins when its picture arrives and cannot be changed' })
  @bodyOf('PipwireCastRequest')
  async make(@Headers('authorization') bearer: string, @Param('handle') handle: string, @Body() body: PipwireCastRequest): Promise<PipwireCast> {
    const account = await this.account(bearer, handle);
    const earlier = await this.events.earlier(handle, body.nonce);
    if (earlier) return this.cast(earlier);
    mustMayBroadcast(account);
    checkSaying(body.say, await this.limits.inForce('pipwire'));
    const open = (await this.events.all({ accountId: handle })).some(({ state }) => state === 'planned' || state === 'public');
    if (open) throw new Refusal(409, 'one-at-a-time', 'Another cast of this handle is open. Stop or remove it first.');
    const line = await this.lineOf(account);
    const event = await this.events.make({
      network: 'pipwire',
      accountId: handle,
      idempotencyKey: body.nonce,
      title: '',
      text: body.say,
      startsAt: now(),
      lengthMs: 0,
      visibility: 'everyone',
      lineId: line.id,
      beginsBy: 'picture',
      delaySeconds: DELAY_SECONDS,
      replay: false,
    });
    const sent = body.picture && /^\w+$/.test(body.picture) ? this.events.thumbnailPath({ id: body.picture }) : null;
    if (sent && existsSync(sent)) {
      await rename(sent, this.events.thumbnailPath(event));
      await this.events.save(Object.assign(event, { thumbnailType: 'image/jpeg' }));
    }
    return this.cast(event);
  }

  @Post('handles/:handle/posts')
  @ApiOperation({ summary: 'Says something without a picture that moves. The same nonce gives the same post again' })
  @bodyOf('PipwirePostRequest')
  async post(@Headers('authorization') bearer: string, @Param('handle') handle: string, @Body() { say, nonce }: PipwirePostRequest): Promise<PipwirePost> {
    const account = await this.account(bearer, handle);
    const limits = await this.limits.inForce('pipwire');
    const { id, text } = await this.posts.make(account, say, nonce, () => checkSaying(say, limits));
    return { post: id, say: text, link: `${this.settings.publicUrl}${NETWORK_LOOKS.pipwire.accountPath}/${handle}#post-${id}` };
  }

  @Get('casts/:cast')
  async read(@Headers('authorization') bearer: string, @Param('cast') id: string): Promise<PipwireCast> {
    return this.cast(await this.events.ofAccount('pipwire', id, await this.login(bearer)));
  }

  @Post('casts/:cast/stop')
  @HttpCode(200)
  async stop(@Headers('authorization') bearer: string, @Param('cast') id: string): Promise<PipwireCast> {
    const event = await this.events.ofAccount('pipwire', id, await this.login(bearer));
    if (event.state !== 'withdrawn') await this.events.finish(event);
    return this.cast(event);
  }

  @Delete('casts/:cast')
  @HttpCode(204)
  @ApiOperation({ summary: 'Removes a cast and everything that was said beneath it' })
  async remove(@Headers('authorization') bearer: string, @Param('cast') id: string): Promise<void> {
    await this.events.withdraw(await this.events.ofAccount('pipwire', id, await this.login(bearer)));
  }

  @Get('handles/:handle/line')
  @ApiOperation({ summary: 'The one lasting line of a handle' })
  async line(@Headers('authorization') bearer: string, @Param('handle') handle: string): Promise<PipwireLine> {
    return this.shown(await this.lineOf(await this.account(bearer, handle)));
  }

  @Post('handles/:handle/line/new-key')
  @HttpCode(200)
  @ApiOperation({ summary: 'Issues a new key; the old one is good no longer' })
  async newKey(@Headers('authorization') bearer: string, @Param('handle') handle: string): Promise<PipwireLine> {
    return this.shown(await this.events.renewKey(await this.lineOf(await this.account(bearer, handle))));
  }

  private login(bearer: string): Promise<string> {
    return loginOf(this.database, 'pipwire', bearer);
  }

  private async account(bearer: string, handle: string): Promise<Account> {
    return this.events.account('pipwire', handle, await this.login(bearer));
  }

  private async lineOf(account: Account): Promise<Line> {
    const [line] = await this.events.lines(account.id);
    return line ?? this.events.makeLine('pipwire', account.id, 'Line', true);
  }

  private shown(line: Line): PipwireLine {
    return { push_to: `${this.settings.rtmpUrl}/pipwire`, key: line.key };
  }

  private async cast(event: EventRow): Promise<PipwireCast> {
    const link = `${this.settings.publicUrl}${NETWORK_LOOKS.pipwire.eventPath}/${event.id}`;
    return {
      cast: event.id,
      is: IS[event.state],
      say: event.text,
      picture_comes: this.events.pictureArrives(event),
      eyes: await this.events.watching(event),
      link,
      plays: event.state === 'public' ? `${link}/live.m3u8` : null,
    };
  }
}
