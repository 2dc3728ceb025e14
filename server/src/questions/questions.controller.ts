// What the team does with questions from the house page.
import { QuestionChange, QuestionsTaken, type QuestionsView } from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Patch, Post, Put } from '@nestjs/common';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { QuestionsService } from './questions.service';

const QuestionId = () => Param('questionId', new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, 'This question is not there any more.') }));

@Controller('api/shows/:id/questions')
export class QuestionsController {
  constructor(
    private readonly questions: QuestionsService,
    private readonly shows: ShowsService,
  ) {}

  @May('look at the station')
  @Get()
  async list(@SignedIn() { stationId }: Person, @ShowId() id: string): Promise<QuestionsView> {
    return this.questions.list((await this.shows.whole(stationId, id)).show);
  }

  @May('help on the stage')
  @Put('taken')
  async setTaken(@SignedIn() { stationId }: Person, @ShowId() id: string, @Body() { taken }: QuestionsTaken): Promise<QuestionsView> {
    const { show } = await this.shows.whole(stationId, id);
    await this.questions.setTaken(show, taken);
    return this.questions.list(show);
  }

  @May('help on the stage')
  @Patch(':questionId')
  async change(@SignedIn() { stationId }: Person, @ShowId() id: string, @QuestionId() questionId: string, @Body() body: QuestionChange) {
    const { show } = await this.shows.whole(stationId, id);
    await this.questions.change(show, questionId, body);
    return this.questions.list(show);
  }

  @May('write to people')
  @Post(':questionId/place')
  @HttpCode(200)
  async offer(@SignedIn() person: Person, @ShowId() id: string, @QuestionId() questionId: string): Promise<QuestionsView> {
    const { show } = await this.shows.whole(person.stationId, id);
    await this.questions.offerPlace(person, show, questionId);
    return this.questions.list(show);
  }

  @May('write to people')
  @Delete(':questionId/place')
  async takeBack(@SignedIn() person: Person, @ShowId() id: string, @QuestionId() questionId: string): Promise<QuestionsView> {
    const { show } = await this.shows.whole(person.stationId, id);
    await this.questions.takePlaceBack(person, show, questionId);
    return this.questions.list(show);
  }
}
