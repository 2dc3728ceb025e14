// Planning: shows and their airings, and who may see them.
import type { AiringView, ShowDraft, ShowSummary, ShowView, ThumbnailView } from '@lantern/contract';
import { instant, readWallTime, type ShowFacts } from '@lantern/core';
import { Inject, Injectable } from '@nestjs/common';
import { randomBytes, randomUUID } from 'node:crypto';
import { DataSource, In, IsNull, type EntityManager } from 'typeorm';
import { Channel } from '../channels/channel.entities';
import { ChannelsService, identityOf } from '../channels/channels.service';
import { PlainError, unknownShow } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { Line } from '../lines/line.entities';
import { Airing, Show, standsThere } from './show.entities';
import { Thumbnails } from './thumbnails';

const MINUTE_MS = 60_000;

/** A show with what belongs to it. */
export interface WholeShow {
  show: Show;
  airings: { airing: Airing; channel: Channel }[];
}

@Injectable()
export class ShowsService {
  constructor(
    private readonly database: DataSource,
    private readonly channels: ChannelsService,
    private readonly thumbnails: Thumbnails,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async list(stationId: string): Promise<ShowSummary[]> {
    const shows = await this.database.getRepository(Show).find({ where: { stationId }, order: { startsAt: 'ASC' } });
    const airings = await this.database.getRepository(Airing).findBy({ showId: In(shows.map(({ id }) => id)) });
    const channels = new Map((await this.database.getRepository(Channel).findBy({ stationId })).map((channel) => [channel.id, channel]));
    return shows.map(({ id, title, state, startsAt, zone, lengthMs }) => ({
      id,
      title,
      state,
      startsAt,
      zone,
      lengthMs,
      airings: airings
        .filter(({ showId }) => showId === id)
        .map(({ channelId, placing }) => ({ network: channels.get(channelId)!.network, channelName: channels.get(channelId)!.name, placing }))
        .sort((a, b) => a.network.localeCompare(b.network) || a.channelName.localeCompare(b.channelName)),
    }));
  }

  /** One show of the station. Throws 404 for an unknown one and for another station's alike. */
  async whole(stationId: string, id: string): Promise<WholeShow> {
    const show = await this.database.getRepository(Show).findOneBy({ id, stationId });
    if (!show) throw unknownShow();
    return { show, airings: await this.airingsOf(show) };
  }

  async airingsOf(show: Show): Promise<WholeShow['airings']> {
    const airings = await this.database.getRepository(Airing).findBy({ showId: show.id });
    const channels = await this.database.getRepository(Channel).findBy({ id: In(airings.map(({ channelId }) => channelId)) });
    return airings
      .map((airing) => ({ airing, channel: channels.find(({ id }) => id === airing.channelId)! }))
      .sort((a, b) => a.channel.network.localeCompare(b.channel.network) || a.channel.name.localeCompare(b.channel.name));
  }

  bySlug(slug: string): Promise<Show | null> {
    return this.database.getRepository(Show).findOneBy({ slug });
  }

  async draft(stationId: string, draft: ShowDraft): Promise<Show> {
    await this.channels.some(stationId, draft.channelIds);
    return this.database.transaction(async (entities) => {
      const show = Object.assign(new Show(), {
        id: randomUUID(),
        stationId,
        slug: randomBytes(9).toString('base64url'),
        ...plannedFacts(draft),
        state: 'draft',
        thumbnail: null,
        onAirSince: null,
        endedAt: null,
        programme: 'holding',
        recording: 'none',
        recordingMs: 0,
      } satisfies Partial<Show>);
      await entities.save(show);
      await this.tickChannels(entities, show.id, draft);
      return show;
    });
  }

  /** Saves the sheet. What already stands on channels is changed there by PlacingService. */
  async change(stationId: string, id: string, draft: ShowDraft): Promise<Show> {
    const { show, airings } = await this.whole(stationId, id);
    if (show.state !== 'draft' && show.state !== 'placed')
      throw new PlainError(409, 'This show has been on air or was withdrawn and can no longer be changed.');
    await this.channels.some(stationId, draft.channelIds);
    const unticked = airings.find(({ airing }) => standsThere(airing) && !draft.channelIds.includes(airing.channelId));
    if (unticked) {
      throw new PlainError(409, `The show stands on ${unticked.channel.name} already. Withdraw it before taking the channel off.`);
    }
    return this.database.transaction(async (entities) => {
      await this.tickChannels(entities, show.id, draft);
      return entities.save(Object.assign(show, plannedFacts(draft)));
    });
  }

  async setThumbnail(stationId: string, id: string, bytes: Buffer): Promise<Show> {
    const { show } = await this.whole(stationId, id);
    show.thumbnail = await this.thumbnails.store(show, bytes);
    return this.database.getRepository(Show).save(show);
  }

  /** What the networks' rules are about; `airing`: as it stands on one channel. */
  facts(show: Show, airing: Airing | null = null): ShowFacts {
    const { title, description, lengthMs, thumbnail, thumbnailAlternative } = show;
    const placedAt = airing?.placing === 'placed' && airing.placedAt !== null ? instant(airing.placedAt) : null;
    return { title, description, startsAt: instant(show.startsAt), lengthMs, thumbnail, thumbnailAlternative, placedAt };
  }

  /** Shows that are still to come on a channel, as its rules see them. */
  async comingOn(channelId: string): Promise<{ id: string; title: string; zone: string; facts: ShowFacts }[]> {
    const airings = await this.database.getRepository(Airing).findBy({ channelId });
    const shows = await this.database
      .getRepository(Show)
      .find({ where: { id: In(airings.map(({ showId }) => showId)), state: In(['draft', 'placed']) }, order: { startsAt: 'ASC' } });
    return shows.map((show) => ({
      id: show.id,
      title: show.title,
      zone: show.zone,
      facts: this.facts(
        show,
        airings.find(({ showId }) => showId === show.id),
      ),
    }));
  }

  view({ show, airings }: WholeShow): ShowView {
    const { id, title, description, state, startsAt, zone, lengthMs } = show;
    return {
      id,
      title,
      description,
      state,
      startsAt,
      zone,
      lengthMs,
      thumbnail: this.thumbnailView(show),
      thumbnailAlternative: show.thumbnailAlternative,
      pictureFrom: show.pictureFrom,
      houseUrl: this.houseUrl(show),
      airings: airings.map(({ airing, channel }) => this.airingView(airing, channel)),
      channelIds: airings.map(({ airing }) => airing.channelId),
    };
  }

  houseUrl(show: Show): string {
    return `${this.settings.publicUrl}/on/${show.slug}`;
  }

  private airingView(airing: Airing, channel: Channel): AiringView {
    const { id, placing, placedAt, visibility, lineId, refusal } = airing;
    return { id, channel: identityOf(channel), placing, placedAt, visibility, lineId, watchUrl: airing.watchUrl ?? channel.watchUrl, refusal };
  }

  private thumbnailView(show: Show): ThumbnailView | null {
    if (!show.thumbnail) return null;
    const { version, width, height } = show.thumbnail;
    return { url: `/api/shows/${show.id}/thumbnail?v=${version}`, width, height };
  }

  /** Brings the airings into step with the ticked channels and the lines chosen for them. */
  private async tickChannels(entities: EntityManager, showId: string, { channelIds, lines }: ShowDraft): Promise<void> {
    const present = await entities.findBy(Airing, { showId });
    await entities.remove(present.filter(({ channelId }) => !channelIds.includes(channelId)));
    const channels = await entities.findBy(Channel, { id: In(channelIds) });
    for (const channel of channels) {
      const lineId = lines.find(({ channelId }) => channelId === channel.id)?.lineId ?? null;
      if (lineId !== null && !(await entities.existsBy(Line, { id: lineId, channelId: channel.id, airingId: IsNull() }))) {
        throw new PlainError(422, `The line chosen for ${channel.name} is not one of its own. Choose another.`);
      }
      const airing = present.find(({ channelId }) => channelId === channel.id);
      const blank = { showId, channelId: channel.id, placing: 'none' as const, placedAt: null, remoteId: null, watchUrl: null, refusal: '', endWords: '' };
      const fresh = () => Object.assign(new Airing(), { id: randomUUID(), visibility: channel.defaults.visibility, ...blank });
      await entities.save(Object.assign(airing ?? fresh(), { lineId }));
    }
  }
}

function plannedFacts(draft: ShowDraft): Pick<Show, 'title' | 'description' | 'startsAt' | 'zone' | 'lengthMs' | 'thumbnailAlternative' | 'pictureFrom'> {
  const reading = readWallTime({ date: draft.date, time: draft.time }, draft.zone);
  if (reading.kind !== 'once') throw new PlainError(400, 'This date and time cannot be read in this zone. Choose another.');
  return {
    title: draft.title.trim(),
    description: draft.description.trim(),
    startsAt: reading.instant,
    zone: draft.zone,
    lengthMs: draft.lengthMin * MINUTE_MS,
    thumbnailAlternative: draft.thumbnailAlternative.trim(),
    pictureFrom: draft.pictureFrom,
  };
}
