// Clips, for the station's people.
import { ClipChange, type ClipView } from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Patch, Post, Query, Req, Res } from '@nestjs/common';
import type { Request, Response } from 'express';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ClipsService } from './clips.service';

const ClipId = () => Param('id', new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, 'This clip is not in the library.') }));

@Controller('api/clips')
export class ClipsController {
  constructor(private readonly clips: ClipsService) {}

  @May('look at the station')
  @Get()
  list(@SignedIn() person: Person): Promise<ClipView[]> {
    return this.clips.list(person.stationId);
  }

  /** The body is the clip's file. */
  @May('change the library')
  @Post()
  async take(@SignedIn() person: Person, @Query('name') name: unknown, @Req() request: Request): Promise<ClipView[]> {
    await this.clips.take(person.stationId, typeof name === 'string' ? name.slice(0, 80) : '', request);
    return this.clips.list(person.stationId);
  }

  @May('change the library')
  @Patch(':id')
  async change(@SignedIn() person: Person, @ClipId() id: string, @Body() body: ClipChange): Promise<ClipView[]> {
    await this.clips.change(person.stationId, id, body);
    return this.clips.list(person.stationId);
  }

  @May('change the library')
  @Delete(':id')
  @HttpCode(204)
  async remove(@SignedIn() person: Person, @ClipId() id: string): Promise<void> {
    await this.clips.remove(person.stationId, id);
  }

  /** A film or a sound, as browsers play it. */
  @May('look at the station')
  @Get(':id/look')
  async look(@SignedIn() person: Person, @ClipId() id: string, @Res() response: Response): Promise<void> {
    const { path, type } = await this.clips.toLookAt(person.stationId, id);
    response.sendFile(path, { headers: { 'content-type': type } });
  }

  /** As stages play it into a programme. What was made once stays as it is. */
  @May('look at the station')
  @Get(':id/air.flv')
  async air(@SignedIn() person: Person, @ClipId() id: string, @Res() response: Response): Promise<void> {
    response.sendFile(await this.clips.toPlay(person.stationId, id), { headers: { 'content-type': 'video/x-flv', 'cache-control': 'private, max-age=86400' } });
  }
}
