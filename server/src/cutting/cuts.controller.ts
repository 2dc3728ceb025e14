import { CutChange, CutDraft, CutShown, type CutsView } from '@lantern/contract';
import { Body, Controller, Delete, Get, HttpCode, Post, Put, Query, Res } from '@nestjs/common';
import type { Response } from 'express';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import type { Show } from '../shows/show.entities';
import { ShowId, UnknownId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { CutsService } from './cuts.service';

const CutId = () => UnknownId('cutId', 'There is no such cut.');

@Controller('api/shows/:id/cuts')
export class CutsController {
  constructor(
    private readonly shows: ShowsService,
    private readonly cuts: CutsService,
  ) {}

  private async show({ stationId }: Person, id: string): Promise<Show> {
    return (await this.shows.whole(stationId, id)).show;
  }

  @May('look at the station')
  @Get()
  async read(@SignedIn() person: Person, @ShowId() id: string): Promise<CutsView> {
    return this.cuts.of(await this.show(person, id));
  }

  @May('plan shows')
  @Post()
  async add(@SignedIn() person: Person, @ShowId() id: string, @Body() draft: CutDraft): Promise<CutsView> {
    const show = await this.show(person, id);
    await this.cuts.add(show, draft);
    return this.cuts.of(show);
  }

  /** Small pictures of the recording on one sheet. */
  @May('look at the station')
  @Get('strip.jpg')
  async strip(@SignedIn() person: Person, @ShowId() id: string, @Res() response: Response): Promise<void> {
    this.send(response, await this.cuts.surveyed(await this.show(person, id), 'strip'), 'image/jpeg');
  }

  /** How loud it is, a byte for each tenth of a second. */
  @May('look at the station')
  @Get('sound')
  async sound(@SignedIn() person: Person, @ShowId() id: string, @Res() response: Response): Promise<void> {
    this.send(response, await this.cuts.surveyed(await this.show(person, id), 'sound'), 'application/octet-stream');
  }

  /** When pictures of the recording are shown, in ms. */
  @May('look at the station')
  @Get('times')
  async times(@SignedIn() person: Person, @ShowId() id: string, @Query('from') from: unknown, @Query('to') to: unknown): Promise<number[]> {
    const [fromMs, toMs] = [Number(from), Number(to)];
    if (!(fromMs >= 0 && toMs >= fromMs)) throw new PlainError(400, 'Say from and to which moment, in milliseconds.');
    return this.cuts.times(await this.show(person, id), fromMs, toMs);
  }

  @May('plan shows')
  @Put(':cutId')
  async change(@SignedIn() person: Person, @ShowId() id: string, @CutId() cutId: string, @Body() draft: CutChange): Promise<CutsView> {
    const show = await this.show(person, id);
    await this.cuts.change(show, cutId, draft);
    return this.cuts.of(show);
  }

  @May('plan shows')
  @Delete(':cutId')
  async remove(@SignedIn() person: Person, @ShowId() id: string, @CutId() cutId: string): Promise<CutsView> {
    const show = await this.show(person, id);
    await this.cuts.remove(show, cutId);
    return this.cuts.of(show);
  }

  @May('plan shows')
  @Post(':cutId/make')
  @HttpCode(202)
  async make(@SignedIn() person: Person, @ShowId() id: string, @CutId() cutId: string): Promise<CutsView> {
    const show = await this.show(person, id);
    await this.cuts.ask(show, cutId);
    return this.cuts.of(show);
  }

  @May('plan shows')
  @Delete(':cutId/make')
  async cancel(@SignedIn() person: Person, @ShowId() id: string, @CutId() cutId: string): Promise<CutsView> {
    const show = await this.show(person, id);
    await this.cuts.cancel(show, cutId);
    return this.cuts.of(show);
  }

  @May('plan shows')
  @Put(':cutId/shown')
  async shown(@SignedIn() person: Person, @ShowId() id: string, @CutId() cutId: string, @Body() { shown }: CutShown): Promise<CutsView> {
    const show = await this.show(person, id);
    await this.cuts.show(show, cutId, shown);
    return this.cuts.of(show);
  }

  /** What was made of it; answers ranges (RFC 9110 section 14). */
  @May('look at the station')
  @Get(':cutId/cut.mp4')
  async file(@SignedIn() person: Person, @ShowId() id: string, @CutId() cutId: string, @Res() response: Response): Promise<void> {
    const cut = await this.cuts.cut(await this.show(person, id), cutId);
    this.send(response, this.cuts.file(cut), 'video/mp4');
  }

  private send(response: Response, path: string, type: string): void {
    response.sendFile(path, { headers: { 'content-type': type, 'cache-control': 'private, max-age=3600' } });
  }
}
