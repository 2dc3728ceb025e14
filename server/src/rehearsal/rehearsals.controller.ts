// Rehearsals, and what of them arrives, for the station's people alone.
import type { RehearsalView } from '@lantern/contract';
import { Controller, Get, HttpCode, Param, Post, Res } from '@nestjs/common';
import type { Response } from 'express';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { AirService } from '../air/air.service';
import { PlainError } from '../foundation/errors';
import { readPlaylist } from '../media/playlist';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { RehearsalsService } from './rehearsals.service';

@Controller('api/shows/:id')
export class RehearsalsController {
  constructor(
    private readonly rehearsals: RehearsalsService,
    private readonly shows: ShowsService,
    private readonly air: AirService,
  ) {}

  @May('look at the station')
  @Get('rehearsals')
  list(@SignedIn() person: Person, @ShowId() id: string): Promise<RehearsalView[]> {
    return this.rehearsals.list(person.stationId, id);
  }

  @May('go on air')
  @Post('rehearsals')
  @HttpCode(200)
  begin(@SignedIn() person: Person, @ShowId() id: string): Promise<RehearsalView> {
    return this.rehearsals.begin(person, id);
  }

  /** The programme as it arrives at its house page, for whoever runs it. */
  @May('look at the station')
  @Get('arrives/:part')
  async arrives(@SignedIn() person: Person, @ShowId() id: string, @Param('part') part: string, @Res() response: Response): Promise<void> {
    const { show } = await this.shows.whole(person.stationId, id);
    const folder = this.air.liveFolder(show);
    if (!folder || !/^(live\.m3u8|\d+-\d+\.ts)$/.test(part) || !existsSync(join(folder, part)))
      throw new PlainError(404, 'There is nothing to watch at this moment.');
    if (part.endsWith('.m3u8')) {
      response.set({ 'content-type': 'application/vnd.apple.mpegurl', 'cache-control': 'no-store' }).send(await readPlaylist(join(folder, part)));
      return;
    }
    response.sendFile(join(folder, part), { headers: { 'content-type': 'video/mp2t', 'cache-control': 'private, max-age=60' } });
  }
}
