// What the team does with messages from networks.
import {
  HoldingChoice,
  MessageAnswer,
  MessageHiding,
  PreparedAnswers,
  SilenceChoice,
  TalkChoice,
  WritingChoice,
  type MessagesView,
  type SaidView,
} from '@lantern/contract';
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Put, Query } from '@nestjs/common';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { MailbagService } from './mailbag.service';

const MessageId = () => Param('messageId', new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, 'This message is not there any more.') }));

@Controller('api/shows/:id/messages')
export class MailbagController {
  constructor(
    private readonly mailbag: MailbagService,
    private readonly shows: ShowsService,
  ) {}

  /** `since`: a revision that was given before; left out, the newest messages come. */
  @May('look at the station')
  @Get()
  async list(@SignedIn() { stationId }: Person, @ShowId() id: string, @Query('since') since?: string): Promise<MessagesView> {
    const revision = /^\d{1,15}$/.test(since ?? '') ? Number(since) : 0;
    return this.mailbag.list((await this.shows.whole(stationId, id)).show, revision);
  }

  @May('help on the stage')
  @Post()
  @HttpCode(200)
  async say(@SignedIn() person: Person, @ShowId() id: string, @Body() { words, key }: MessageAnswer): Promise<SaidView> {
    return this.mailbag.sayEverywhere(person, (await this.shows.whole(person.stationId, id)).show, words, key);
  }

  /** What is held back as it comes, on all channels of the station. */
  @May('help on the stage')
  @Put('rules')
  @HttpCode(204)
  async setRules(@SignedIn() person: Person, @ShowId() id: string, @Body() rules: HoldingChoice): Promise<void> {
    await this.mailbag.setRules(person, (await this.shows.whole(person.stationId, id)).show, rules);
  }

  /** What is offered for answers, at all shows of the station. */
  @May('help on the stage')
  @Put('prepared')
  @HttpCode(204)
  async setPrepared(@SignedIn() person: Person, @ShowId() id: string, @Body() { answers }: PreparedAnswers): Promise<void> {
    await this.mailbag.setPrepared(person, (await this.shows.whole(person.stationId, id)).show, answers);
  }

  /** How the house page takes messages from now on. */
  @May('help on the stage')
  @Put('talk')
  @HttpCode(204)
  async setTalk(@SignedIn() person: Person, @ShowId() id: string, @Body() rules: TalkChoice): Promise<void> {
    await this.mailbag.setTalk(person, (await this.shows.whole(person.stationId, id)).show, rules);
  }

  @May('help on the stage')
  @Put(':messageId/silence')
  @HttpCode(204)
  async silence(@SignedIn() person: Person, @ShowId() id: string, @MessageId() messageId: string, @Body() { silence }: SilenceChoice): Promise<void> {
    await this.mailbag.silence(person, (await this.shows.whole(person.stationId, id)).show, messageId, silence);
  }

  /** Who may write on one channel from now on, how often and what. */
  @May('help on the stage')
  @Put('writers/:channelId')
  @HttpCode(204)
  async setWriting(@SignedIn() person: Person, @ShowId() id: string, @Param('channelId') channelId: string, @Body() writing: WritingChoice): Promise<void> {
    await this.mailbag.setWriting(person, (await this.shows.whole(person.stationId, id)).show, channelId, writing);
  }

  @May('help on the stage')
  @Post(':messageId/answer')
  @HttpCode(204)
  async answer(@SignedIn() person: Person, @ShowId() id: string, @MessageId() messageId: string, @Body() { words, key }: MessageAnswer): Promise<void> {
    await this.mailbag.answer(person, (await this.shows.whole(person.stationId, id)).show, messageId, words, key);
  }

  @May('help on the stage')
  @Put(':messageId/hidden')
  @HttpCode(204)
  async hide(@SignedIn() person: Person, @ShowId() id: string, @MessageId() messageId: string, @Body() { hidden }: MessageHiding): Promise<void> {
    await this.mailbag.setHidden(person, (await this.shows.whole(person.stationId, id)).show, messageId, hidden);
  }

  @May('help on the stage')
  @Post(':messageId/question')
  @HttpCode(204)
  async gather(@SignedIn() { stationId }: Person, @ShowId() id: string, @MessageId() messageId: string): Promise<void> {
    await this.mailbag.gather((await this.shows.whole(stationId, id)).show, messageId);
  }
}
