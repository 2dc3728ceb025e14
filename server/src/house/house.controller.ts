// What the public gets of a show: its facts, a stream of changes, its picture and its programme.
import { NETWORK_NAMES, type HouseView } from '@lantern/contract';
import { fillPlaceholders } from '@lantern/core';
import { Controller, Get, Header, Param, Res, Sse, StreamableFile, type MessageEvent } from '@nestjs/common';
import { SkipThrottle } from '@nestjs/throttler';
import type { Response } from 'express';
import { createReadStream, existsSync } from 'node:fs';
import { join } from 'node:path';
import { concatMap, distinctUntilChanged, filter, from, interval, map, merge, startWith, throttleTime, type Observable } from 'rxjs';
import { AirService } from '../air/air.service';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { Public } from '../people/signed-in';
import { AiringsService } from '../shows/airings.service';
import type { Show } from '../shows/show.entities';
import { ShowsService } from '../shows/shows.service';
import { Thumbnails } from '../shows/thumbnails';

const STATE: Record<Show['state'], HouseView['state'] | null> = {
  draft: null,
  placed: 'coming',
  onAir: 'onAir',
  interrupted: 'paused',
  over: 'over',
  withdrawn: 'withdrawn',
};

/** Keeps proxies from closing a silent stream, and finds changes that were made elsewhere. */
const LOOK_AGAIN_MS = 10_000;

@Public()
@SkipThrottle()
@Controller('api/house/:slug')
export class HouseController {
  constructor(
    private readonly shows: ShowsService,
    private readonly airings: AiringsService,
    private readonly air: AirService,
    private readonly thumbnails: Thumbnails,
    private readonly clock: Clock,
  ) {}

  @Get()
  @Header('cache-control', 'no-store')
  async read(@Param('slug') slug: string): Promise<HouseView> {
    return this.view(await this.publicShow(slug));
  }

  @Sse('changes')
  async changes(@Param('slug') slug: string): Promise<Observable<MessageEvent>> {
    const { id } = await this.publicShow(slug);
    const hints = merge(this.air.changes.pipe(filter((showId) => showId === id)), interval(LOOK_AGAIN_MS));
    return hints.pipe(
      startWith(null),
      throttleTime(500, undefined, { leading: true, trailing: true }),
      concatMap(() => from(this.read(slug))),
      distinctUntilChanged((a, b) => JSON.stringify({ ...a, now: 0 }) === JSON.stringify({ ...b, now: 0 })),
      map((data) => ({ data })),
    );
  }

  @Get('thumbnail')
  async thumbnail(@Param('slug') slug: string): Promise<StreamableFile> {
    const show = await this.publicShow(slug);
    if (!show.thumbnail) throw new PlainError(404, 'This show has no picture.');
    return new StreamableFile(createReadStream(this.thumbnails.path(show, 'sent')), { type: 'image/jpeg' });
  }

  @Get('live/:part')
  async live(@Param('slug') slug: string, @Param('part') part: string, @Res() response: Response): Promise<void> {
    const show = await this.publicShow(slug);
    const folder = this.air.session(show.id)?.liveFolder;
    if (!folder || !/^(live\.m3u8|\d+-\d+\.ts)$/.test(part) || !existsSync(join(folder, part))) {
      throw new PlainError(404, 'There is nothing to watch at this moment.');
    }
    const playlist = part.endsWith('.m3u8');
    response.sendFile(join(folder, part), {
      headers: {
        'content-type': playlist ? 'application/vnd.apple.mpegurl' : 'video/mp2t',
        'cache-control': playlist ? 'no-store' : 'public, max-age=60',
      },
    });
  }

  private async publicShow(slug: string): Promise<Show> {
    const show = await this.shows.bySlug(slug);
    if (!show || STATE[show.state] === null) throw new PlainError(404, 'There is no show at this address. Check the link you were given.');
    return show;
  }

  private async view(show: Show): Promise<HouseView> {
    const folder = this.air.session(show.id)?.liveFolder;
    const base = `/api/house/${show.slug}`;
    const station = await this.airings.station(show.stationId);
    return {
      title: fillPlaceholders(show.title, this.airings.filling(show, null, station)).text,
      description: fillPlaceholders(show.description, this.airings.filling(show, null, station)).text,
      stationName: station.name,
      state: STATE[show.state]!,
      startsAt: show.startsAt,
      zone: show.zone,
      lengthMs: show.lengthMs,
      thumbnailUrl: show.thumbnail ? `${base}/thumbnail?v=${show.thumbnail.version}` : null,
      playlistUrl: folder && existsSync(join(folder, 'live.m3u8')) ? `${base}/live/live.m3u8` : null,
      fromOutside: show.pictureFrom === 'encoder',
      elsewhere: (await this.shows.airingsOf(show)).flatMap(({ airing, channel }) => {
        const watchUrl = airing.watchUrl ?? channel.watchUrl;
        // What is not for everybody there must not be found from here.
        return airing.placing === 'placed' && airing.visibility === 'everyone' && watchUrl
          ? [{ name: channel.name, network: channel.network === 'typed-in' ? '' : NETWORK_NAMES[channel.network], watchUrl }]
          : [];
      }),
      now: this.clock.now(),
    };
  }
}
