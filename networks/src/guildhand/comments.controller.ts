// Comments beneath Guildhand's talks: a page of threads, whichever was added to last first. A comment that is taken away is gone.
import {
  GuildhandCommentRequest,
  type GuildhandComment,
  type GuildhandCommentData,
  type GuildhandThread,
  type GuildhandThreads,
} from '@lantern/contract/network-http';
import { Body, Controller, Delete, Get, Headers, HttpCode, Param, Post, Query, UseInterceptors } from '@nestjs/common';
import { ApiBearerAuth, ApiOperation, ApiTags } from '@nestjs/swagger';
import { DataSource } from 'typeorm';
import type { EventRow, MessageRow } from '../kit/entities';
import { Events } from '../kit/events';
import { Messages } from '../kit/messages';
import { loginOf } from '../kit/oauth.controller';
import { bodyOf, TroubleInterceptor } from '../kit/own-interface';

const THREADS_ON_A_PAGE = 20;

@ApiTags('Guildhand')
@ApiBearerAuth()
@UseInterceptors(TroubleInterceptor)
@Controller('guildhand/v2')
export class GuildhandCommentsController {
  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
    private readonly messages: Messages,
  ) {}

  @Get('talks/:id/comments')
  @ApiOperation({ summary: 'A page of threads, the one to which something was added last first' })
  async read(@Headers('authorization') bearer: string, @Param('id') id: string, @Query('page') page?: string): Promise<GuildhandThreads> {
    const event = await this.own(bearer, id);
    const threads = threadsOf(await this.messages.all(event.id));
    const from = Math.max(0, Math.floor(Number(page) || 1) - 1) * THREADS_ON_A_PAGE;
    return { data: threads.slice(from, from + THREADS_ON_A_PAGE), more: threads.length > from + THREADS_ON_A_PAGE };
  }

  @Post('talks/:id/comments')
  @ApiOperation({ summary: 'Comments as the organiser. The same Idempotency-Key gives the same comment again' })
  @bodyOf('GuildhandCommentRequest')
  async write(
    @Headers('authorization') bearer: string,
    @Headers('idempotency-key') once: string | undefined,
    @Param('id') id: string,
    @Body() { data }: GuildhandCommentRequest,
  ): Promise<GuildhandComment> {
    const { text, answers } = data.attributes;
    return { data: shown(await this.messages.answer(await this.own(bearer, id), text, answers ?? null, once ?? null)) };
  }

  @Delete('comments/:id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Takes a comment away, for good' })
  async remove(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<void> {
    const { message, event } = await this.messages.find(id);
    await this.own(bearer, event.id);
    await this.messages.remove(message);
  }

  private async own(bearer: string, id: string): Promise<EventRow> {
    return this.events.ofAccount('guildhand', id, await loginOf(this.database, 'guildhand', bearer));
  }
}

function threadsOf(messages: readonly MessageRow[]): GuildhandThread[] {
  const byId = new Map(messages.map((message) => [message.id, message]));
  /** A reply to a reply stands in the same thread; where its opening is gone, it opens one. */
  const openingOf = (message: MessageRow): MessageRow => {
    const above = message.answers === null ? undefined : byId.get(message.answers);
    return above ? openingOf(above) : message;
  };
  const threads = new Map<string, MessageRow[]>();
  for (const message of messages) {
    const { id } = openingOf(message);
    threads.set(id, [...(threads.get(id) ?? []), message]);
  }
  return [...threads.values()]
    .sort((a, b) => b.at(-1)!.place - a.at(-1)!.place)
    .map(([opening, ...replies]) => ({ opening: shown(opening!), replies: replies.map(shown) }));
}

const shown = ({ id, writtenAt, writer, standing, text }: MessageRow): GuildhandCommentData => ({
  type: 'comment',
  id,
  attributes: { text, written: new Date(writtenAt).toISOString(), author: writer, standing: standing === 'account' ? 'organiser' : 'member' },
});
