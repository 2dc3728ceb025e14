// Reelmoor's messages: read with a cursor, hidden and shown again, answered in threads.
import { ReelmoorMessageChange, ReelmoorMessageRequest, ReelmoorMuting, type ReelmoorMessage, type ReelmoorMessagePage } from '@lantern/contract/network-http';
import { Body, Controller, Get, Headers, Param, Patch, Post, Put, Query, UseInterceptors } from '@nestjs/common';
import { ApiBearerAuth, ApiOperation, ApiTags } from '@nestjs/swagger';
import { DataSource } from 'typeorm';
import { now } from '../kit/clock';
import type { MessageRow } from '../kit/entities';
import { Events } from '../kit/events';
import { Messages } from '../kit/messages';
import { loginOf } from '../kit/oauth.controller';
import { bodyOf, TroubleInterceptor } from '../kit/own-interface';
import { Refusal } from '../kit/refusal';

const ON_A_PAGE = 200;
const WRITER = { account: 'this channel', member: 'follower', follower: 'follower', newcomer: 'newcomer' } as const;

@ApiTags('Reelmoor')
@ApiBearerAuth()
@UseInterceptors(TroubleInterceptor)
@Controller('reelmoor/api')
export class ReelmoorMessagesController {
  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
    private readonly messages: Messages,
  ) {}

  @Get('broadcasts/:id/messages')
  @ApiOperation({ summary: 'Messages after a cursor, or from the first on' })
  async read(@Headers('authorization') bearer: string, @Param('id') id: string, @Query('cursor') cursor?: string): Promise<ReelmoorMessagePage> {
    const event = await this.events.ofAccount('reelmoor', id, await this.login(bearer));
    const place = cursor === undefined ? 0 : Number(/^c(\d{1,15})$/.exec(cursor)?.[1] ?? NaN);
    if (Number.isNaN(place)) throw new Refusal(400, 'cursor', 'This is no cursor of ours.');
    const rows = await this.messages.after(event.id, place, ON_A_PAGE);
    return { items: rows.map(shown), nextCursor: `c${rows.at(-1)?.place ?? place}` };
  }

  @Post('broadcasts/:id/messages')
  @ApiOperation({ summary: 'Writes as the channel. The same Idempotency-Key gives the same message again' })
  @bodyOf('ReelmoorMessageRequest')
  async write(
    @Headers('authorization') bearer: string,
    @Headers('idempotency-key') once: string | undefined,
    @Param('id') id: string,
    @Body() { text, replyTo }: ReelmoorMessageRequest,
  ): Promise<ReelmoorMessage> {
    const event = await this.events.ofAccount('reelmoor', id, await this.login(bearer));
    return shown(await this.messages.answer(event, text, replyTo ?? null, once ?? null));
  }

  @Patch('messages/:id')
  @ApiOperation({ summary: 'Hides a message from everybody but its writer, or shows it again' })
  @bodyOf('ReelmoorMessageChange')
  async change(@Headers('authorization') bearer: string, @Param('id') id: string, @Body() { hidden }: ReelmoorMessageChange): Promise<ReelmoorMessage> {
    const { message, event } = await this.messages.find(id);
    await this.events.ofAccount('reelmoor', event.id, await this.login(bearer));
    return shown(await this.messages.setHidden(message, hidden));
  }

  @Put('messages/:id/writer')
  @ApiOperation({ summary: 'Has whoever wrote a message write nothing more beneath the broadcast for some minutes, or as long as it is there' })
  @bodyOf('ReelmoorMuting')
  async mute(@Headers('authorization') bearer: string, @Param('id') id: string, @Body() { minutes }: ReelmoorMuting): Promise<ReelmoorMuting> {
    const { message, event } = await this.messages.find(id);
    await this.events.ofAccount('reelmoor', event.id, await this.login(bearer));
    await this.messages.mute(message, minutes === null ? null : minutes === 0 ? 0 : now() + minutes * 60_000);
    return { minutes };
  }

  private login(bearer: string): Promise<string> {
    return loginOf(this.database, 'reelmoor', bearer);
  }
}

const shown = ({ id, writtenAt, writer, standing, text, answers, hidden }: MessageRow): ReelmoorMessage => ({
  ...{ messageId: id, writtenAt: new Date(writtenAt).toISOString(), writerName: writer, writerIs: WRITER[standing], text, replyTo: answers, hidden },
});
