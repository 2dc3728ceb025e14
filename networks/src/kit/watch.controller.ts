// What the public sees of accounts and events on the networks, as far as each event's visibility lets it.
import { Body, Controller, Get, Header, Headers, HttpCode, Param, Post, Query, Res, StreamableFile } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { createReadStream } from 'node:fs';
import { now } from './clock';
import { type EventRow, type FilmRow, NETWORKS } from './entities';
import { Events } from './events';
import { Films } from './films';
import { NETWORK_LOOKS } from './looks';
import { Messages } from './messages';
import { accountPage, closedPage, countryPage, PLAYER_SCRIPT, portraitSvg, watchPage } from './pages';
import { Playback } from './playback';
import { Plays } from './plays';
import { Posts } from './posts';
import { Shares } from './shares';
import { networkOfPath, Refusal } from './refusal';

const eventPaths = (below = '') => NETWORKS.map((network) => `${NETWORK_LOOKS[network].eventPath.slice(1)}/:id${below}`);
const accountPaths = NETWORKS.map((network) => `${NETWORK_LOOKS[network].accountPath.slice(1)}/:id`);

@ApiTags('Watching')
@Controller()
export class WatchController {
  constructor(
    private readonly events: Events,
    private readonly playback: Playback,
    private readonly posts: Posts,
    private readonly messages: Messages,
    private readonly shares: Shares,
    private readonly films: Films,
    private readonly plays: Plays,
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

  @Get(accountPaths)
  @ApiOperation({ summary: 'The account’s public page' })
  @Header('content-type', 'text/html; charset=utf-8')
  async account(@Param('id') id: string, @Res({ passthrough: true }) response: Response): Promise<string> {
    const [account] = await this.events.accounts({ id, network: networkOfPath(response.req.path)! });
    if (!account) throw new Refusal(404, 'unknown-account', 'There is no such account.');
    const { withdrawn } = this.events.rulesOf(account.network);
    const { listedFrom } = this.events.rulesOf(account.network);
    const own = await this.events.all({ accountId: id, visibility: 'everyone' });
    const events = [...own, ...(await this.shares.on(account))].filter(
      (event) => (event.state !== 'withdrawn' || withdrawn === 'event') && (event.state !== 'planned' || now() >= listedFrom(event)),
    );
    return accountPage(account, events, await this.posts.of(id));
  }

  @Get(eventPaths())
  @ApiOperation({ summary: 'The event’s public page' })
  @Header('content-type', 'text/html; charset=utf-8')
  async page(
    @Param('id') id: string,
    @Query('as') as: string | undefined,
    @Query('in') country: string | undefined,
    @Res({ passthrough: true }) response: Response,
  ): Promise<string> {
    const event = await this.find(id, response);
    if (!(await this.admits(event, as))) {
      response.status(403);
      return closedPage(event.network, event.visibility);
    }
    const shownIn = this.events.rulesOf(event.network).shownIn(event);
    if (shownIn && !(country && shownIn(country))) {
      response.status(country ? 451 : 200);
      return countryPage(event.network, as, country);
    }
    return watchPage({
      event,
      speakers: await this.events.speakers(event),
      mayWrite: this.events.rulesOf(event.network).mayWrite(event),
      account: await this.events.accountOf(event),
      base: `${NETWORK_LOOKS[event.network].eventPath}/${id}`,
      query: queryOf(as),
    });
  }

  @Get(eventPaths('/state'))
  async state(
    @Param('id') id: string,
    @Query('as') as: string | undefined,
    @Query('viewer') viewer: string | undefined,
    @Res({ passthrough: true }) response: Response,
  ) {
    const event = await this.event(id, as, response);
    if (viewer) this.events.viewers.seen(event.id, viewer, Date.now());
    const film = await this.filmOf(event);
    const playable = film !== null || (await this.playlistOf(event, as)) !== null;
    if (viewer && playable) await this.plays.seen(event, viewer);
    return {
      ...{ state: event.state, startsAt: event.startsAt, now: now(), watching: await this.events.watching(event), playable },
      film: film && { language: film.language },
    };
  }

  @Get(eventPaths('/said'))
  @ApiOperation({ summary: 'What everybody sees of what was written beneath the event' })
  async said(@Param('id') id: string, @Query('as') as: string | undefined, @Res({ passthrough: true }) response: Response) {
    const { messages, messagesStay } = this.events.rulesOf(networkOfPath(response.req.path)!);
    const event = await this.event(id, as, response);
    const rows = event.state === 'over' && !messagesStay(event) ? [] : await this.messages.shown(event.id);
    return rows.map(({ id, writer, standing, text, answers }) => ({
      id,
      writer,
      own: standing === 'account',
      text,
      answers: messages.threads ? answers : null,
    }));
  }

  /** Viewers have no sign-in here: what the network would know of whoever writes is said by the form. */
  @Post(eventPaths('/said'))
  @HttpCode(200)
  async say(
    @Param('id') id: string,
    @Query('as') as: string | undefined,
    @Body() { name, words, standing }: { name?: string; words?: string; standing?: string },
    @Res({ passthrough: true }) response: Response,
  ) {
    const event = await this.event(id, as, response);
    const writer = (name ?? '').trim().slice(0, 60) || 'Somebody';
    const known = standing === 'member' || standing === 'follower' ? standing : 'newcomer';
    const row = await this.messages.write(event, { writerId: `by-${writer}`, writer, standing: known, text: words ?? '' });
    return { id: row.id };
  }

  @Get(eventPaths('/live.m3u8'))
  @Header('content-type', 'application/vnd.apple.mpegurl')
  @Header('cache-control', 'no-store')
  async playlist(@Param('id') id: string, @Query('as') as: string | undefined, @Res({ passthrough: true }) response: Response): Promise<string> {
    const playlist = await this.playlistOf(await this.event(id, as, response), as);
    if (playlist === null) throw new Refusal(404, 'nothing-yet', 'There is nothing to watch at this moment.');
    return playlist;
  }

  /** The film in the place of the recording; answers one range (RFC 9110 section 14). */
  @Get(eventPaths('/film.mp4'))
  async film(
    @Param('id') id: string,
    @Query('as') as: string | undefined,
    @Headers('range') range: string | undefined,
    @Res({ passthrough: true }) response: Response,
  ): Promise<StreamableFile> {
    const film = await this.filmOf(await this.event(id, as, response));
    if (!film) throw new Refusal(404, 'no-film', 'There is no film here.');
    const asked = /^bytes=(\d+)-(\d*)$/.exec(range ?? '');
    const from = Math.min(Number(asked?.[1] ?? 0), film.bytes - 1);
    const to = Math.min(asked?.[2] ? Number(asked[2]) : film.bytes - 1, film.bytes - 1);
    if (asked) response.status(206).set('content-range', `bytes ${from}-${to}/${film.bytes}`);
    response.set('accept-ranges', 'bytes');
    return new StreamableFile(this.films.stream(film, from, to), { type: 'video/mp4', length: to - from + 1 });
  }

  @Get(eventPaths('/captions.vtt'))
  @Header('content-type', 'text/vtt; charset=utf-8')
  async captions(@Param('id') id: string, @Query('as') as: string | undefined, @Res({ passthrough: true }) response: Response): Promise<string> {
    const film = await this.filmOf(await this.event(id, as, response));
    if (!film?.captions) throw new Refusal(404, 'no-captions', 'There are no captions here.');
    return film.captions;
  }

  @Get(eventPaths('/picture'))
  async picture(@Param('id') id: string, @Query('as') as: string | undefined, @Res({ passthrough: true }) response: Response): Promise<StreamableFile> {
    const event = await this.event(id, as, response);
    if (!event.thumbnailType) throw new Refusal(404, 'no-picture', 'This event has no picture.');
    return new StreamableFile(createReadStream(this.events.thumbnailPath(event)), { type: event.thumbnailType });
  }

  @Get(eventPaths('/:part'))
  async part(
    @Param('id') id: string,
    @Param('part') part: string,
    @Query('as') as: string | undefined,
    @Res({ passthrough: true }) response: Response,
  ): Promise<StreamableFile> {
    const event = await this.event(id, as, response);
    const path = event.publicAt === null ? null : this.playback.part(event.id, part);
    if (!path) throw new Refusal(404, 'no-part', 'There is no such part.');
    return new StreamableFile(createReadStream(path), { type: 'video/mp2t' });
  }

  /** What can be watched of an event: the live picture, or the recording once the network has it ready. */
  private async playlistOf(event: EventRow, as: string | undefined): Promise<string | null> {
    if (event.state === 'planned' || event.publicAt === null) return null;
    const { recording, withdrawn } = this.events.rulesOf(event.network);
    const over = event.state !== 'public';
    if (over) {
      const keeps = recording.kept && event.replay && (event.state === 'over' || withdrawn === 'recording');
      if (!keeps || now() < event.endedAt! + recording.afterMs) return null;
    }
    return this.playback.playlist(event.id, event.delaySeconds, event.rewindHours, over, recording.atMostMs, queryOf(as));
  }

  private async filmOf(event: EventRow): Promise<FilmRow | null> {
    return event.state === 'over' && event.replay ? this.films.shownAt(event.id) : null;
  }

  private find(id: string, response: Response): Promise<EventRow> {
    return this.events.find(networkOfPath(response.req.path)!, id);
  }

  private async admits(event: EventRow, as: string | undefined): Promise<boolean> {
    const key = await this.events.admissionKey(event);
    return key === null || key === as;
  }

  private async event(id: string, as: string | undefined, response: Response): Promise<EventRow> {
    const event = await this.find(id, response);
    if (!(await this.admits(event, as))) throw new Refusal(403, 'not-for-you', 'This is not for everybody. Use the address that you were sent.');
    return event;
  }
}

const queryOf = (as: string | undefined) => (as ? `?as=${encodeURIComponent(as)}` : '');
