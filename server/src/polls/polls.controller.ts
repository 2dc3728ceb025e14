// What the team does with polls.
import { PollDraft, type PollView } from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { PollsService } from './polls.service';

const PollId = () => Param('pollId', new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, 'This poll is not there any more.') }));

@Controller('api/shows/:id/polls')
export class PollsController {
  constructor(
    private readonly polls: PollsService,
    private readonly shows: ShowsService,
  ) {}

  @May('look at the station')
  @Get()
  async list(@SignedIn() { stationId }: Person, @ShowId() id: string): Promise<PollView[]> {
    return this.polls.list((await this.shows.whole(stationId, id)).show);
  }

  @May('help on the stage')
  @Post()
  async prepare(@SignedIn() { stationId }: Person, @ShowId() id: string, @Body() draft: PollDraft): Promise<PollView[]> {
    const { show } = await this.shows.whole(stationId, id);
    await this.polls.prepare(show, draft);
    return this.polls.list(show);
  }

  @May('help on the stage')
  @Put(':pollId')
  async change(@SignedIn() { stationId }: Person, @ShowId() id: string, @PollId() pollId: string, @Body() draft: PollDraft): Promise<PollView[]> {
    const { show } = await this.shows.whole(stationId, id);
    await this.polls.change(show, pollId, draft);
    return this.polls.list(show);
  }

  @May('help on the stage')
  @Delete(':pollId')
  async takeAway(@SignedIn() { stationId }: Person, @ShowId() id: string, @PollId() pollId: string): Promise<PollView[]> {
    const { show } = await this.shows.whole(stationId, id);
    await this.polls.takeAway(show, pollId);
    return this.polls.list(show);
  }

  @May('help on the stage')
  @Post(':pollId/open')
  @HttpCode(200)
  async open(@SignedIn() person: Person, @ShowId() id: string, @PollId() pollId: string): Promise<PollView[]> {
    const { show } = await this.shows.whole(person.stationId, id);
    await this.polls.open(person, show, pollId);
    return this.polls.list(show);
  }

  @May('help on the stage')
  @Post(':pollId/close')
  @HttpCode(200)
  async close(@SignedIn() person: Person, @ShowId() id: string, @PollId() pollId: string): Promise<PollView[]> {
    const { show } = await this.shows.whole(person.stationId, id);
    await this.polls.close(person, show, pollId);
    return this.polls.list(show);
  }
}
