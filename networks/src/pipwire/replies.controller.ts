// Replies to Pipwire's casts: written and folded away here, read on a socket.
import { PipwireFold, PipwireHush, PipwireReplyRequest, type PipwireReply } from '@lantern/contract/network-http';
import { Body, Controller, Headers, HttpCode, Param, Post, UseInterceptors } from '@nestjs/common';
import { ApiBearerAuth, ApiOperation, ApiTags } from '@nestjs/swagger';
import { DataSource } from 'typeorm';
import { Events } from '../kit/events';
import { Messages } from '../kit/messages';
import { loginOf } from '../kit/oauth.controller';
import { bodyOf, TroubleInterceptor } from '../kit/own-interface';
import { replyOf } from './reply-feed';

@ApiTags('Pipwire')
@ApiBearerAuth()
@UseInterceptors(TroubleInterceptor)
@Controller('pipwire/1')
export class PipwireRepliesController {
  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
    private readonly messages: Messages,
  ) {}

  @Post('casts/:cast/replies')
  @ApiOperation({ summary: 'Replies as the handle. Replies are read on the socket at casts/{cast}/replies/feed?after={place}' })
  @bodyOf('PipwireReplyRequest')
  async reply(@Headers('authorization') bearer: string, @Param('cast') cast: string, @Body() { say, to, nonce }: PipwireReplyRequest): Promise<PipwireReply> {
    const event = await this.events.ofAccount('pipwire', cast, await loginOf(this.database, 'pipwire', bearer));
    return replyOf(await this.messages.answer(event, say, to ?? null, nonce));
  }

  @Post('replies/:reply/fold')
  @HttpCode(200)
  @ApiOperation({ summary: 'Folds a reply away, or unfolds it' })
  @bodyOf('PipwireFold')
  async fold(@Headers('authorization') bearer: string, @Param('reply') id: string, @Body() { folded }: PipwireFold): Promise<PipwireReply> {
    const { message, event } = await this.messages.find(id);
    await this.events.ofAccount('pipwire', event.id, await loginOf(this.database, 'pipwire', bearer));
    return replyOf(await this.messages.setHidden(message, folded));
  }

  @Post('replies/:reply/hush')
  @HttpCode(200)
  @ApiOperation({ summary: 'Has whoever wrote a reply write no more beneath the cast, or lets them' })
  @bodyOf('PipwireHush')
  async hush(@Headers('authorization') bearer: string, @Param('reply') id: string, @Body() { hushed }: PipwireHush): Promise<PipwireHush> {
    const { message, event } = await this.messages.find(id);
    await this.events.ofAccount('pipwire', event.id, await loginOf(this.database, 'pipwire', bearer));
    await this.messages.mute(message, hushed ? null : 0);
    return { hushed };
  }
}
