// What is said at Townfold's gatherings: whoever asks for more waits until there is some. There are no threads.
import { TownfoldBarring, TownfoldRemarkChange, TownfoldRemarkRequest, type TownfoldRemark, type TownfoldTalk } from '@lantern/contract/network-http';
import { Body, Controller, Get, Headers, HttpCode, Param, Post, Query, Res, UseInterceptors } from '@nestjs/common';
import { ApiBearerAuth, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { first, firstValueFrom, fromEvent, map, merge, timer } from 'rxjs';
import { DataSource } from 'typeorm';
import type { EventRow, MessageRow } from '../kit/entities';
import { Events } from '../kit/events';
import { Messages } from '../kit/messages';
import { loginOf } from '../kit/oauth.controller';
import { bodyOf, TroubleInterceptor } from '../kit/own-interface';

const AT_ONCE = 200;
const LONGEST_WAIT_S = 25;
const BOND = { account: 'host', member: 'follower', follower: 'follower', newcomer: 'passer-by' } as const;

@ApiTags('Townfold')
@ApiBearerAuth()
@UseInterceptors(TroubleInterceptor)
@Controller('townfold/open')
export class TownfoldTalkController {
  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
    private readonly messages: Messages,
  ) {}

  @Get('gatherings/:ref/talk')
  @ApiOperation({ summary: 'What was said after a place. Where there is nothing yet, the answer waits for it, as many seconds as were asked for' })
  async listen(
    @Headers('authorization') bearer: string,
    @Param('ref') ref: string,
    @Query('after') after: string | undefined,
    @Query('wait') wait: string | undefined,
    @Res({ passthrough: true }) response: Response,
  ): Promise<TownfoldTalk> {
    const event = await this.own(bearer, ref);
    const place = Math.max(0, Math.floor(Number(after) || 0));
    const waitS = Math.min(LONGEST_WAIT_S, Math.max(0, Number(wait) || 0));
    // Listened for before it is looked, so that nothing falls in between.
    const news = firstValueFrom(
      merge(this.messages.of(event.id), timer(waitS * 1_000), fromEvent(response, 'close')).pipe(
        first(),
        map(() => null),
      ),
    );
    let rows = await this.messages.after(event.id, place, AT_ONCE);
    if (!rows.length && waitS > 0) {
      await news;
      rows = await this.messages.after(event.id, place, AT_ONCE);
    }
    return { remarks: rows.map(shown), upto: rows.at(-1)?.place ?? place };
  }

  @Post('gatherings/:ref/talk')
  @ApiOperation({ summary: 'Says something as the host. The same Idempotency-Key gives the same remark again' })
  @bodyOf('TownfoldRemarkRequest')
  async say(
    @Headers('authorization') bearer: string,
    @Headers('idempotency-key') once: string | undefined,
    @Param('ref') ref: string,
    @Body() { words }: TownfoldRemarkRequest,
  ): Promise<TownfoldRemark> {
    return shown(await this.messages.answer(await this.own(bearer, ref), words, null, once ?? null));
  }

  @Post('remarks/:remark')
  @HttpCode(200)
  @ApiOperation({ summary: 'Hides a remark from everybody but whoever made it, or shows it again' })
  @bodyOf('TownfoldRemarkChange')
  async change(@Headers('authorization') bearer: string, @Param('remark') id: string, @Body() { hidden }: TownfoldRemarkChange): Promise<TownfoldRemark> {
    const { message, event } = await this.messages.find(id);
    await this.own(bearer, event.id);
    return shown(await this.messages.setHidden(message, hidden));
  }

  @Post('remarks/:remark/speaker')
  @HttpCode(200)
  @ApiOperation({ summary: 'Bars whoever made a remark from saying more at the gathering, or lets them again' })
  @bodyOf('TownfoldBarring')
  async bar(@Headers('authorization') bearer: string, @Param('remark') id: string, @Body() { barred }: TownfoldBarring): Promise<TownfoldBarring> {
    const { message, event } = await this.messages.find(id);
    await this.own(bearer, event.id);
    await this.messages.mute(message, barred ? null : 0);
    return { barred };
  }

  private async own(bearer: string, ref: string): Promise<EventRow> {
    return this.events.ofAccount('townfold', ref, await loginOf(this.database, 'townfold', bearer));
  }
}

const shown = ({ id, writtenAt, writer, standing, text, hidden }: MessageRow): TownfoldRemark => ({
  ...{ remark_ref: id, said_at: writtenAt, by: writer, bond: BOND[standing], words: text, hidden },
});
