// What the public sees of an event on either network.
import { Controller, Get, Header, Param, Query, Res, StreamableFile } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { createReadStream } from 'node:fs';
import { now } from './clock';
import { type EventRow, type Network } from './entities';
import { Events } from './events';
import { PLAYER_SCRIPT, portraitSvg, watchPage } from './pages';
import { Playback } from './playback';
import { Refusal } from './refusal';

/** Where each network shows its events. */
export const WATCH_PATH: Record<Network, string> = { reelmoor: '/reelmoor/watch', townfold: '/townfold/gathering' };

@ApiTags('Watching')
@Controller()
export class WatchController {
  constructor(
    private readonly events: Events,
    private readonly playback: Playback,
  ) {}

  @Get('assets/player.js')
  @Header('content-type', 'text/javascript; charset=utf-8')
  @Header('cache-control', 'max-age=3600')
  player(): string {
    return PLAYER_SCRIPT;
  }

  @Get('portraits/:account')
  @Header('content-type', 'image/svg+xml')
  @Header('access-control-allow-origin', '*')
  async portrait(@Param('account') id: string): Promise<string> {
    const [account] = await this.events.accounts({ id });
    if (!account) throw new Refusal(404, 'unknown-account', 'There is no such account.');
    return portraitSvg(account);
  }

  @Get(['reelmoor/watch/:id', 'townfold/gathering/:id'])
  @ApiOperation({ summary: 'The event’s public page' })
  @Header('content-type', 'text/html; charset=utf-8')
  async page(@Param('id') id: string, @Res({ passthrough: true }) response: Response): Promise<string> {
    const event = await this.event(id, response);
    return watchPage({ event, account: await this.events.accountOf(event), base: `${WATCH_PATH[event.network]}/${id}` });
  }

  @Get(['reelmoor/watch/:id/state', 'townfold/gathering/:id/state'])
  async state(@Param('id') id: string, @Query('viewer') viewer: string | undefined, @Res({ passthrough: true }) response: Response) {
    const event = await this.event(id, response);
    if (viewer) this.events.viewers.seen(event.id, viewer, Date.now());
    return {
      state: event.state,
      startsAt: event.startsAt,
      now: now(),
      watching: await this.events.watching(event),
      playable: (await this.live(event)) !== null,
    };
  }

  @Get(['reelmoor/watch/:id/live.m3u8', 'townfold/gathering/:id/live.m3u8'])
  @Header('content-type', 'application/vnd.apple.mpegurl')
  @Header('cache-control', 'no-store')
  async playlist(@Param('id') id: string, @Res({ passthrough: true }) response: Response): Promise<string> {
    const playlist = await this.live(await this.event(id, response));
    if (playlist === null) throw new Refusal(404, 'nothing-yet', 'There is nothing to watch at this moment.');
    return playlist;
  }

  @Get(['reelmoor/watch/:id/picture', 'townfold/gathering/:id/picture'])
  async picture(@Param('id') id: string, @Res({ passthrough: true }) response: Response): Promise<StreamableFile> {
    const event = await this.event(id, response);
    if (!event.thumbnailType) throw new Refusal(404, 'no-picture', 'This event has no picture.');
    return new StreamableFile(createReadStream(this.events.thumbnailPath(event)), { type: event.thumbnailType });
  }

  @Get(['reelmoor/watch/:id/:part', 'townfold/gathering/:id/:part'])
  async part(@Param('id') id: string, @Param('part') part: string, @Res({ passthrough: true }) response: Response): Promise<StreamableFile> {
    const event = await this.event(id, response);
    const path = event.publicAt === null ? null : this.playback.part(event.id, part);
    if (!path) throw new Refusal(404, 'no-part', 'There is no such part.');
    return new StreamableFile(createReadStream(path), { type: 'video/mp2t' });
  }

  private async live(event: EventRow): Promise<string | null> {
    if (event.state !== 'public' && event.state !== 'over') return null;
    return this.playback.playlist(event.id, event.delaySeconds, event.state === 'over');
  }

  private event(id: string, response: Response): Promise<EventRow> {
    return this.events.find(response.req.path.startsWith('/townfold') ? 'townfold' : 'reelmoor', id);
  }
}
