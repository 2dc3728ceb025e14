// For the host: who is told about a show, who is invited, what its links look like as pictures.
import { InvitationRequest, type AudienceView, type InvitationView, type ShowView, type SupportersCode } from '@lantern/contract';
import { writeCsv } from '@lantern/core';
import { Body, Controller, Delete, Get, Header, HttpCode, Param, Post, Put, Query, Req, Res, StreamableFile } from '@nestjs/common';
import type { Request, Response } from 'express';
import QRCode from 'qrcode';
import sharp from 'sharp';
import { PlainError } from '../foundation/errors';
import { InvitationsService } from '../invitations/invitations.service';
import { AuditService } from '../people/audit.service';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { RemindersService } from '../reminders/reminders.service';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { TrailersService } from './trailers.service';
import { VisitorsService } from './visitors.service';
import { may } from '@lantern/core';

/** Large enough for a poster. */
const PRINTED_PX = 1_024;
const QR = { errorCorrectionLevel: 'M', margin: 4 } as const;

@Controller('api')
export class AudienceController {
  constructor(
    private readonly shows: ShowsService,
    private readonly reminders: RemindersService,
    private readonly invitations: InvitationsService,
    private readonly visitors: VisitorsService,
    private readonly trailers: TrailersService,
    private readonly audit: AuditService,
  ) {}

  @May('look at the station')
  @Get('shows/:id/audience')
  async audience(@SignedIn() person: Person, @ShowId() id: string): Promise<AudienceView> {
    const { show } = await this.shows.whole(person.stationId, id);
    const invitations = await this.invitations.list(show.id);
    // Addresses are for those who write to people; who comes is for all of the station.
    const shown = !may(person.role, 'write to people') ? invitations.map((each) => ({ ...each, email: '' })) : invitations;
    return { ...(await this.reminders.counts(show.id)), invitations: shown };
  }

  /** Addresses of people who asked to be reminded: for owners and producers. */
  @May('write to people')
  @Get('shows/:id/audience.csv')
  @Header('content-type', 'text/csv; charset=utf-8')
  @Header('content-disposition', 'attachment; filename="reminders.csv"')
  async registrations(@SignedIn() person: Person, @ShowId() id: string): Promise<string> {
    const { show } = await this.shows.whole(person.stationId, id);
    const rows = (await this.reminders.confirmed(show.id)).map(({ email, zone, confirmedAt }) => [email, zone, new Date(confirmedAt!).toISOString()]);
    return writeCsv([['Address', 'Zone', 'Confirmed (UTC)'], ...rows]);
  }

  @May('write to people')
  @Post('shows/:id/invitations')
  async invite(@SignedIn() person: Person, @ShowId() id: string, @Body() body: InvitationRequest): Promise<InvitationView> {
    const { show } = await this.shows.whole(person.stationId, id);
    return this.invitations.invite(show, body);
  }

  @May('write to people')
  @Delete('shows/:id/invitations/:invitationId')
  @HttpCode(204)
  async takeBack(@SignedIn() person: Person, @ShowId() id: string, @Param('invitationId') invitationId: string): Promise<void> {
    const { show } = await this.shows.whole(person.stationId, id);
    await this.invitations.takeBack(show.id, invitationId);
  }

  /** Takes a trailer: the request's body is the film. */
  @May('plan shows')
  @Put('shows/:id/trailer')
  async takeTrailer(@SignedIn() person: Person, @ShowId() id: string, @Req() request: Request): Promise<ShowView> {
    const { show } = await this.shows.whole(person.stationId, id);
    await this.trailers.take(show, request);
    return this.shows.view(await this.shows.whole(person.stationId, id));
  }

  @May('plan shows')
  @Delete('shows/:id/trailer')
  async forgetTrailer(@SignedIn() person: Person, @ShowId() id: string): Promise<ShowView> {
    const { show } = await this.shows.whole(person.stationId, id);
    await this.trailers.forget(show);
    return this.shows.view(await this.shows.whole(person.stationId, id));
  }

  @May('look at the station')
  @Get('shows/:id/trailer.mp4')
  async trailer(@SignedIn() person: Person, @ShowId() id: string, @Res() response: Response): Promise<void> {
    const { show } = await this.shows.whole(person.stationId, id);
    if (show.trailer?.state !== 'ready') throw new PlainError(404, 'This show has no trailer.');
    response.sendFile(this.trailers.path(show), { headers: { 'content-type': 'video/mp4' } });
  }

  /** An address as a QR code (ISO/IEC 18004). */
  @May('look at the station')
  @Get('qr.svg')
  @Header('content-type', 'image/svg+xml')
  qrSvg(@SignedIn() _person: Person, @Query('of') of: unknown): Promise<string> {
    return QRCode.toString(address(of), { ...QR, type: 'svg' });
  }

  @May('look at the station')
  @Get('qr.png')
  async qrPng(@SignedIn() _person: Person, @Query('of') of: unknown): Promise<StreamableFile> {
    const drawn = await QRCode.toString(address(of), { ...QR, type: 'svg' });
    const png = await sharp(Buffer.from(drawn), { density: 1_200 }).resize(PRINTED_PX, PRINTED_PX, { kernel: 'nearest' }).png().toBuffer();
    return new StreamableFile(png, { type: 'image/png' });
  }

  /** A new code for supporters, told once. */
  @May('set up the station')
  @Post('station/supporters-code')
  async newCode(@SignedIn() person: Person): Promise<SupportersCode> {
    const code = await this.visitors.newCode(person.stationId);
    await this.audit.note(person, 'made anew', 'the supporters’ code');
    return { code };
  }
}

function address(of: unknown): string {
  if (typeof of !== 'string' || of.length > 500 || !/^https?:\/\//.test(of) || !URL.canParse(of))
    throw new PlainError(400, 'Only web addresses are drawn as a code.');
  return of;
}
