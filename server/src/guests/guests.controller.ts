// Guests: whom the team asks, and the door that a pass opens.
import { AnswerChange, GuestInvite, PassShown, StrapChange, TriedOutReport, type DoorView, type GuestPassLink, type GuestView } from '@lantern/contract';
import { may } from '@lantern/core';
import { Body, Controller, Delete, Get, Header, HttpCode, Param, ParseUUIDPipe, Post, Req } from '@nestjs/common';
import { Throttle } from '@nestjs/throttler';
import type { Request } from 'express';
import { PlainError } from '../foundation/errors';
import { sessionToken } from '../foundation/session-cookie';
import { StagesOnAir } from '../people/stages-on-air';
import type { Person } from '../people/people.entities';
import { May, Public, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { GuestsService } from './guests.service';

const GuestId = () => Param('guestId', new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, 'This guest is not asked any more.') }));
/** Enough for somebody who goes back and forth at the door, too few for guessing. */
const FEW_TRIES = { default: { limit: 40, ttl: 60_000 } };

@Controller('api/shows/:id/guests')
export class GuestsController {
  constructor(
    private readonly guests: GuestsService,
    private readonly shows: ShowsService,
    private readonly stages: StagesOnAir,
  ) {}

  @May('look at the station')
  @Get()
  async list(@SignedIn() person: Person, @ShowId() id: string): Promise<GuestView[]> {
    const { show } = await this.shows.whole(person.stationId, id);
    // A rehearsal is made with the guests of its show.
    return this.guests.list(show.rehearsalOf ?? show.id, may(person.role, 'write to people'));
  }

  @May('write to people')
  @Post()
  async invite(@SignedIn() person: Person, @ShowId() id: string, @Body() body: GuestInvite): Promise<GuestView[]> {
    const { show } = await this.shows.whole(person.stationId, id);
    await this.guests.invite(person, show, body);
    return this.guests.list(show.id, true);
  }

  @May('write to people')
  @Delete(':guestId')
  async withdraw(@SignedIn() person: Person, @ShowId() id: string, @GuestId() guestId: string): Promise<GuestView[]> {
    const { show } = await this.shows.whole(person.stationId, id);
    await this.guests.withdraw(person, show, guestId);
    return this.guests.list(show.id, true);
  }

  /** Whoever has a pass is let in: it is asked for, and noted who asked. */
  @May('write to people')
  @Post(':guestId/pass')
  @HttpCode(200)
  async pass(@SignedIn() person: Person, @ShowId() id: string, @GuestId() guestId: string, @Req() request: Request): Promise<GuestPassLink> {
    if (this.stages.shownBy(sessionToken(request)!) === 'a screen')
      throw new PlainError(
        409,
        'A screen is shared from this browser, and a pass must never come into a picture. Stop sharing first, or look it up in another browser.',
      );
    const { show } = await this.shows.whole(person.stationId, id);
    return this.guests.link(person, show, guestId);
  }
}

/** A pass is shown in the body: what is in an address is in logs. */
@Public()
@Throttle(FEW_TRIES)
@Controller('api/door')
export class DoorController {
  constructor(private readonly guests: GuestsService) {}

  @Post()
  @HttpCode(200)
  door(@Body() { pass }: PassShown): Promise<DoorView> {
    return this.guests.door(pass);
  }

  @Post('answer')
  @HttpCode(200)
  answer(@Body() body: AnswerChange): Promise<DoorView> {
    return this.guests.answer(body);
  }

  @Post('strap')
  @HttpCode(200)
  strap(@Body() body: StrapChange): Promise<DoorView> {
    return this.guests.strap(body);
  }

  @Post('tried')
  @HttpCode(204)
  tried(@Body() { pass, found }: TriedOutReport): Promise<void> {
    return this.guests.triedOut(pass, found);
  }

  @Post('calendar')
  @HttpCode(200)
  @Header('content-type', 'text/calendar; charset=utf-8')
  calendar(@Body() { pass }: PassShown): Promise<string> {
    return this.guests.calendar(pass);
  }
}
