// Bringing a show to its channels over HTTP: placing, telling, withdrawing, and settling what differs there.
import {
  AttachRequest,
  ChannelScope,
  MoveRequest,
  PlaceScope,
  SettleRequest,
  type FoundEvent,
  type PlaceResult,
  type SaveResult,
  type ShowView,
} from '@lantern/contract';
import { AIRING_FIELDS, instant, MINUTE_MS, type Sides, whenOf } from '@lantern/core';
import { Body, Controller, Get, HttpCode, Post, Query } from '@nestjs/common';
import { Refused } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { AiringId, ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { DriftService } from './drift.service';
import { PlacingService } from './placing.service';

@Controller('api/shows/:id')
export class PlacingController {
  constructor(
    private readonly shows: ShowsService,
    private readonly placing: PlacingService,
    private readonly drift: DriftService,
  ) {}

  /** Moves the show or gives it another length, here and on the channels on which it stands. */
  @May('plan shows')
  @Post('move')
  @HttpCode(200)
  async move(@SignedIn() person: Person, @ShowId() id: string, @Body() { startsAt, lengthMs, base }: MoveRequest): Promise<PlaceResult & SaveResult> {
    const { show } = await this.shows.whole(person.stationId, id);
    const changes = { ...whenOf(instant(startsAt), show.zone), lengthMin: Math.max(1, Math.round(lengthMs / MINUTE_MS)) };
    const kept = await this.shows.keep(person, id, { base, changes });
    const results = show.state === 'placed' && !kept.conflicts.length ? await this.placing.move(person.stationId, id) : [];
    return { ...kept, show: await this.view(person, id), results };
  }

  /** Tells the channels what has changed on the sheet. */
  @May('plan shows')
  @Post('tell')
  @HttpCode(200)
  async tell(@SignedIn() person: Person, @ShowId() id: string, @Body() { airingIds }: ChannelScope): Promise<PlaceResult> {
    const results = await this.placing.move(person.stationId, id, airingIds ?? null);
    return { show: await this.view(person, id), results };
  }

  @May('plan shows')
  @Post('place')
  @HttpCode(200)
  async place(@SignedIn() person: Person, @ShowId() id: string, @Body() { airingIds, partial = false }: PlaceScope): Promise<PlaceResult> {
    const results = await this.placing.place(person.stationId, id, airingIds ?? null, partial);
    return { show: await this.view(person, id), results };
  }

  @May('plan shows')
  @Post('withdraw')
  @HttpCode(200)
  async withdraw(@SignedIn() person: Person, @ShowId() id: string, @Body() { airingIds }: ChannelScope): Promise<PlaceResult> {
    const results = await this.placing.withdraw(person.stationId, id, airingIds ?? null);
    return { show: await this.view(person, id), results };
  }

  /** Withdraws one airing and places it anew. */
  @May('plan shows')
  @Post('airings/:airingId/replace')
  @HttpCode(200)
  async replace(@SignedIn() person: Person, @ShowId() id: string, @AiringId() airingId: string): Promise<PlaceResult> {
    const results = await this.placing.replace(person.stationId, id, airingId);
    return { show: await this.view(person, id), results };
  }

  /** Looks at what stands on the channels. */
  @May('look at the station')
  @Post('look')
  @HttpCode(200)
  async look(@SignedIn() person: Person, @ShowId() id: string): Promise<PlaceResult> {
    const { show } = await this.shows.whole(person.stationId, id);
    const results = await this.drift.look(show);
    return { show: await this.view(person, id), results };
  }

  @May('plan shows')
  @Post('airings/:airingId/settle')
  @HttpCode(200)
  async settle(@SignedIn() person: Person, @ShowId() id: string, @AiringId() airingId: string, @Body() { sides }: SettleRequest): Promise<PlaceResult> {
    const results = await this.drift.settle(person, id, airingId, sidesOf(sides));
    return { show: await this.view(person, id), results };
  }

  /** Forgets an event that vanished from its channel. */
  @May('plan shows')
  @Post('airings/:airingId/forget')
  @HttpCode(200)
  async forget(@SignedIn() person: Person, @ShowId() id: string, @AiringId() airingId: string): Promise<ShowView> {
    await this.drift.forget(person.stationId, id, airingId);
    return this.view(person, id);
  }

  @May('look at the station')
  @Get('found')
  async found(@SignedIn() person: Person, @ShowId() _id: string, @Query('channel') channelId: string): Promise<FoundEvent[]> {
    return this.drift.found(person.stationId, channelId);
  }

  @May('plan shows')
  @Post('attach')
  @HttpCode(200)
  async attach(@SignedIn() person: Person, @ShowId() id: string, @Body() { channelId, remoteId }: AttachRequest): Promise<ShowView> {
    await this.drift.attach(person, id, channelId, remoteId);
    return this.view(person, id);
  }

  private async view(person: Person, id: string): Promise<ShowView> {
    return this.shows.view(await this.shows.whole(person.stationId, id));
  }
}

function sidesOf(sides: Record<string, unknown>): Sides {
  const known = AIRING_FIELDS.filter((field) => sides[field] === 'ours' || sides[field] === 'theirs');
  if (!known.length) throw new Refused('settling: no side');
  return Object.fromEntries(known.map((field) => [field, sides[field]]));
}
