import {
  ChannelDefaultsRequest,
  type PartnerView,
  LinkChoice,
  LinkRequest,
  TypedInChannelChange,
  TypedInChannelRequest,
  type ChannelView,
  type LinkChoices,
  type LinkStarted,
} from '@lantern/contract';
import { Body, Controller, Get, HttpCode, Param, Post, Put, Query, Res } from '@nestjs/common';
import type { Response } from 'express';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { ChannelsService } from './channels.service';
import { AccessEnded, NetworkRefusal, NetworkSilence } from './connectors/connector';
import { LinkingService } from './linking.service';

@Controller('api/channels')
export class ChannelsController {
  constructor(
    private readonly channels: ChannelsService,
    private readonly linking: LinkingService,
  ) {}

  @May('look at the station')
  @Get()
  async list(@SignedIn() person: Person): Promise<ChannelView[]> {
    return this.channels.views(await this.channels.list(person.stationId));
  }

  @May('change channels')
  @Post('typed-in')
  async typeIn(@SignedIn() person: Person, @Body() body: TypedInChannelRequest): Promise<ChannelView> {
    return this.channels.view(await this.channels.typeIn(person, body));
  }

  @May('change channels')
  @Post('links')
  @HttpCode(200)
  async begin(@SignedIn() person: Person, @Body() body: LinkRequest): Promise<LinkStarted> {
    return { consentUrl: await this.linking.begin(person, body.network) };
  }

  /** Where the network sends the browser after its consent page. Answers with a page, never with JSON. */
  @May('change channels')
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

  @May('change channels')
  @Get('links/:id')
  choices(@SignedIn() person: Person, @Param('id') id: string): Promise<LinkChoices> {
    return this.linking.choices(person, id);
  }

  @May('change channels')
  @Post('links/:id')
  async finish(@SignedIn() person: Person, @Param('id') id: string, @Body() body: LinkChoice): Promise<ChannelView> {
    return this.channels.view(await this.linking.finish(person, id, body.identityId));
  }

  @May('look at the station')
  @Get(':id')
  async read(@SignedIn() person: Person, @Param('id') id: string): Promise<ChannelView> {
    return this.channels.view(await this.channels.one(person.stationId, id));
  }

  @May('change channels')
  @Put(':id')
  async change(@SignedIn() person: Person, @Param('id') id: string, @Body() body: TypedInChannelChange): Promise<ChannelView> {
    return this.channels.view(await this.channels.changeTypedIn(await this.channels.one(person.stationId, id), body));
  }

  @May('change channels')
  @Put(':id/defaults')
  async setDefaults(@SignedIn() person: Person, @Param('id') id: string, @Body() body: ChannelDefaultsRequest): Promise<ChannelView> {
    return this.channels.view(await this.channels.setDefaults(await this.channels.one(person.stationId, id), body));
  }

  /** The pages there on which shows of this channel can be shared. */
  @May('look at the station')
  @Get(':id/partners')
  async partners(@SignedIn() person: Person, @Param('id') id: string): Promise<PartnerView[]> {
    return this.channels.partners(await this.channels.one(person.stationId, id));
  }

  /** Asks the network again whether the channel may broadcast, and which rules will change. */
  @May('look at the station')
  @Post(':id/look-again')
  @HttpCode(200)
  async lookAgain(@SignedIn() person: Person, @Param('id') id: string): Promise<ChannelView> {
    return this.channels.view(await this.channels.lookAgain(await this.channels.one(person.stationId, id)));
  }

  @May('change channels')
  @Post(':id/ask-to-broadcast')
  @HttpCode(200)
  async askToBroadcast(@SignedIn() person: Person, @Param('id') id: string): Promise<ChannelView> {
    return this.channels.view(await this.channels.askToBroadcast(await this.channels.one(person.stationId, id)));
  }
}
