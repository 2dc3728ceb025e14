// Questions of visitors: asked without an account, followed by the browser that asked, and by nobody else.
import { KeysShown, PlaceAnswer, QuestionAsked, type OwnQuestion, type PlaceAnswered } from '@lantern/contract';
import { Body, Controller, Header, HttpCode, Param, Post, Req } from '@nestjs/common';
import { Throttle } from '@nestjs/throttler';
import type { Request } from 'express';
import { Public } from '../people/signed-in';
import { QuestionsService } from '../questions/questions.service';
import { FEW, VisitorsService } from './visitors.service';

/** Pages ask every few seconds what became of theirs; a household has several. */
const FOLLOWING = { default: { limit: 240, ttl: 60_000 } };

@Public()
@Throttle(FOLLOWING)
@Controller('api/house/:slug/questions')
export class HouseQuestionsController {
  constructor(
    private readonly visitors: VisitorsService,
    private readonly questions: QuestionsService,
  ) {}

  @Throttle(FEW)
  @Post()
  async ask(@Req() request: Request, @Param('slug') slug: string, @Body() body: QuestionAsked): Promise<OwnQuestion> {
    const { show } = await this.visitors.admit(request, slug);
    return this.questions.ask(show, body);
  }

  @Post('own')
  @HttpCode(200)
  @Header('cache-control', 'no-store')
  async own(@Req() request: Request, @Param('slug') slug: string, @Body() { keys }: KeysShown): Promise<Record<string, OwnQuestion>> {
    const { show } = await this.visitors.admit(request, slug);
    return this.questions.own(show, keys);
  }

  @Post('place')
  @HttpCode(200)
  @Header('cache-control', 'no-store')
  async place(@Req() request: Request, @Param('slug') slug: string, @Body() { key, comes }: PlaceAnswer): Promise<PlaceAnswered> {
    const { show, station } = await this.visitors.admit(request, slug);
    return this.questions.answerPlace(show, station.id, key, comes);
  }
}
