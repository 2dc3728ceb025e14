import { BeginAir, SignalTold, type AirView, type OnAirSummary, type WatchingView, type WrapResult } from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Param, Post } from '@nestjs/common';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { AirService } from './air.service';
import { ByItself } from './by-itself';

@Controller('api/shows/:id')
export class AirController {
  constructor(
    private readonly air: AirService,
    private readonly byItself: ByItself,
  ) {}

  @May('look at the station')
  @Get('air')
  read(@SignedIn() person: Person, @ShowId() id: string): Promise<AirView> {
    return this.air.view(person.stationId, id);
  }

  /** How many watch, now and over the last hour. */
  @May('look at the station')
  @Get('watching')
  watching(@SignedIn() person: Person, @ShowId() id: string): Promise<WatchingView> {
    return this.air.watching(person.stationId, id);
  }

  /** How it goes out, as the stage that sends measures it; kept for the report. */
  @May('go on air')
  @Post('signal')
  @HttpCode(204)
  async signal(@SignedIn() person: Person, @ShowId() id: string, @Body() told: SignalTold): Promise<void> {
    await this.air.hearSignal(person.stationId, id, told);
  }

  /** Also resumes a show that was interrupted. */
  @May('go on air')
  @Post('air')
  @HttpCode(200)
  begin(@SignedIn() person: Person, @ShowId() id: string, @Body() { tab, only }: BeginAir): Promise<AirView> {
    return this.air.begin(person, id, tab ?? null, only ?? null);
  }

  /** At its time the show goes on air by itself, and sends from the tab in which this was pressed. */
  @May('go on air')
  @Post('air/by-itself')
  @HttpCode(200)
  beginByItself(@SignedIn() person: Person, @ShowId() id: string, @Body() { tab }: BeginAir): Promise<AirView> {
    return this.byItself.want(person, id, tab ?? null);
  }

  @May('go on air')
  @Delete('air/by-itself')
  @HttpCode(200)
  beginByHand(@SignedIn() person: Person, @ShowId() id: string): Promise<AirView> {
    return this.byItself.leave(person.stationId, id);
  }

  /** Starts one channel that was held back when the show went on air. */
  @May('go on air')
  @Post('airings/:airingId/air')
  @HttpCode(200)
  beginOne(@SignedIn() person: Person, @ShowId() id: string, @Param('airingId') airingId: string): Promise<AirView> {
    return this.air.beginOne(person.stationId, id, airingId);
  }

  /** Has another event made where the show's own has ended while it is on air. */
  @May('go on air')
  @Post('airings/:airingId/anew')
  @HttpCode(200)
  makeAnew(@SignedIn() person: Person, @ShowId() id: string, @Param('airingId') airingId: string): Promise<AirView> {
    return this.air.makeAnew(person.stationId, id, airingId);
  }

  /** Takes back going on air, where nobody can have seen anything of it. */
  @May('go on air')
  @Delete('air')
  @HttpCode(200)
  async takeBack(@SignedIn() person: Person, @ShowId() id: string): Promise<WrapResult> {
    return { results: await this.air.takeBack(person.stationId, id) };
  }

  @May('go on air')
  @Post('wrap')
  @HttpCode(200)
  wrap(@SignedIn() person: Person, @ShowId() id: string): Promise<WrapResult> {
    return this.air.wrap(person.stationId, id);
  }
}

@Controller('api/on-air')
export class OnAirController {
  constructor(private readonly air: AirService) {}

  @May('look at the station')
  @Get()
  list(@SignedIn() person: Person): Promise<OnAirSummary[]> {
    return this.air.onAir(person.stationId);
  }
}
