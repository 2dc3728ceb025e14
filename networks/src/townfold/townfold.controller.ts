// Townfold's HTTP interface.
import {
  TownfoldGatheringEdit,
  type TownfoldChoices,
  TownfoldGatheringRequest,
  TownfoldNoteRequest,
  type TownfoldGathering,
  type TownfoldGatherings,
  type TownfoldHosting,
  type TownfoldLine,
  type TownfoldLookers,
  type TownfoldNote,
  type TownfoldNotices,
  type TownfoldPartners,
  type TownfoldPlaces,
} from '@lantern/contract/network-http';
import { Body, Controller, Get, Headers, HttpCode, Inject, Param, Post, Req, UseInterceptors } from '@nestjs/common';
import { ApiBearerAuth, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { DataSource } from 'typeorm';
import { now } from '../kit/clock';
import type { EventRow, LimitName, Line } from '../kit/entities';
import { Events } from '../kit/events';
import { LimitBook } from '../kit/limits';
import { NETWORK_LOOKS } from '../kit/looks';
import { accountsOfLogin, loginOf } from '../kit/oauth.controller';
import { bodyOf, TroubleInterceptor } from '../kit/own-interface';
import { Plays } from '../kit/plays';
import { Posts } from '../kit/posts';
import { Refusal } from '../kit/refusal';
import { SETTINGS, type Settings } from '../kit/settings';
import { Shares } from '../kit/shares';
import { DAY_MS, mustMayBroadcast } from '../kit/standing';
import { checkBeginning, checkNote, checkWords, DELAY_SECONDS, townfoldRules } from './rules';

const PHASE = { planned: 'waiting', public: 'showing', over: 'done', withdrawn: 'called_off' } as const;
const MINUTE_MS = 60_000;
const COUNTED_AFTER_MS = 30 * MINUTE_MS;
const ANNOUNCED: Record<LimitName, { as: TownfoldNotices['notices'][number]['about']; unit: number }> = {
  title: { as: 'headline', unit: 1 },
  text: { as: 'words', unit: 1 },
  ahead: { as: 'days_ahead', unit: DAY_MS },
  lead: { as: 'lead_minutes', unit: MINUTE_MS },
  longest: { as: 'longest_hours', unit: 60 * MINUTE_MS },
};

@ApiTags('Townfold')
@ApiBearerAuth()
@UseInterceptors(TroubleInterceptor)
@Controller('townfold/open')
export class TownfoldController {
  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
    private readonly limits: LimitBook,
    private readonly shares: Shares,
    private readonly posts: Posts,
    private readonly plays: Plays,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    events.register(townfoldRules);
  }

  @Get('notices')
  @ApiOperation({ summary: 'Limits that will change, told in advance' })
  async notices(): Promise<TownfoldNotices> {
    const changes = await this.limits.announced('townfold', Object.keys(ANNOUNCED) as LimitName[]);
    return {
      notices: changes.map(({ id, limit, value, from }) => {
        const { as, unit } = ANNOUNCED[limit];
        return { notice_ref: id, about: as, becomes: value / unit, since: Math.floor(from / 1000) };
      }),
    };
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

  @Get('places/:place/hosting')
  @ApiOperation({ summary: 'Whether the sign-in may host there' })
  async hosting(@Headers('authorization') bearer: string, @Param('place') place: string): Promise<TownfoldHosting> {
    const { role, kind, groupAllows } = await this.events.account('townfold', place, await this.login(bearer));
    return { role, group_allows: kind === 'group' ? groupAllows : null };
  }

  @Get('places/:place/partners')
  @ApiOperation({ summary: 'The pages that may be asked to share what is announced at a place' })
  async partners(@Headers('authorization') bearer: string, @Param('place') place: string): Promise<TownfoldPartners> {
    const account = await this.events.account('townfold', place, await this.login(bearer));
    const partners = await this.shares.partnersOf(account);
    return { partners: partners.map(({ id, name, loginId }) => ({ place_ref: id, display_name: name, own: loginId === account.loginId })) };
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
    mustMayBroadcast(account);
    const limits = await this.limits.inForce('townfold');
    const lengthMs = body.lasts_minutes * MINUTE_MS;
    checkWords(body.headline, body.words, lengthMs, limits);
    if (body.shown_to === 'members' && account.kind !== 'group') throw new Refusal(422, 'shown_to', 'Only a group has members.');
    const startsAt = checkBeginning(typeof body.begins_at === 'number' ? body.begins_at * 1000 : null, account, limits, now());
    const line = await this.events.makeLine('townfold', place, 'Gathering', false);
    const event = await this.events.make({
      network: 'townfold',
      accountId: place,
      idempotencyKey: idempotencyKey ?? null,
      title: body.headline,
      text: body.words,
      startsAt,
      lengthMs,
      visibility: body.shown_to,
      lineId: line.id,
      beginsBy: 'picture',
      delaySeconds: DELAY_SECONDS,
      facts: factsOf({ talk: 'everyone', ...body }),
      chosen: chosenOf(body),
    });
    await this.shares.set(event, account, body.share_with ?? []);
    return this.gathering(event);
  }

  @Get('places/:place/gatherings')
  @ApiOperation({ summary: 'What is planned at a place' })
  async planned(@Headers('authorization') bearer: string, @Param('place') place: string): Promise<TownfoldGatherings> {
    await this.events.account('townfold', place, await this.login(bearer));
    return { gatherings: await Promise.all((await this.events.all({ accountId: place, state: 'planned' })).map((event) => this.gathering(event))) };
  }

  @Post('places/:place/notes')
  @ApiOperation({ summary: 'Pins a note to a place. The same Idempotency-Key gives the same note again' })
  @bodyOf('TownfoldNoteRequest')
  async note(
    @Headers('authorization') bearer: string,
    @Headers('idempotency-key') idempotencyKey: string | undefined,
    @Param('place') place: string,
    @Body() { words }: TownfoldNoteRequest,
  ): Promise<TownfoldNote> {
    const account = await this.events.account('townfold', place, await this.login(bearer));
    const limits = await this.limits.inForce('townfold');
    const { id, text } = await this.posts.make(account, words, idempotencyKey ?? null, () => checkNote(words, limits));
    return { note_ref: id, words: text, page_address: `${this.settings.publicUrl}${NETWORK_LOOKS.townfold.accountPath}/${place}#post-${id}` };
  }

  @Get('gatherings/:ref')
  async read(@Headers('authorization') bearer: string, @Param('ref') ref: string): Promise<TownfoldGathering> {
    return this.gathering(await this.events.ofAccount('townfold', ref, await this.login(bearer)));
  }

  @Get('gatherings/:ref/line')
  @ApiOperation({ summary: 'The single-use line of a gathering' })
  async line(@Headers('authorization') bearer: string, @Param('ref') ref: string): Promise<TownfoldLine> {
    return this.lineOf((await this.events.line((await this.open(bearer, ref)).lineId))!);
  }

  @Post('gatherings/:ref/line/renew')
  @HttpCode(200)
  @ApiOperation({ summary: 'Issues a new key for the gathering; the old one is good no longer' })
  async renewLine(@Headers('authorization') bearer: string, @Param('ref') ref: string): Promise<TownfoldLine> {
    return this.lineOf(await this.events.renewKey((await this.events.line((await this.open(bearer, ref)).lineId))!));
  }

  @Post('gatherings/:ref/edit')
  @HttpCode(200)
  @ApiOperation({ summary: 'Changes words or time; the place is fixed once announced' })
  @bodyOf('TownfoldGatheringEdit')
  async edit(@Headers('authorization') bearer: string, @Param('ref') ref: string, @Body() body: TownfoldGatheringEdit): Promise<TownfoldGathering> {
    const event = await this.open(bearer, ref);
    const limits = await this.limits.inForce('townfold');
    const title = body.headline ?? event.title;
    const text = body.words ?? event.text;
    const lengthMs = body.lasts_minutes === undefined ? event.lengthMs : body.lasts_minutes * MINUTE_MS;
    checkWords(title, text, lengthMs, limits);
    let startsAt = event.startsAt;
    if (body.begins_at !== undefined && body.begins_at * 1000 !== event.startsAt) {
      if (event.state !== 'planned') throw new Refusal(409, 'begins_at', 'This gathering has begun.');
      startsAt = checkBeginning(body.begins_at * 1000, await this.events.accountOf(event), limits, now());
    }
    const account = await this.events.accountOf(event);
    if (body.shown_to === 'members' && account.kind !== 'group') throw new Refusal(422, 'shown_to', 'Only a group has members.');
    const visibility = body.shown_to ?? event.visibility;
    const facts = { ...event.facts, ...factsOf(body) };
    const chosen = { ...event.chosen, ...chosenOf(body) };
    if (body.share_with) await this.shares.set(event, account, body.share_with);
    return this.gathering(await this.events.save(Object.assign(event, { title, text, startsAt, lengthMs, visibility, facts, chosen })));
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

  @Get('gatherings/:ref/lookers')
  @ApiOperation({ summary: 'How many looked at it, counted half an hour after it is over' })
  async lookers(@Headers('authorization') bearer: string, @Param('ref') ref: string): Promise<TownfoldLookers> {
    const event = await this.events.ofAccount('townfold', ref, await this.login(bearer));
    if (event.state !== 'over' || now() < event.endedAt! + COUNTED_AFTER_MS)
      throw new Refusal(409, 'not-counted', 'Lookers are counted half an hour after the end.');
    const { live, since } = await this.plays.of(event);
    return { looked_then: live, looked_later: since };
  }

  private login(bearer: string): Promise<string> {
    return loginOf(this.database, 'townfold', bearer);
  }

  private async open(bearer: string, ref: string): Promise<EventRow> {
    return this.events.open('townfold', ref, await this.login(bearer));
  }

  private lineOf(line: Line): TownfoldLine {
    return { send_to: `${this.settings.rtmpUrl}/townfold`, pass_phrase: line.key };
  }

  private async gathering(event: EventRow): Promise<TownfoldGathering> {
    const page = `${this.settings.publicUrl}${NETWORK_LOOKS.townfold.eventPath}/${event.id}`;
    const admission = await this.events.admissionKey(event);
    return {
      gathering_ref: event.id,
      phase: PHASE[event.state],
      headline: event.title,
      words: event.text,
      begins_at: event.startsAt / 1000,
      lasts_minutes: Math.ceil(event.lengthMs / MINUTE_MS),
      shown_to: event.visibility as 'everyone' | 'members',
      talk: townfoldRules.mayWrite(event) === 'everyone' ? 'everyone' : 'followers',
      ...({ from_age: 0, shared_from: 'announced', only_in: [], not_in: [], shortest_remark: 0, ...event.chosen } as const),
      shares: (await this.shares.of(event)).map(({ account, answer }) => ({ place_ref: account.id, display_name: account.name, answer })),
      picture_in: this.events.pictureArrives(event),
      onlookers: await this.events.watching(event),
      page_address: page,
      stream_address: event.state === 'public' ? `${page}/live.m3u8` : null,
      members_address: admission === null ? null : `${page}?as=${admission}`,
    };
  }
}

/** What is asked for, as far as it can be had. */
function chosenOf({ from_age, only_in, not_in, shortest_remark, shared_from }: TownfoldChoices): Omit<TownfoldChoices, 'talk'> {
  if (only_in?.length && not_in?.length) throw new Refusal(422, 'only_in', 'Name the countries it is shown in, or those it is not shown in.');
  return {
    ...(from_age !== undefined && { from_age }),
    ...(only_in && { only_in }),
    ...(not_in && { not_in }),
    ...(shortest_remark !== undefined && { shortest_remark }),
    ...(shared_from && { shared_from }),
  };
}

/** What its page shows of the choices. */
function factsOf({ talk, from_age, only_in, not_in }: TownfoldChoices): Record<string, string> {
  const shown = only_in?.length ? `in ${only_in.join(', ')}` : not_in?.length ? `not in ${not_in.join(', ')}` : 'everywhere';
  return {
    ...(talk && { talk: `from ${talk}` }),
    ...(from_age !== undefined && { for: from_age ? 'neighbours of 18 and over' : 'everybody' }),
    ...((only_in || not_in) && { shown }),
  };
}
