// Townfold's HTTP interface.
import {
  TownfoldGatheringEdit,
  TownfoldGatheringRequest,
  type TownfoldGathering,
  type TownfoldLine,
  type TownfoldPlaces,
} from '@lantern/contract/network-http';
import { Body, Controller, Get, Headers, HttpCode, Inject, Param, Post, Req, UseInterceptors } from '@nestjs/common';
import { ApiBearerAuth, ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { DataSource } from 'typeorm';
import { now } from '../kit/clock';
import { EventRow } from '../kit/entities';
import { Events } from '../kit/events';
import { accountsOfLogin, loginOf } from '../kit/oauth.controller';
import { TroubleInterceptor } from '../kit/own-interface';
import { Refusal } from '../kit/refusal';
import { newId } from '../kit/secrets';
import { SETTINGS, type Settings } from '../kit/settings';
import { WATCH_PATH } from '../kit/watch.controller';
import { checkBeginning, checkWords, TOWNFOLD, townfoldRules } from './rules';

const PHASE = { planned: 'waiting', public: 'showing', over: 'done', withdrawn: 'called_off' } as const;
const bodyOf = (name: string) => ApiBody({ schema: { $ref: `#/components/schemas/${name}` } });

@ApiTags('Townfold')
@ApiBearerAuth()
@UseInterceptors(TroubleInterceptor)
@Controller('townfold/open')
export class TownfoldController {
  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    events.register(townfoldRules);
  }

  @Get('places')
  @ApiOperation({ summary: 'The pages, groups and profiles that the sign-in may speak for' })
  async places(@Headers('authorization') bearer: string): Promise<TownfoldPlaces> {
    const accounts = await accountsOfLogin(this.database, await this.login(bearer));
    return {
      places: accounts.map(({ id, kind, name }) => ({
        place_ref: id,
        place_kind: kind as 'page' | 'group' | 'profile',
        display_name: name,
        portrait: `${this.settings.publicUrl}/portraits/${id}`,
      })),
    };
  }

  @Post('places/:place/gatherings')
  @ApiOperation({ summary: 'Announces a gathering. The same Idempotency-Key gives the same gathering again' })
  @bodyOf('TownfoldGatheringRequest')
  async announce(
    @Headers('authorization') bearer: string,
    @Headers('idempotency-key') idempotencyKey: string | undefined,
    @Param('place') place: string,
    @Body() body: TownfoldGatheringRequest,
  ): Promise<TownfoldGathering> {
    const account = await this.events.account('townfold', place, await this.login(bearer));
    const earlier = await this.events.earlier(place, idempotencyKey);
    if (earlier) return this.gathering(earlier);
    checkWords(body.headline, body.words);
    const startsAt = checkBeginning(typeof body.begins_at === 'number' ? body.begins_at * 1000 : null, account, now());
    const line = await this.events.makeLine('townfold', place, 'Gathering', false);
    const event = Object.assign(new EventRow(), {
      id: newId(),
      network: 'townfold',
      accountId: place,
      idempotencyKey: idempotencyKey ?? null,
      title: body.headline,
      text: body.words,
      startsAt,
      visibility: body.shown_to,
      state: 'planned',
      lineId: line.id,
      beginsBy: 'picture',
      delaySeconds: TOWNFOLD.delaySeconds,
      thumbnailType: null,
      publicAt: null,
      endedAt: null,
    } satisfies EventRow);
    return this.gathering(await this.events.save(event));
  }

  @Get('gatherings/:ref')
  async read(@Headers('authorization') bearer: string, @Param('ref') ref: string): Promise<TownfoldGathering> {
    return this.gathering(await this.events.ofAccount('townfold', ref, await this.login(bearer)));
  }

  @Get('gatherings/:ref/line')
  @ApiOperation({ summary: 'The single-use line of a gathering' })
  async line(@Headers('authorization') bearer: string, @Param('ref') ref: string): Promise<TownfoldLine> {
    const event = await this.open(bearer, ref);
    const line = await this.events.line(event.lineId);
    return { send_to: `${this.settings.rtmpUrl}/townfold`, pass_phrase: line!.key };
  }

  @Post('gatherings/:ref/edit')
  @HttpCode(200)
  @ApiOperation({ summary: 'Changes words or time; the place is fixed once announced' })
  @bodyOf('TownfoldGatheringEdit')
  async edit(@Headers('authorization') bearer: string, @Param('ref') ref: string, @Body() body: TownfoldGatheringEdit): Promise<TownfoldGathering> {
    const event = await this.open(bearer, ref);
    const title = body.headline ?? event.title;
    const text = body.words ?? event.text;
    checkWords(title, text);
    let startsAt = event.startsAt;
    if (body.begins_at !== undefined && body.begins_at * 1000 !== event.startsAt) {
      if (event.state !== 'planned') throw new Refusal(409, 'begins_at', 'This gathering has begun.');
      startsAt = checkBeginning(body.begins_at * 1000, await this.events.accountOf(event), now());
    }
    return this.gathering(await this.events.save(Object.assign(event, { title, text, startsAt })));
  }

  @Post('gatherings/:ref/picture')
  @HttpCode(204)
  @ApiOperation({ summary: 'Sets the picture: the request body is the file' })
  async picture(@Headers('authorization') bearer: string, @Param('ref') ref: string, @Req() request: Request): Promise<void> {
    await this.events.setThumbnail(await this.open(bearer, ref), request.body as Buffer);
  }

  @Post('gatherings/:ref/start')
  @HttpCode(200)
  @ApiOperation({ summary: 'Asks to begin. Gatherings begin by themselves at their time, so before it this is refused' })
  async start(@Headers('authorization') bearer: string, @Param('ref') ref: string): Promise<TownfoldGathering> {
    const event = await this.open(bearer, ref);
    if (event.state === 'planned') {
      if (now() < event.startsAt) throw new Refusal(409, 'too-early', 'This gathering begins by itself at its time.');
      if (!this.events.pictureArrives(event)) throw new Refusal(409, 'no-picture', 'No picture comes in for this gathering.');
      await this.events.makePublic(event);
    }
    return this.gathering(event);
  }

  @Post('gatherings/:ref/finish')
  @HttpCode(200)
  async finish(@Headers('authorization') bearer: string, @Param('ref') ref: string): Promise<TownfoldGathering> {
    const event = await this.events.ofAccount('townfold', ref, await this.login(bearer));
    if (event.state === 'withdrawn') throw new Refusal(409, 'called-off', 'This gathering was called off.');
    await this.events.finish(event);
    return this.gathering(event);
  }

  @Post('gatherings/:ref/call-off')
  @HttpCode(200)
  @ApiOperation({ summary: 'Calls the gathering off; a recording is kept' })
  async callOff(@Headers('authorization') bearer: string, @Param('ref') ref: string): Promise<TownfoldGathering> {
    const event = await this.events.ofAccount('townfold', ref, await this.login(bearer));
    await this.events.withdraw(event);
    return this.gathering(event);
  }

  private login(bearer: string): Promise<string> {
    return loginOf(this.database, 'townfold', bearer);
  }

  private async open(bearer: string, ref: string): Promise<EventRow> {
    const event = await this.events.ofAccount('townfold', ref, await this.login(bearer));
    if (event.state === 'over' || event.state === 'withdrawn') throw new Refusal(409, 'done', 'This gathering is done.');
    return event;
  }

  private async gathering(event: EventRow): Promise<TownfoldGathering> {
    return {
      gathering_ref: event.id,
      phase: PHASE[event.state],
      headline: event.title,
      words: event.text,
      begins_at: event.startsAt / 1000,
      picture_in: this.events.pictureArrives(event),
      onlookers: await this.events.watching(event),
      page_address: `${this.settings.publicUrl}${WATCH_PATH.townfold}/${event.id}`,
    };
  }
}
