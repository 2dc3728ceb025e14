import { Controller, Get, Req, Res } from '@nestjs/common';
import { SkipThrottle } from '@nestjs/throttler';
import type { Request, Response } from 'express';
import { digestOf } from '../foundation/digest';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { sessionToken } from '../foundation/session-cookie';
import { ChangesService } from './changes.service';

@Controller('api/changes')
export class ChangesController {
  constructor(private readonly changes: ChangesService) {}

  /** A stream of what changes at the station. */
  @May('look at the station')
  @Get()
  @SkipThrottle()
  open(@SignedIn() person: Person, @Req() request: Request, @Res() response: Response): void {
    const token = sessionToken(request)!;
    this.changes.open(person.stationId, digestOf(token), token, response);
  }
}
