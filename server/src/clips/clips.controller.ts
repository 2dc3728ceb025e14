// Prepared sounds, for the station's people.
import { ClipChange, type ClipView } from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Patch, Post, Query, Req, Res } from '@nestjs/common';
import type { Request, Response } from 'express';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ClipsService } from './clips.service';

const ClipId = () => Param('id', new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, 'This sound is not in the library.') }));

@Controller('api/clips')
export class ClipsController {
  constructor(private readonly clips: ClipsService) {}

  @May('look at the station')
  @Get()
  list(@SignedIn() person: Person): Promise<ClipView[]> {
    return this.clips.list(person.stationId);
  }

  /** The body is the sound's file. */
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

  @May('look at the station')
  @Get(':id/sound.m4a')
  async sound(@SignedIn() person: Person, @ClipId() id: string, @Res() response: Response): Promise<void> {
    response.sendFile(await this.clips.toHear(person.stationId, id), { headers: { 'content-type': 'audio/mp4' } });
  }
}
