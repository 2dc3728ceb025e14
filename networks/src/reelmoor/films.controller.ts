// Reelmoor's recordings: what a broadcast shows once it is over, and films that take the place of what it kept itself.
import {
  ReelmoorCaptions,
  ReelmoorFilmRequest,
  ReelmoorShown,
  type ReelmoorFigures,
  type ReelmoorFilm,
  type ReelmoorRecording,
} from '@lantern/contract/network-http';
import { Body, Controller, Get, Headers, HttpCode, Param, Patch, Post, Put, Req, UseInterceptors } from '@nestjs/common';
import { ApiBearerAuth, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { DataSource } from 'typeorm';
import type { EventRow, FilmRow } from '../kit/entities';
import { Events } from '../kit/events';
import { Films } from '../kit/films';
import { loginOf } from '../kit/oauth.controller';
import { bodyOf, TroubleInterceptor } from '../kit/own-interface';
import { Plays } from '../kit/plays';
import { Refusal } from '../kit/refusal';

@ApiTags('Reelmoor')
@ApiBearerAuth()
@UseInterceptors(TroubleInterceptor)
@Controller('reelmoor/api')
export class ReelmoorFilmsController {
  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
    private readonly films: Films,
    private readonly plays: Plays,
  ) {}

  @Post('broadcasts/:id/films')
  @ApiOperation({ summary: 'Announces a film. The same Idempotency-Key gives the same film again' })
  @bodyOf('ReelmoorFilmRequest')
  async begin(
    @Headers('authorization') bearer: string,
    @Headers('idempotency-key') once: string | undefined,
    @Param('id') id: string,
    @Body() { bytes }: ReelmoorFilmRequest,
  ): Promise<ReelmoorFilm> {
    return this.shown(await this.films.begin(await this.event(bearer, id), bytes, once ?? null));
  }

  @Get('films/:id')
  async look(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<ReelmoorFilm> {
    return this.shown(await this.film(bearer, id));
  }

  @Patch('films/:id')
  @ApiOperation({ summary: 'The next piece of it: the body is the bytes from Upload-Offset on' })
  async take(
    @Headers('authorization') bearer: string,
    @Headers('upload-offset') offset: string | undefined,
    @Param('id') id: string,
    @Req() request: Request,
  ): Promise<ReelmoorFilm> {
    const film = await this.film(bearer, id);
    if (!/^\d{1,12}$/.test(offset ?? '') || !Buffer.isBuffer(request.body)) throw new Refusal(400, 'offset', 'Say from where on, and send bytes.');
    return this.shown(await this.films.take(film, Number(offset), request.body));
  }

  @Put('films/:id/captions')
  @HttpCode(204)
  @bodyOf('ReelmoorCaptions')
  async captions(@Headers('authorization') bearer: string, @Param('id') id: string, @Body() { language, vtt }: ReelmoorCaptions): Promise<void> {
    if (vtt && !vtt.startsWith('WEBVTT')) throw new Refusal(422, 'captions', 'Captions are written as WebVTT.');
    await this.films.setCaptions(await this.film(bearer, id), language, vtt);
  }

  @Get('broadcasts/:id/recording')
  async read(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<ReelmoorRecording> {
    return this.recording(await this.event(bearer, id));
  }

  @Put('broadcasts/:id/recording')
  @ApiOperation({ summary: 'What the broadcast shows from now on: its own recording, a film, or nothing' })
  @bodyOf('ReelmoorShown')
  async show(@Headers('authorization') bearer: string, @Param('id') id: string, @Body() { shows, filmId }: ReelmoorShown): Promise<ReelmoorRecording> {
    const event = await this.event(bearer, id);
    await this.films.show(event, shows, filmId ?? null);
    return this.recording(event);
  }

  @Get('broadcasts/:id/figures')
  @ApiOperation({ summary: 'How often it was played, while it was public and since' })
  async figures(@Headers('authorization') bearer: string, @Param('id') id: string): Promise<ReelmoorFigures> {
    const event = await this.event(bearer, id);
    if (event.state !== 'over') throw new Refusal(409, 'not-over', 'Figures are told once a broadcast is over.');
    const { live, since } = await this.plays.of(event);
    return { playsLive: live, playsSince: since };
  }

  private async recording(event: EventRow): Promise<ReelmoorRecording> {
    const film = await this.films.shownAt(event.id);
    return { shows: !event.replay ? 'nothing' : film ? 'film' : 'own', filmId: film?.id ?? null };
  }

  private async shown(film: FilmRow): Promise<ReelmoorFilm> {
    const { id, bytes, state, words } = film;
    return { filmId: id, bytes, received: await this.films.received(film), state, words };
  }

  private async event(bearer: string, id: string): Promise<EventRow> {
    return this.events.ofAccount('reelmoor', id, await loginOf(this.database, 'reelmoor', bearer));
  }

  private async film(bearer: string, id: string): Promise<FilmRow> {
    const film = await this.films.find(id);
    await this.event(bearer, film.eventId);
    return film;
  }
}
