// Where guests say whether their own sound may be kept, where their browsers send it, and where the team finds it.
import { GUEST_PASS_HEADER, OWN_SOUND_TYPES, OwnSoundSaid, UPLOAD_OFFSET, type DoorView, type OwnSoundView } from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Patch, Post, Req, Res } from '@nestjs/common';
import { Throttle } from '@nestjs/throttler';
import type { Request, Response } from 'express';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, Public, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import type { TakeType } from '../media/own-sound-files';
import { OwnSoundsService } from './own-sounds.service';

/** Six guests behind one address send every few seconds, and more after a break. */
const PIECES = { default: { limit: 600, ttl: 60_000 } };
const FEW_TRIES = { default: { limit: 40, ttl: 60_000 } };
/** A line that takes longer for one request begins it anew. */
const MAY_TAKE_MS = 60_000;

const BeganAt = () => Param('beganAt');
const GuestId = () => Param('guestId', new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, 'There is no such sound.') }));

@Public()
@Controller('api/door/own-sound')
export class OwnSoundAtTheDoorController {
  constructor(private readonly ownSounds: OwnSoundsService) {}

  @Throttle(FEW_TRIES)
  @Post()
  @HttpCode(200)
  say(@Body() { pass, agrees }: OwnSoundSaid): Promise<DoorView> {
    return this.ownSounds.say(pass, agrees);
  }

  /** Asked for by HEAD as well: what is there stands in a header. */
  @Throttle(PIECES)
  @Get(':beganAt')
  @HttpCode(204)
  async there(@BeganAt() beganAt: string, @Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<void> {
    response.setHeader(UPLOAD_OFFSET, String(await this.ownSounds.there(passOf(request), momentOf(beganAt))));
  }

  @Throttle(PIECES)
  @Patch(':beganAt')
  @HttpCode(204)
  async take(@BeganAt() beganAt: string, @Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<void> {
    const timer = setTimeout(() => request.destroy(), MAY_TAKE_MS);
    try {
      const said = String(request.headers[UPLOAD_OFFSET] ?? '');
      const offset = Number(said);
      if (!/^\d+$/.test(said) || !Number.isSafeInteger(offset)) throw new PlainError(400, 'It is not said where this begins (Upload-Offset).');
      const there = await this.ownSounds.take(passOf(request), momentOf(beganAt), typeOf(request), offset, request as AsyncIterable<Buffer>);
      response.setHeader(UPLOAD_OFFSET, String(there));
    } finally {
      clearTimeout(timer);
    }
  }
}

@Controller('api/shows/:id/own-sounds')
export class OwnSoundsController {
  constructor(
    private readonly shows: ShowsService,
    private readonly ownSounds: OwnSoundsService,
  ) {}

  @May('look at the station')
  @Get()
  async of(@SignedIn() { stationId }: Person, @ShowId() id: string): Promise<{ wanted: boolean; sounds: OwnSoundView[] }> {
    return this.ownSounds.of((await this.shows.whole(stationId, id)).show);
  }

  /** FLAC (RFC 9639), as long as the recording; answers ranges (RFC 9110 section 14). */
  @May('look at the station')
  @Get(':guestId/sound.flac')
  async sound(@SignedIn() { stationId }: Person, @ShowId() id: string, @GuestId() guestId: string, @Res() response: Response): Promise<void> {
    const { show } = await this.shows.whole(stationId, id);
    response.sendFile(await this.ownSounds.file(show, guestId), { headers: { 'content-type': 'audio/flac' } });
  }

  @May('write to people')
  @Delete(':guestId')
  async remove(@SignedIn() { stationId }: Person, @ShowId() id: string, @GuestId() guestId: string): Promise<{ wanted: boolean; sounds: OwnSoundView[] }> {
    const { show } = await this.shows.whole(stationId, id);
    await this.ownSounds.remove(show.id, guestId);
    return this.ownSounds.of(show);
  }
}

/** The pass that is shown; in a header: what is in an address is in logs. */
function passOf(request: Request): string {
  const pass = request.headers[GUEST_PASS_HEADER];
  if (typeof pass !== 'string' || pass.length < 20 || pass.length > 100) throw new PlainError(401, 'A guest pass is needed.');
  return pass;
}

function momentOf(said: string): number {
  if (!/^\d{1,15}$/.test(said)) throw new PlainError(404, 'It is not said when this began.');
  return Number(said);
}

function typeOf(request: Request): TakeType {
  const [type] = String(request.headers['content-type'] ?? '').split(';');
  const found = Object.entries(OWN_SOUND_TYPES).find(([, each]) => each === type!.trim());
  if (!found) throw new PlainError(415, 'This kind of sound is not taken: WebM or MP4.');
  return found[0] as TakeType;
}
