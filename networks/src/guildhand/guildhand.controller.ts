// Guildhand's HTTP interface.
import {
  GuildhandAttendance,
  GuildhandPictureRequest,
  GuildhandSpeakersRequest,
  GuildhandTalkChange,
  GuildhandTalkRequest,
  type GuildhandAccounts,
  type GuildhandLine,
  type GuildhandRuleChanges,
  type GuildhandSpeakers,
  type GuildhandStanding,
  type GuildhandTalk,
  type GuildhandTalks,
} from '@lantern/contract/network-http';
import { Body, Controller, Get, Headers, HttpCode, Inject, Param, Patch, Post, Put, UseInterceptors } from '@nestjs/common';
import { ApiBearerAuth, ApiOperation, ApiTags } from '@nestjs/swagger';
import { DataSource } from 'typeorm';
import { now } from '../kit/clock';
import type { EventRow, LimitName, Line, SpeakerRow } from '../kit/entities';
import { Events } from '../kit/events';
import { LimitBook } from '../kit/limits';
import { NETWORK_LOOKS } from '../kit/looks';
import { accountsOfLogin, loginOf } from '../kit/oauth.controller';
import { bodyOf, TroubleInterceptor } from '../kit/own-interface';
import { Plays } from '../kit/plays';
import { Refusal } from '../kit/refusal';
import { Speakers } from './speakers';
import { SETTINGS, type Settings } from '../kit/settings';
import { DAY_MS, mustMayBroadcast } from '../kit/standing';
import { checkBeginning, checkOpening, checkTalk, DELAY_SECONDS, durationOf, guildhandRules, lengthOf } from './rules';

const STATE = { planned: 'announced', public: 'open', over: 'closed', withdrawn: 'cancelled' } as const;
const MINUTE_MS = 60_000;
const CHANGES: Record<LimitName, { as: GuildhandRuleChanges['data'][number]['attributes']['rule']; unit: number }> = {
  title: { as: 'title', unit: 1 },
  text: { as: 'summary', unit: 1 },
  ahead: { as: 'days-ahead', unit: DAY_MS },
  lead: { as: 'minutes-before', unit: MINUTE_MS },
  longest: { as: 'longest-hours', unit: 60 * MINUTE_MS },
};

@ApiTags('Guildhand')
@ApiBearerAuth()
@UseInterceptors(TroubleInterceptor)
@Controller('guildhand/v2')
export class GuildhandController {
  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
    private readonly limits: LimitBook,
    private readonly speakers: Speakers,
    private readonly plays: Plays,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    events.register(guildhandRules);
  }

  @Get('rule-changes')
  @ApiOperation({ summary: 'Limits that will change, told in advance' })
  async ruleChanges(): Promise<GuildhandRuleChanges> {
    const changes = await this.limits.announced('guildhand', Object.keys(CHANGES) as LimitName[]);
    return {
      data: changes.map(({ id, limit, value, from }) => {
        const { as, unit } = CHANGES[limit];
        return { type: 'rule-change', id, attributes: { rule: as, becomes: value / unit, from: new Date(from).toISOString() } };
      }),
    };
  }

  @Get('accounts')
  @ApiOperation({ summary: 'The member and the organisations that the sign-in may speak for' })
  async accounts(@Headers('authorization') bearer: string): Promise<GuildhandAccounts> {
    const accounts = await accountsOfLogin(this.database, await this.login(bearer));
    return {
      data: accounts.map(({ id, kind, name }) => ({
        type: kind as 'member' | 'organisation',
        id,
        attributes: { name, portrait: `${this.settings.publicUrl}/portraits/${id}` },
      })),
    };
  }

  @Get('accounts/:account/standing')
  @ApiOperation({ summary: 'What decides whether the account may hold talks' })
  async standing(@Headers('authorization') bearer: string, @Param('account') id: string): Promise<GuildhandStanding> {
    const { openedAt, connections } = await this.events.account('guildhand', id, await this.login(bearer));
    return { data: { type: 'standing', id, attributes: { opened: new Date(openedAt).toISOString(), connections } } };
  }

  @Post('accounts/:account/talks')
  @ApiOperation({ summary: 'Announces a talk. The same Idempotency-Key gives the same talk again' })
  @bodyOf('GuildhandTalkRequest')
  async announce(
    @Headers('authorization') bearer: string,
    @Headers('idempotency-key') idempotencyKey: string | undefined,
    @Param('account') accountId: string,
    @Body() { data: { attributes } }: GuildhandTalkRequest,
  ): Promise<GuildhandTalk> {
    const account = await this.events.account('guildhand', accountId, await this.login(bearer));
    const earlier = await this.events.earlier(accountId, idempotencyKey);
    if (earlier) return this.talk(earlier);
    mustMayBroadcast(account);
    const limits = await this.limits.inForce('guildhand');
    const planned = { title: attributes.title, text: attributes.summary, startsAt: Date.parse(attributes.begins), lengthMs: lengthOf(attributes.lasts) };
    checkTalk(planned, limits);
    checkBeginning(planned.startsAt, limits, now());
    const line = await this.events.makeLine('guildhand', accountId, 'Talk', false);
    const event = await this.events.make({
      network: 'guildhand',
      accountId,
      idempotencyKey: idempotencyKey ?? null,
      ...planned,
      visibility: attributes.audience,
      lineId: line.id,
      beginsBy: 'told',
      delaySeconds: DELAY_SECONDS,
    });
    return this.talk(event);
  }

  @Get('accounts/:account/talks')
  @ApiOperation({ summary: 'What an account has announced' })
  async announced(@Headers('authorization') bearer: string, @Param('account') accountId: string): Promise<GuildhandTalks> {
    await this.events.account('guildhand', accountId, await this.login(bearer));
    const talks = await Promise.all((await this.events.all({ accountId, state: 'planned' })).map((event) => this.talk(event)));
    return { data: talks.map(({ data }) => data) };
  }

  @Get('talks/:id')
  async read(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<GuildhandTalk> {
    return this.talk(await this.events.ofAccount('guildhand', id, await this.login(bearer)));
  }

  @Patch('talks/:id')
  @ApiOperation({ summary: 'Changes title, summary or length; the beginning and the audience are fixed once announced' })
  @bodyOf('GuildhandTalkChange')
  async change(
    @Headers('authorization') bearer: string,
    @Param('id') id: string,
    @Body() { data: { attributes } }: GuildhandTalkChange,
  ): Promise<GuildhandTalk> {
    const event = await this.open(bearer, id);
    if (attributes.begins !== undefined && Date.parse(attributes.begins) !== event.startsAt) {
      throw new Refusal(409, 'begins-locked', 'The beginning of a talk cannot be moved once it is announced.');
    }
    if (attributes.audience !== undefined && attributes.audience !== event.visibility) {
      throw new Refusal(409, 'audience-locked', 'The audience of a talk cannot be changed once it is announced.');
    }
    const changed = {
      title: attributes.title ?? event.title,
      text: attributes.summary ?? event.text,
      lengthMs: attributes.lasts === undefined ? event.lengthMs : lengthOf(attributes.lasts),
    };
    checkTalk(changed, await this.limits.inForce('guildhand'));
    return this.talk(await this.events.save(Object.assign(event, changed)));
  }

  @Put('talks/:id/picture')
  @HttpCode(204)
  @ApiOperation({ summary: 'Sets the picture, with words for those who cannot see it' })
  @bodyOf('GuildhandPictureRequest')
  async picture(@Headers('authorization') bearer: string, @Param('id') id: string, @Body() { data: { attributes } }: GuildhandPictureRequest): Promise<void> {
    const event = await this.open(bearer, id);
    if (event.state === 'public') throw new Refusal(409, 'picture-locked', 'The picture of a talk stays as it is once it is open.');
    if (!attributes.words.trim()) throw new Refusal(422, 'picture-words', 'Say what the picture shows, for those who cannot see it.');
    await this.events.setThumbnail(event, Buffer.from(attributes.bytes, 'base64'), attributes.words);
  }

  @Put('talks/:id/speakers')
  @HttpCode(200)
  @ApiOperation({ summary: 'Invites these speakers, and no others: each is on the page of the talk once they have accepted here' })
  @bodyOf('GuildhandSpeakersRequest')
  async setSpeakers(@Headers('authorization') bearer: string, @Param('id') id: string, @Body() { data }: GuildhandSpeakersRequest): Promise<GuildhandSpeakers> {
    const event = await this.open(bearer, id);
    return this.speakersOf(
      await this.speakers.set(
        event.id,
        data.map(({ id: reference, attributes }) => ({ reference, ...attributes })),
      ),
    );
  }

  @Get('talks/:id/speakers')
  @ApiOperation({ summary: 'Who was invited to speak, and what they answered' })
  async readSpeakers(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<GuildhandSpeakers> {
    const event = await this.events.ofAccount('guildhand', id, await this.login(bearer));
    return this.speakersOf(await this.speakers.of(event.id));
  }

  @Get('talks/:id/line')
  @ApiOperation({ summary: 'The single-use line of a talk' })
  async line(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<GuildhandLine> {
    return this.lineOf((await this.events.line((await this.open(bearer, id)).lineId))!);
  }

  @Post('talks/:id/line/renewal')
  @HttpCode(200)
  @ApiOperation({ summary: 'Issues a new secret for the talk; the old one is good no longer' })
  async renewLine(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<GuildhandLine> {
    return this.lineOf(await this.events.renewKey((await this.events.line((await this.open(bearer, id)).lineId))!));
  }

  @Post('talks/:id/opening')
  @HttpCode(200)
  async openTalk(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<GuildhandTalk> {
    const event = await this.open(bearer, id);
    if (event.state === 'planned') {
      checkOpening(event, now(), this.events.pictureArrives(event));
      await this.events.makePublic(event);
    }
    return this.talk(event);
  }

  @Post('talks/:id/closing')
  @HttpCode(200)
  async close(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<GuildhandTalk> {
    const event = await this.events.ofAccount('guildhand', id, await this.login(bearer));
    if (event.state === 'withdrawn') throw new Refusal(409, 'cancelled', 'This talk was cancelled.');
    await this.events.finish(event);
    return this.talk(event);
  }

  @Post('talks/:id/cancellation')
  @HttpCode(200)
  @ApiOperation({ summary: 'Cancels a talk: it stays, marked as cancelled' })
  async cancel(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<GuildhandTalk> {
    const event = await this.events.ofAccount('guildhand', id, await this.login(bearer));
    await this.events.withdraw(event);
    return this.talk(event);
  }

  @Get('talks/:id/attendance')
  @ApiOperation({ summary: 'How many came while it was open' })
  async attendance(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<GuildhandAttendance> {
    const event = await this.events.ofAccount('guildhand', id, await this.login(bearer));
    if (event.state !== 'over') throw new Refusal(409, 'not-closed', 'Attendance is told once a talk is closed.');
    return { data: { type: 'attendance', attributes: { attended: (await this.plays.of(event)).live } } };
  }

  private login(bearer: string): Promise<string> {
    return loginOf(this.database, 'guildhand', bearer);
  }

  private async open(bearer: string, id: string): Promise<EventRow> {
    return this.events.open('guildhand', id, await this.login(bearer));
  }

  private speakersOf(rows: readonly SpeakerRow[]): GuildhandSpeakers {
    return {
      data: rows.map(({ reference, name, answer, secret }) => ({
        type: 'speaker',
        id: reference,
        attributes: { name, answer },
        links: { invitation: `${this.settings.publicUrl}/guildhand/speaking/${secret}` },
      })),
    };
  }

  private lineOf(line: Line): GuildhandLine {
    return { data: { type: 'line', id: line.id, attributes: { ingest: `${this.settings.rtmpUrl}/guildhand`, secret: line.key } } };
  }

  private async talk(event: EventRow): Promise<GuildhandTalk> {
    const page = `${this.settings.publicUrl}${NETWORK_LOOKS.guildhand.eventPath}/${event.id}`;
    const admission = await this.events.admissionKey(event);
    return {
      data: {
        type: 'talk',
        id: event.id,
        attributes: {
          state: STATE[event.state],
          title: event.title,
          summary: event.text,
          begins: new Date(event.startsAt).toISOString(),
          lasts: durationOf(event.lengthMs),
          audience: event.visibility as 'everyone' | 'invited',
          picture_seen: this.events.pictureArrives(event),
          attending: await this.events.watching(event),
        },
        links: { page, invitation: admission === null ? null : `${page}?as=${admission}` },
      },
    };
  }
}
