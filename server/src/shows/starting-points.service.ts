// Where a new show may start from: an earlier show, or a template.
import type { ShowDraft, TemplateView } from '@lantern/contract';
import { datedWords, instant, nextTime, wallTimeOf, BLANK_SHEET, whenOf } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { ChannelRows } from '../channels/channel-rows';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { AiringsService } from './airings.service';
import { draftOf } from './draft';
import { TemplateRows } from './series-rows';
import type { Show, Template } from './show.entities';
import { ShowsService } from './shows.service';
import { Thumbnails } from './thumbnails';

@Injectable()
export class StartingPointsService {
  constructor(
    private readonly templateRows: TemplateRows,
    private readonly channelRows: ChannelRows,
    private readonly shows: ShowsService,
    private readonly airings: AiringsService,
    private readonly thumbnails: Thumbnails,
    private readonly clock: Clock,
  ) {}

  /** A draft of the same show for the next time: same weekday and hour, next episode; what may be about the old date waits for a look. */
  async again(person: Person, showId: string): Promise<Show> {
    const { show, airings } = await this.shows.whole(person.stationId, showId);
    const next = nextTime(instant(show.startsAt), show.zone, this.clock.now());
    const draft = draftOf(
      show,
      airings.map(({ airing }) => airing),
    );
    const texts = draft.variants.flatMap(({ description }) => (description === null ? [] : [description]));
    const titles = draft.variants.flatMap(({ title }) => (title === null ? [] : [title]));
    const toLook: ShowDraft['toLook'] = [];
    if ([draft.title, ...titles].some((text) => datedWords(text).length)) toLook.push('title');
    if ([draft.description, ...texts].some((text) => datedWords(text).length)) toLook.push('description');
    if (draft.people.some(({ role }) => role === 'guest')) toLook.push('people');
    if (show.thumbnail && datedWords(draft.thumbnailAlternative).length) toLook.push('picture');
    if (!next.sure) toLook.push('time');
    return this.made(
      person,
      {
        ...draft,
        ...whenOf(next.startsAt, show.zone),
        episode: draft.episode === null ? null : draft.episode + 1,
        ticked: [],
        said: [],
        toLook,
      },
      { id: show.id, picture: show.thumbnail, waiting: show.waiting },
    );
  }

  /** A new show from nothing: the next full hour tomorrow in the station's zone, on no channel yet. */
  async blank(person: Person, title: string, more: Partial<ShowDraft> = {}): Promise<Show> {
    const { zone } = await this.airings.station(person.stationId);
    return this.made(person, { ...BLANK_SHEET, title, ...this.tomorrow(zone, null), zone, ...more }, null);
  }

  /** A new show where it was swept in the almanac. */
  async swept(person: Person, title: string, { startsAt, ...more }: Partial<ShowDraft> & { startsAt?: number }): Promise<Show> {
    const { zone } = await this.airings.station(person.stationId);
    return this.blank(person, title, { ...(startsAt !== undefined && whenOf(startsAt, zone)), ...more });
  }

  async fromTemplate(person: Person, templateId: string): Promise<Show> {
    const template = await this.template(person.stationId, templateId);
    const { pattern } = template;
    const when = this.tomorrow(pattern.zone, pattern.time);
    return this.made(person, { ...pattern, ...when, episode: null, ticked: [], said: [], toLook: [] }, template);
  }

  async keepAsTemplate(person: Person, showId: string, name: string): Promise<void> {
    const { show, airings } = await this.shows.whole(person.stationId, showId);
    const pattern = draftOf(
      show,
      airings.map(({ airing }) => airing),
    );
    const id = randomUUID();
    const { thumbnail, waiting } = await this.shows.copiedPictures({ id: show.id, picture: show.thumbnail, waiting: show.waiting }, { id });
    await this.templateRows.add({ id, stationId: person.stationId, name: name.trim(), pattern, picture: thumbnail, waiting });
  }

  async templates(stationId: string): Promise<TemplateView[]> {
    const templates = await this.templateRows.atStation(stationId);
    const channels = await this.channelRows.some(templates.flatMap(({ pattern }) => pattern.channelIds));
    return templates.map(({ id, name, pattern: { title, lengthMin, channelIds } }) => ({
      ...{ id, name, title, lengthMin },
      channelNames: channels.filter((channel) => channelIds.includes(channel.id)).map((channel) => channel.name),
    }));
  }

  private async template(stationId: string, id: string): Promise<Template> {
    const template = await this.templateRows.one(stationId, id);
    if (!template) throw new PlainError(404, 'There is no such template. It may have been removed.');
    return template;
  }

  private async made(person: Person, draft: ShowDraft, from: Pick<Template, 'id' | 'picture' | 'waiting'> | null): Promise<Show> {
    const there = await this.channelRows.linkedIds();
    const channelIds = draft.channelIds.filter((id) => there.has(id));
    return this.shows.draftWithPictures(
      person.stationId,
      { ...draft, channelIds, lines: draft.lines.filter(({ channelId }) => there.has(channelId)) },
      person,
      from,
    );
  }

  private tomorrow(zone: string, time: string | null): Pick<ShowDraft, 'date' | 'time' | 'fold'> {
    const wall = wallTimeOf(instant(this.clock.now() + 86_400_000), zone);
    // An hour that a clock change touches is not taken for a beginning.
    return { date: wall.date, time: time ?? `${wall.time.slice(0, 2)}:00`, fold: 'earlier' };
  }
}
