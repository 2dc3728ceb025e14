// Where a stage's browser sends what it made while its line was gone.
import { UPLOAD_COMPLETE, UPLOAD_OFFSET } from '@lantern/contract';
import { Controller, Get, HttpCode, Param, ParseIntPipe, Patch, Req, Res } from '@nestjs/common';
import type { Request, Response } from 'express';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { LatePiecesService } from './late-pieces.service';

/** A line that takes longer for one request begins it anew. */
const MAY_TAKE_MS = 60_000;
const Stretch = () => Param('stretch', new ParseIntPipe({ exceptionFactory: () => new PlainError(404, 'Nothing of this part was ever received.') }));

@Controller('api/shows/:id/late/:stretch')
export class LatePiecesController {
  constructor(
    private readonly shows: ShowsService,
    private readonly late: LatePiecesService,
  ) {}

  /** Asked for by HEAD as well: what is there stands in a header. */
  @May('go on air')
  @Get()
  @HttpCode(204)
  async there(@SignedIn() person: Person, @ShowId() id: string, @Stretch() stretch: number, @Res({ passthrough: true }) response: Response): Promise<void> {
    const { show } = await this.shows.whole(person.stationId, id);
    response.setHeader(UPLOAD_OFFSET, String(await this.late.there(show.id, stretch)));
  }

  @May('go on air')
  @Patch()
  @HttpCode(204)
  async take(
    @SignedIn() person: Person,
    @ShowId() id: string,
    @Stretch() stretch: number,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<void> {
    const timer = setTimeout(() => request.destroy(), MAY_TAKE_MS);
    try {
      const { show } = await this.shows.whole(person.stationId, id);
      const said = String(request.headers[UPLOAD_OFFSET] ?? '');
      const offset = Number(said);
      if (!/^\d+$/.test(said) || !Number.isSafeInteger(offset)) throw new PlainError(400, 'It is not said where this part begins (Upload-Offset).');
      const there = await this.late.take(show.id, stretch, offset, request as AsyncIterable<Buffer>, request.headers[UPLOAD_COMPLETE] === '?1');
      response.setHeader(UPLOAD_OFFSET, String(there));
    } finally {
      clearTimeout(timer);
    }
  }
}
