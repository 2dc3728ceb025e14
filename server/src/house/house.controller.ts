// What the public gets of a show: its facts, a stream of changes, its picture and its programme, and what it may ask for.
import { chaptersVtt, writeVtt } from '@lantern/core';
import { CodeRequest, InvitationAnswerRequest, ReminderRequest, SeenHere, type HouseView } from '@lantern/contract';
import { Body, Controller, Get, Header, HttpCode, Param, Post, Req, Res, StreamableFile } from '@nestjs/common';
import { SkipThrottle, Throttle } from '@nestjs/throttler';
import type { Request, Response } from 'express';
import { createReadStream, existsSync } from 'node:fs';
import { join } from 'node:path';
import { AirService } from '../air/air.service';
import { kindOfFont } from '../foreign/read-font';
import { PlainError } from '../foundation/errors';
import { InvitationsService } from '../invitations/invitations.service';
import { Public } from '../people/signed-in';
import { HouseCounts } from '../plays/house-counts';
import { RemindersService } from '../reminders/reminders.service';
import { readPlaylist } from '../media/playlist';
import type { Show } from '../shows/show.entities';
import { Thumbnails, waitingOf } from '../shows/thumbnails';
import { HouseStreams } from './house-streams';
import { HouseViewsService } from './house-views.service';
import { TrailersService } from './trailers.service';
import { FEW, VisitorsService } from './visitors.service';

@Public()
@SkipThrottle()
@Controller('api/house/:slug')
export class HouseController {
  constructor(
    private readonly visitors: VisitorsService,
    private readonly views: HouseViewsService,
    private readonly streams: HouseStreams,
    private readonly reminders: RemindersService,
    private readonly invitations: InvitationsService,
    private readonly air: AirService,
    private readonly thumbnails: Thumbnails,
    private readonly trailers: TrailersService,
    private readonly counts: HouseCounts,
  ) {}

  @Get()
  @Header('cache-control', 'no-store')
  async read(@Req() request: Request, @Param('slug') slug: string): Promise<HouseView> {
    return this.views.view(await this.visitors.admit(request, slug));
  }

  @Get('changes')
  changes(@Req() request: Request, @Param('slug') slug: string, @Res() response: Response): Promise<void> {
    return this.streams.open(slug, request, response);
  }

  @Get('calendar.ics')
  @Header('content-type', 'text/calendar; charset=utf-8')
  async calendar(@Req() request: Request, @Param('slug') slug: string): Promise<string> {
    return this.reminders.calendarOf((await this.visitors.admit(request, slug)).show);
  }

  @Get('thumbnail')
  async thumbnail(@Req() request: Request, @Param('slug') slug: string, @Res({ passthrough: true }) response: Response): Promise<StreamableFile> {
    const { show } = await this.visitors.admit(request, slug);
    if (!show.thumbnail) throw new PlainError(404, 'This show has no picture.');
    maybeShownElsewhere(response, show);
    return new StreamableFile(createReadStream(await this.thumbnails.file(show, 'sent')), { type: 'image/jpeg' });
  }

  @Get('waiting')
  async waiting(@Req() request: Request, @Param('slug') slug: string, @Res({ passthrough: true }) response: Response): Promise<StreamableFile> {
    const { show } = await this.visitors.admit(request, slug);
    if (!show.waiting) throw new PlainError(404, 'This show has no waiting picture of its own.');
    maybeShownElsewhere(response, show);
    return new StreamableFile(createReadStream(await this.thumbnails.file(waitingOf(show), 'sent')), { type: 'image/jpeg' });
  }

  @Get('letters')
  async letters(@Req() request: Request, @Param('slug') slug: string, @Res({ passthrough: true }) response: Response): Promise<StreamableFile> {
    const { show } = await this.visitors.admit(request, slug);
    const file = await this.views.letters(show);
    const type = file && kindOfFont(file);
    if (!file || !type) throw new PlainError(404, 'This show has no letters of its own.');
    maybeShownElsewhere(response, show);
    return new StreamableFile(file, { type });
  }

  @Get('trailer.mp4')
  async trailer(@Req() request: Request, @Param('slug') slug: string, @Res() response: Response): Promise<void> {
    const admitted = await this.visitors.admit(request, slug);
    if ((await this.views.view(admitted)).trailerUrl === null) throw new PlainError(404, 'This show has no trailer.');
    this.sendFilm(response, this.trailers.path(admitted.show), admitted.show);
  }

  @Get('replay.mp4')
  async replay(@Req() request: Request, @Param('slug') slug: string, @Res() response: Response): Promise<void> {
    const admitted = await this.visitors.admit(request, slug);
    const { path } = await this.views.watchable(admitted.show, admitted.station);
    this.sendFilm(response, path, admitted.show);
  }

  /** The chapters of the recording as WebVTT (W3C). */
  @Get('chapters.vtt')
  @Header('content-type', 'text/vtt; charset=utf-8')
  async chapters(@Req() request: Request, @Param('slug') slug: string): Promise<string> {
    const { show, station } = await this.visitors.admit(request, slug);
    const { chapters, lengthMs } = await this.views.watchable(show, station);
    return chaptersVtt(chapters, lengthMs);
  }

  /** The captions of the recording as WebVTT (W3C). */
  @Get('captions.vtt')
  @Header('content-type', 'text/vtt; charset=utf-8')
  async captions(@Req() request: Request, @Param('slug') slug: string): Promise<string> {
    const { show, station } = await this.visitors.admit(request, slug);
    return writeVtt((await this.views.watchable(show, station)).captions);
  }

  @Get('live/:part')
  async live(@Req() request: Request, @Param('slug') slug: string, @Param('part') part: string, @Res() response: Response): Promise<void> {
    const { show } = await this.visitors.admit(request, slug);
    const folder = this.air.liveFolder(show);
    if (!folder || !/^(live\.m3u8|\d+-\d+\.ts)$/.test(part) || !existsSync(join(folder, part))) {
      throw new PlainError(404, 'There is nothing to watch at this moment.');
    }
    if (part.endsWith('.m3u8')) {
      const playlist = await readPlaylist(join(folder, part));
      response.set({ 'content-type': 'application/vnd.apple.mpegurl', 'cache-control': 'no-store' }).send(playlist);
      return;
    }
    // What is not for everybody is kept by nobody on the way.
    const kept = show.houseVisibility === 'everyone' ? 'public, max-age=60' : 'private, max-age=60';
    response.sendFile(join(folder, part), { headers: { 'content-type': 'video/mp2t', 'cache-control': kept } });
  }

  /** Answers ranges (RFC 9110, section 14), so that one can go to any place of it. */
  private sendFilm(response: Response, path: string, { houseVisibility }: Show): void {
    const kept = houseVisibility === 'everyone' ? 'public, max-age=300' : 'private, max-age=300';
    response.sendFile(path, { headers: { 'content-type': 'video/mp4', 'cache-control': kept } });
  }

  /** Counts that somebody has it open, or plays it. Whoever asks for more than anybody could look at is not heard. */
  @SkipThrottle({ default: false })
  @Throttle({ default: { limit: 60, ttl: 60_000 } })
  @Post('seen')
  @HttpCode(204)
  async seen(@Req() request: Request, @Param('slug') slug: string, @Body() { what, source }: SeenHere): Promise<void> {
    this.counts.count((await this.visitors.admit(request, slug)).show, what, source);
  }

  @SkipThrottle({ default: false })
  @Throttle(FEW)
  @Post('reminders')
  @HttpCode(202)
  async remind(@Req() request: Request, @Param('slug') slug: string, @Body() { email, zone }: ReminderRequest): Promise<{ words: string }> {
    const { show } = await this.visitors.admit(request, slug);
    await this.reminders.ask(show, email, zone ?? show.zone);
    return { words: 'Look into your mail: confirm there, and you will be reminded.' };
  }

  @SkipThrottle({ default: false })
  @Throttle(FEW)
  @Post('code')
  @HttpCode(204)
  async code(@Param('slug') slug: string, @Body() { code }: CodeRequest, @Res({ passthrough: true }) response: Response): Promise<void> {
    await this.visitors.takeCode(response, slug, code);
  }

  @SkipThrottle({ default: false })
  @Throttle(FEW)
  @Post('answer')
  @HttpCode(200)
  async answer(@Req() request: Request, @Param('slug') slug: string, @Body() { answer }: InvitationAnswerRequest): Promise<HouseView> {
    const { invitation } = await this.visitors.admit(request, slug);
    if (!invitation) throw new PlainError(409, 'Open the link of your invitation first.');
    await this.invitations.answer(invitation, answer);
    return this.read(request, slug);
  }
}

/** Pages of others show the pictures of shows that are for everyone: previews of links, and the page within theirs. */
function maybeShownElsewhere(response: Response, { houseVisibility }: Show): void {
  const everyone = houseVisibility === 'everyone';
  response.setHeader('cross-origin-resource-policy', everyone ? 'cross-origin' : 'same-origin');
  response.setHeader('cache-control', everyone ? 'public, max-age=300' : 'private, max-age=300');
}
