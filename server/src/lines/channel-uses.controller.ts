// What shows make of a channel: which of them a change of its rules touches, and which lose it.
import type { RuleChangeView, UnlinkPreview } from '@lantern/contract';
import { Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { ChannelsService } from '../channels/channels.service';
import { RuleBookService } from '../channels/rule-book.service';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ShowsService } from '../shows/shows.service';
import { UnlinkingService } from './unlinking.service';

@Controller('api/channels/:id')
export class ChannelUsesController {
  constructor(
    private readonly channels: ChannelsService,
    private readonly ruleBook: RuleBookService,
    private readonly shows: ShowsService,
    private readonly unlinking: UnlinkingService,
  ) {}

  @May('look at the station')
  @Get('rule-changes')
  async ruleChanges(@SignedIn() person: Person, @Param('id') id: string): Promise<RuleChangeView[]> {
    const channel = await this.channels.one(person.stationId, id);
    return this.ruleBook.changes(channel, await this.shows.comingOn(channel));
  }

  @May('look at the station')
  @Get('unlink')
  previewUnlink(@SignedIn() person: Person, @Param('id') id: string): Promise<UnlinkPreview> {
    return this.unlinking.preview(person.stationId, id);
  }

  @May('change channels')
  @Post('unlink')
  @HttpCode(204)
  async unlink(@SignedIn() person: Person, @Param('id') id: string): Promise<void> {
    await this.unlinking.unlink(person, id);
  }
}
