import type { RecordingsOnDisk } from '@lantern/contract';
import { Controller, Delete, Get, Res } from '@nestjs/common';
import type { Response } from 'express';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { RecordingsOnDiskService } from './on-disk.service';

@Controller('api')
export class OnDiskController {
  constructor(
    private readonly shows: ShowsService,
    private readonly onDisk: RecordingsOnDiskService,
  ) {}

  @May('look at the station')
  @Get('recordings')
  read(@SignedIn() { stationId }: Person): Promise<RecordingsOnDisk> {
    return this.onDisk.of(stationId);
  }

  @May('plan shows')
  @Delete('shows/:id/recording')
  async remove(@SignedIn() { stationId }: Person, @ShowId() id: string): Promise<RecordingsOnDisk> {
    await this.onDisk.remove((await this.shows.whole(stationId, id)).show);
    return this.onDisk.of(stationId);
  }

  /** The sound alone, for listeners; answers ranges (RFC 9110 section 14). */
  @May('look at the station')
  @Get('shows/:id/recording.m4a')
  async sound(@SignedIn() { stationId }: Person, @ShowId() id: string, @Res() response: Response): Promise<void> {
    const { show } = await this.shows.whole(stationId, id);
    response.sendFile(await this.onDisk.sound(show), { headers: { 'content-type': 'audio/mp4' } });
  }
}
