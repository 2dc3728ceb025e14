// How a channel stops being one: its access is given back, and its shows and lines let go of it.
import type { UnlinkPreview } from '@lantern/contract';
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { ChannelAccessService } from '../channels/access.service';
import { ChannelRows, LineRows } from '../channels/channel-rows';
import { ChannelsService } from '../channels/channels.service';
import { Bus } from '../foundation/bus';
import { PlainError } from '../foundation/errors';
import { together } from '../foundation/together';
import { AuditService } from '../people/audit.service';
import type { Person } from '../people/people.entities';
import { AiringRows } from '../shows/airing-rows';
import { ShowsService } from '../shows/shows.service';
import { standsThere } from '../shows/show-facts';

@Injectable()
export class UnlinkingService {
  constructor(
    private readonly database: DataSource,
    private readonly access: ChannelAccessService,
    private readonly channels: ChannelsService,
    private readonly channelRows: ChannelRows,
    private readonly lineRows: LineRows,
    private readonly airingRows: AiringRows,
    private readonly shows: ShowsService,
    private readonly audit: AuditService,
    private readonly bus: Bus,
  ) {}

  async preview(stationId: string, channelId: string): Promise<UnlinkPreview> {
    const channel = await this.channels.one(stationId, channelId);
    return {
      shows: (await this.shows.usesOf([channel.id])).map(({ show, airing }) => ({
        id: show.id,
        title: show.title,
        startsAt: show.startsAt,
        zone: show.zone,
        stands: standsThere(airing),
      })),
    };
  }

  /**
   * Gives the access back and forgets its tokens. Coming shows lose the channel; where their events
   * stand already, they stay on the network and are looked after there. Past shows keep it.
   */
  async unlink(person: Person, channelId: string): Promise<void> {
    const channel = await this.channels.one(person.stationId, channelId);
    const touched = await this.shows.usesOf([channel.id]);
    if (touched.some(({ show }) => show.state === 'onAir' || show.state === 'interrupted')) {
      throw new PlainError(409, `A show is on air on ${channel.name}. Wrap it up, then unlink the channel.`);
    }
    await this.access.giveBack(channel);
    await together(this.database, async () => {
      await this.airingRows.remove(touched.map(({ airing }) => airing.id));
      await this.channelRows.change(channel.id, { access: 'unlinked', sealed: '' });
      // A key that nobody can use from here any more is not kept either.
      await this.lineRows.removeAllOf(channel.id);
    });
    this.bus.tell({ kind: 'channels', stationId: person.stationId });
    await this.audit.note(person, 'unlinked', channel.name);
  }
}
