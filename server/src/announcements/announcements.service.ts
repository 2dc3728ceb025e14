// Announcements that are made by a channel of the station: posted by themselves at their times, each once, and told
// to the host where the network says no.
import { countCharacters, fillPlaceholders, instant, announcementsAt, privateWords, type Announcement } from '@lantern/core';
import type { PostedView } from '@lantern/contract';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { ChannelAccessService, wordsOfNetworkError } from '../channels/access.service';
import type { Channel } from '../channels/channel.entities';
import { NetworkSilence } from '../channels/connectors/connector';
import { RuleBookService } from '../channels/rule-book.service';
import { Clock } from '../foundation/clock';
import { JobsService, NotDone } from '../jobs/jobs.service';
import { RegularWork } from '../foundation/regular-work';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { AiringsService } from '../shows/airings.service';
import type { Show } from '../shows/show.entities';
import { ShowsService } from '../shows/shows.service';
import { together } from '../foundation/together';
import { ShowRows } from '../shows/show-rows';
import { AiringRows } from '../shows/airing-rows';
import { ChannelRows } from '../channels/channel-rows';

const EVERY_MS = 10_000;
const KIND = 'post';
/** For about half an hour: later it would be no news. */
const TRIES_MAX = 120;

@Injectable()
export class AnnouncementsService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('announcements', EVERY_MS, () => this.doAll());
  private readonly log = new Logger('announcements');

  constructor(
    private readonly channelRows: ChannelRows,
    private readonly airingRows: AiringRows,
    private readonly showRows: ShowRows,
    private readonly database: DataSource,
    private readonly shows: ShowsService,
    private readonly airings: AiringsService,
    private readonly access: ChannelAccessService,
    private readonly ruleBook: RuleBookService,
    private readonly jobs: JobsService,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    jobs.takeUp({
      kind: KIND,
      atOnce: 4,
      triesMax: TRIES_MAX,
      run: (subject) => this.postDue(subject),
      words: async (subject) => `Post an announcement of “${(await this.subjectOf(subject)).show?.title ?? 'a show that was removed'}”`,
    });
  }

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  /** Posts what is due now. What was refused waits for the host; what was not answered is tried again. */
  tick(): Promise<void> {
    return this.work.now();
  }

  private async doAll(): Promise<void> {
    for (const show of await this.showRows.withAnnouncements()) {
      for (const announcement of this.due(show)) await this.jobs.need(show.stationId, KIND, `${show.id}/${announcement.id}`);
    }
    await this.jobs.settled(KIND);
  }

  /** What its channel is to post at this moment, and has not been asked to. */
  private due(show: Show): Announcement[] {
    const now = this.clock.now();
    return announcementsAt(show.announcements, show.said, timesOf(show), now)
      .filter(({ announcement, at, state }) => announcement.channelId && !show.posted[announcement.id] && state === 'due' && at !== null && at <= now)
      .filter(({ announcement }) => announcement.time !== 'start' || show.state === 'onAir') // Going on air is what tells of the start, not the clock.
      .map(({ announcement }) => announcement);
  }

  /** Posts what is still due of what was due; a network that does not answer is asked again. */
  private async postDue(subject: string): Promise<void> {
    const { show, announcement } = await this.subjectOf(subject);
    if (!show || !announcement || !this.due(show).includes(announcement)) return;
    const posted = await this.post(show, announcement);
    if (!posted) throw new NotDone('Its channel gives no answer. It is asked again; nothing is posted twice.');
  }

  private async subjectOf(subject: string) {
    const [showId, announcementId] = subject.split('/');
    const show = await this.showRows.byId(showId!);
    return { show, announcement: show?.announcements.find(({ id }) => id === announcementId) ?? null };
  }

  /** Posts one announcement now, whenever it was meant for. Throws where it cannot be. */
  async postNow(stationId: string, showId: string, announcementId: string): Promise<void> {
    const { show } = await this.shows.whole(stationId, showId);
    const announcement = show.announcements.find(({ id }) => id === announcementId);
    if (!announcement?.channelId) throw new PlainError(404, 'There is no such announcement to be posted. Look at the sheet again.');
    if (show.said.includes(announcementId)) throw new PlainError(409, 'This was said already.');
    if (show.state !== 'placed' && show.state !== 'onAir') throw new PlainError(409, 'Place the show first: an announcement must lead somewhere.');
    const posted = await this.post(show, announcement);
    if (!posted) throw new PlainError(502, 'Its channel gives no answer. Try again; nothing is posted twice.');
    if (posted.words) throw new PlainError(422, posted.words);
  }

  /** Null: no answer came. */
  private async post(show: Show, announcement: Announcement): Promise<PostedView | null> {
    const channel = await this.channelRows.one(show.stationId, announcement.channelId!);
    const posted = channel
      ? await this.attempt(show, announcement, channel)
      : { at: this.clock.now(), url: null, words: 'The channel was unlinked. Choose another place.' };
    if (!posted) return null;
    // Read anew: the network may have taken its time, and the host may have typed meanwhile.
    await together(this.database, async () => {
      const fresh = await this.showRows.mustBe(show.id);
      const said = posted.url && !fresh.said.includes(announcement.id) ? [...fresh.said, announcement.id] : fresh.said;
      await this.showRows.setPosted(show.id, said, { ...fresh.posted, [announcement.id]: posted });
    });
    return posted;
  }

  /** Null: no answer came, so it is tried again; the network makes no second post of it. */
  private async attempt(show: Show, announcement: Announcement, channel: Channel): Promise<PostedView | null> {
    const refused = (words: string): PostedView => ({ at: this.clock.now(), url: null, words });
    const connector = this.access.connectorOf(channel);
    const rules = this.ruleBook.rules(channel);
    if (!connector?.post || !rules.posts) return refused(`${channel.name} takes no posts. Choose another place.`);
    const station = await this.airings.station(show.stationId);
    const airing = await this.airingRows.of(show.id, channel.id);
    const { text, troubles } = fillPlaceholders(announcement.text, this.airings.filling(show, airing?.watchUrl ?? null, station));
    if (troubles.length) return refused(`Nothing can be put in place of ${troubles.map(({ name }) => `{${name}}`).join(', ')}. Write it another way.`);
    // What placeholders stand for is public by itself.
    const [secret] = privateWords(announcement.text, this.settings.publicUrl);
    if (secret) return refused('It holds an address that is not for the public. Take that out.');
    const count = countCharacters(text, rules.linkCounts);
    if (rules.textMax !== null && count > rules.textMax)
      return refused(`It has ${count} characters there; ${channel.name} takes ${rules.textMax}. Shorten it.`);
    try {
      const url = await connector.post(this.access.of(channel), text, `${show.id}/${announcement.id}`);
      return { at: this.clock.now(), url, words: '' };
    } catch (error) {
      if (error instanceof NetworkSilence) {
        this.log.warn(`${channel.name}: ${error.message}`);
        return null;
      }
      return refused(wordsOfNetworkError(error, channel, connector));
    }
  }
}

function timesOf({ startsAt, placedAt }: Show) {
  return { startsAt: instant(startsAt), placedAt: placedAt === null ? null : instant(placedAt) };
}
