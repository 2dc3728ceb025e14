// One's own picture: the portrait of the library that is called like oneself, so that it stands wherever portraits of people do.
import type { OwnPictureView } from '@lantern/contract';
import { Controller, Delete, Get, HttpCode, Put, Req } from '@nestjs/common';
import type { Request } from 'express';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { PiecesService } from './pieces.service';

@Controller('api/me/picture')
export class OwnPictureController {
  constructor(private readonly pieces: PiecesService) {}

  @May('keep one’s own account')
  @Get()
  async own(@SignedIn() person: Person): Promise<OwnPictureView> {
    const id = await this.idOf(person);
    return { picture: (await this.pieces.list(person.stationId)).find((piece) => piece.id === id) ?? null };
  }

  /** The body is the file of the picture. The one before goes once the new one is kept. */
  @May('keep one’s own account')
  @Put()
  async keep(@SignedIn() person: Person, @Req() request: Request): Promise<OwnPictureView> {
    const before = await this.idOf(person);
    await this.pieces.add(person.stationId, 'portrait', person.name, request.body as Buffer);
    if (before) await this.pieces.remove(person.stationId, before, true);
    return this.own(person);
  }

  @May('keep one’s own account')
  @Delete()
  @HttpCode(200)
  async remove(@SignedIn() person: Person): Promise<OwnPictureView> {
    const before = await this.idOf(person);
    if (before) await this.pieces.remove(person.stationId, before, true);
    return this.own(person);
  }

  private async idOf({ stationId, name }: Person): Promise<string | null> {
    return (await this.pieces.portraits(stationId)).get(name.toLowerCase())?.id ?? null;
  }
}
