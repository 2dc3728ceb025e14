import {
  ChannelDefaultsRequest,
  LinkChoice,
  LinkRequest,
  TypedInChannelChange,
  TypedInChannelRequest,
  type ChannelView,
  type LinkChoices,
  type LinkStarted,
  type RuleChangeView,
  type UnlinkPreview,
} from '@lantern/contract';
import { Body, Controller, Get, HttpCode, Param, Post, Put, Query, Res } from '@nestjs/common';
import type { Response } from 'express';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { SignedIn } from '../people/signed-in';
import { ShowsService } from '../shows/shows.service';
import { ChannelsService } from './channels.service';
import { AccessEnded, NetworkRefusal, NetworkSilence } from './connectors/connector';
import { LinkingService } from './linking.service';
import { RuleBookService } from './rule-book.service';

@Controller('api/channels')
export class ChannelsController {
  constructor(
    private readonly channels: ChannelsService,
    private readonly linking: LinkingService,
    private readonly ruleBook: RuleBookService,
    private readonly shows: ShowsService,
  ) {}

  @Get()
  async list(@SignedIn() person: Person): Promise<ChannelView[]> {
    return this.channels.views(await this.channels.list(person.stationId));
  }

  @Post('typed-in')
  async typeIn(@SignedIn() person: Person, @Body() body: TypedInChannelRequest): Promise<ChannelView> {
    mayChangeChannels(person);
    return this.channels.view(await this.channels.typeIn(person, body));
  }

  @Post('links')
  @HttpCode(200)
  async begin(@SignedIn() person: Person, @Body() body: LinkRequest): Promise<LinkStarted> {
    mayChangeChannels(person);
    return { consentUrl: await this.linking.begin(person, body.network) };
  }

  /** Where the network sends the browser after its consent page. Answers with a page, never with JSON. */
  @Get('links/return')
  async consented(@SignedIn() person: Person, @Query() reply: { state?: string; code?: string; error?: string }, @Res() response: Response): Promise<void> {
    try {
      const link = await this.linking.finishConsent(person, reply);
      response.redirect(303, `/channels/link/${link.id}`);
    } catch (error) {
      const words =
        error instanceof PlainError
          ? error.words
          : error instanceof NetworkRefusal || error instanceof NetworkSilence || error instanceof AccessEnded
            ? 'The network did not confirm the link. Begin it again.'
            : null;
      if (words === null) throw error;
      response.redirect(303, `/channels?trouble=${encodeURIComponent(words)}`);
    }
  }

  @Get('links/:id')
  choices(@SignedIn() person: Person, @Param('id') id: string): Promise<LinkChoices> {
    return this.linking.choices(person, id);
  }

  @Post('links/:id')
  async finish(@SignedIn() person: Person, @Param('id') id: string, @Body() body: LinkChoice): Promise<ChannelView> {
    mayChangeChannels(person);
    return this.channels.view(await this.linking.finish(person, id, body.identityId));
  }

  @Get(':id')
  async read(@SignedIn() person: Person, @Param('id') id: string): Promise<ChannelView> {
    return this.channels.view(await this.channels.one(person.stationId, id));
  }

  @Put(':id')
  async change(@SignedIn() person: Person, @Param('id') id: string, @Body() body: TypedInChannelChange): Promise<ChannelView> {
    mayChangeChannels(person);
    return this.channels.view(await this.channels.changeTypedIn(await this.channels.one(person.stationId, id), body));
  }

  @Put(':id/defaults')
  async setDefaults(@SignedIn() person: Person, @Param('id') id: string, @Body() body: ChannelDefaultsRequest): Promise<ChannelView> {
    mayChangeChannels(person);
    return this.channels.view(await this.channels.setDefaults(await this.channels.one(person.stationId, id), body));
  }

  /** Asks the network again whether the channel may broadcast, and which rules will change. */
  @Post(':id/look-again')
  @HttpCode(200)
  async lookAgain(@SignedIn() person: Person, @Param('id') id: string): Promise<ChannelView> {
    return this.channels.view(await this.channels.lookAgain(await this.channels.one(person.stationId, id)));
  }

  @Post(':id/ask-to-broadcast')
  @HttpCode(200)
  async askToBroadcast(@SignedIn() person: Person, @Param('id') id: string): Promise<ChannelView> {
    mayChangeChannels(person);
    return this.channels.view(await this.channels.askToBroadcast(await this.channels.one(person.stationId, id)));
  }

  @Get(':id/rule-changes')
  async ruleChanges(@SignedIn() person: Person, @Param('id') id: string): Promise<RuleChangeView[]> {
    const channel = await this.channels.one(person.stationId, id);
    return this.ruleBook.changes(channel, await this.shows.comingOn(channel));
  }

  @Get(':id/unlink')
  previewUnlink(@SignedIn() person: Person, @Param('id') id: string): Promise<UnlinkPreview> {
    return this.linking.previewUnlink(person.stationId, id);
  }

  @Post(':id/unlink')
  @HttpCode(204)
  async unlink(@SignedIn() person: Person, @Param('id') id: string): Promise<void> {
    mayChangeChannels(person);
    await this.linking.unlink(person, id);
  }
}

export function mayChangeChannels(person: Person): void {
  if (person.role === 'moderator') throw new PlainError(403, 'Moderators cannot change channels. Ask the owner or a producer.');
}
