import { LinkChoice, LinkRequest, TypedInChannelRequest, type ChannelView, type LinkChoices, type LinkStarted } from '@lantern/contract';
import { Body, Controller, Get, HttpCode, Param, Post, Query, Res } from '@nestjs/common';
import type { Response } from 'express';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { SignedIn } from '../people/signed-in';
import { ChannelsService } from './channels.service';
import { AccessEnded, NetworkRefusal, NetworkSilence } from './connectors/connector';

@Controller('api/channels')
export class ChannelsController {
  constructor(private readonly channels: ChannelsService) {}

  @Get()
  async list(@SignedIn() person: Person): Promise<ChannelView[]> {
    return (await this.channels.list(person.stationId)).map((channel) => this.channels.view(channel));
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
    return { consentUrl: await this.channels.beginLink(person, body.network) };
  }

  /** Where the network sends the browser after its consent page. Answers with a page, never with JSON. */
  @Get('links/return')
  async consented(@SignedIn() person: Person, @Query() reply: { state?: string; code?: string; error?: string }, @Res() response: Response): Promise<void> {
    try {
      const link = await this.channels.finishConsent(person, reply);
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
    return this.channels.linkChoices(person, id);
  }

  @Post('links/:id')
  async finish(@SignedIn() person: Person, @Param('id') id: string, @Body() body: LinkChoice): Promise<ChannelView> {
    mayChangeChannels(person);
    return this.channels.view(await this.channels.finishLink(person, id, body.identityId));
  }
}

function mayChangeChannels(person: Person): void {
  if (person.role === 'moderator') throw new PlainError(403, 'Moderators cannot change channels. Ask the owner or a producer.');
}
