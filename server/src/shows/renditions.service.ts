// The picture of a show as each of its channels gets it, with what is to be said about it.
import type { CropRequest, RenditionView } from '@lantern/contract';
import { HARDLY_TOLD_APART, hashDistance, shapeKey, SSIM_GOOD, type RuleSheet } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { existsSync } from 'node:fs';
import { isDeepStrictEqual } from 'node:util';
import type { Channel } from '../channels/channel.entities';
import { RuleBookService } from '../channels/rule-book.service';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import type { Show } from './show.entities';
import { ShowRows } from './show-rows';
import { ShowsService } from './shows.service';
import { Thumbnails, type Rendition } from './thumbnails';

/** More of what is looked at than a corner has by chance. */
const MUCH_UNDER_BADGE = 0.08;

@Injectable()
export class RenditionsService {
  constructor(
    private readonly rows: ShowRows,
    private readonly shows: ShowsService,
    private readonly ruleBook: RuleBookService,
    private readonly thumbnails: Thumbnails,
  ) {}

  /** One for each ticked channel that takes a picture. Empty without one. */
  async list(stationId: string, id: string): Promise<RenditionView[]> {
    const { show, airings } = await this.shows.whole(stationId, id);
    if (!show.thumbnail) return [];
    const alike = await this.likeTheLast(show);
    const taking = airings.flatMap(({ channel }) => this.ruleOf(channel) ?? []);
    return Promise.all(taking.map(async ({ channel, rule }) => viewOf(show, channel, rule, await this.thumbnails.rendition(show, rule), alike)));
  }

  async one(stationId: string, id: string, channelId: string): Promise<Buffer> {
    const { show, airings } = await this.shows.whole(stationId, id);
    const channel = airings.find((each) => each.channel.id === channelId)?.channel;
    const taking = channel && this.ruleOf(channel);
    if (!show.thumbnail || !taking) throw new PlainError(404, 'This channel gets no picture of this show.');
    return (await this.thumbnails.rendition(show, taking.rule)).jpeg;
  }

  async wholePath(stationId: string, id: string): Promise<string> {
    const { show } = await this.shows.whole(stationId, id);
    if (!show.thumbnail) throw new PlainError(404, 'This show has no picture yet.');
    const master = await this.thumbnails.file(show, 'master');
    return existsSync(master) ? master : this.thumbnails.path(show, 'original');
  }

  /** Keeps the crop that was chosen by hand for one shape: as large as the shape allows, from this corner. */
  async crop(person: Person, id: string, { shape, x, y }: CropRequest): Promise<void> {
    const { show } = await this.shows.whole(person.stationId, id);
    if (!show.thumbnail) throw new PlainError(409, 'Choose a picture first.');
    const { width, height } = show.thumbnail;
    const wide = width / height > shape;
    const size = wide ? { width: (shape * height) / width, height: 1 } : { width: 1, height: width / shape / height };
    const within = (value: number, length: number) => Math.min(1 - length, Math.max(0, value));
    const thumbnail = this.thumbnails.withCrop(show.thumbnail, shape, { ...size, x: within(x, size.width), y: within(y, size.height) });
    await this.shows.write(id, { thumbnail }, ['thumbnail'], person.name);
  }

  private ruleOf(channel: Channel): { channel: Channel; rule: NonNullable<RuleSheet['thumbnail']> } | null {
    const rule = this.ruleBook.rules(channel).thumbnail;
    return rule && { channel, rule };
  }

  /** Whether the picture is hardly to be told from that of the date before, and yet another. */
  private async likeTheLast({ seriesId, seriesDate, thumbnail }: Show): Promise<boolean> {
    if (seriesId === null || !thumbnail?.hash) return false;
    const last = await this.rows.dateBefore(seriesId, seriesDate!);
    // Pictures of one recipe are meant to be alike, and each says its own day.
    if (thumbnail.recipe && thumbnail.recipe.when !== 'none' && isDeepStrictEqual(last?.thumbnail?.recipe, thumbnail.recipe)) return false;
    const distance = last?.thumbnail?.hash ? hashDistance(last.thumbnail.hash, thumbnail.hash) : Infinity;
    return distance > 0 && distance <= HARDLY_TOLD_APART;
  }
}

function viewOf(show: Show, channel: Channel, rule: NonNullable<RuleSheet['thumbnail']>, rendition: Rendition, alike: boolean): RenditionView {
  const { width, height, quality, ssim, crop, jpeg, underBadge, letters } = rendition;
  const warnings: RenditionView['warnings'] = [];
  if (ssim < SSIM_GOOD) warnings.push('loses');
  warnings.push(...letters);
  if (underBadge > MUCH_UNDER_BADGE) warnings.push('badge');
  if (alike) warnings.push('alike');
  return {
    ...{ channelId: channel.id, shape: rule.shape, width, height, bytes: jpeg.length, quality, ssim, crop, warnings },
    url: `/api/shows/${show.id}/renditions/${channel.id}?v=${show.thumbnail!.version}`,
    byHand: show.thumbnail!.crops?.[shapeKey(rule.shape)]?.byHand ?? false,
  };
}
