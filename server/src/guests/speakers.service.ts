// Guests as speakers on pages of networks that name them: invited there with the show, and named there only once they have said yes there as well.
import { MINUTE_MS, sayOnPage, type SpeakerAnswer } from '@lantern/core';
import { Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { ChannelAccessService, channelInFull, placeName, wordsOfNetworkError } from '../channels/access.service';
import { ChannelRows } from '../channels/channel-rows';
import type { Channel } from '../channels/channel.entities';
import { NetworkRefusal, type Speaker, type SpeakerThere } from '../channels/connectors/connector';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { RegularWork } from '../foundation/regular-work';
import { AiringRows } from '../shows/airing-rows';
import { RemovalService } from '../shows/removal.service';
import type { Airing } from '../shows/show.entities';
import { Guest, SpeakersThere } from './guest.entities';

const EVERY_MS = 10_000;
/** What somebody answered there is known within so long. */
const READ_EVERY_MS = 60_000;
/** A network that did not answer is left alone for so long. */
const LEFT_ALONE_MS = 60_000;
/** What was refused is tried again after so long: the reason may have gone. */
const REFUSED_FOR_MS = 10 * MINUTE_MS;
const SHOWS_AT_ONCE = 50;

/** Of one guest on one channel. `url`: where they answer there; null: they were not invited there. */
export interface OnPage {
  channel: string;
  answer: SpeakerAnswer;
  url: string | null;
  words: string;
}

@Injectable()
export class SpeakersService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('speakers', EVERY_MS, () => this.tellAll());
  private readonly notBefore = new Map<string, number>();

  constructor(
    private readonly database: DataSource,
    private readonly airings: AiringRows,
    private readonly channels: ChannelRows,
    private readonly access: ChannelAccessService,
    private readonly clock: Clock,
    private readonly bus: Bus,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'speakers_there', where: 'showId = ?' });
  }

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  tick(): Promise<void> {
    return this.work.now();
  }

  private get rows() {
    return this.database.getRepository(SpeakersThere);
  }

  /** By guest, where they are, or are to be, named. */
  async ofShow(showId: string): Promise<ReadonlyMap<string, OnPage[]>> {
    const rows = await this.rows.findBy({ showId });
    const found = new Map<string, OnPage[]>();
    for (const { airingId, told, seen, refusal } of rows) {
      const airing = await this.airings.byId(airingId);
      const [channel] = airing ? await this.channels.some([airing.channelId]) : [];
      if (!channel) continue;
      for (const { id } of told) {
        const there = seen.find((each) => each.id === id);
        const answer = there?.answer ?? 'invited';
        const words = there ? sayOnPage(answer, placeName(channel)) : refusal;
        if (words) found.set(id, [...(found.get(id) ?? []), { channel: channelInFull(channel), answer, url: there?.url ?? null, words }]);
      }
    }
    return found;
  }

  /** All that is to be told, and what was answered since. */
  private async tellAll(): Promise<void> {
    const shows: { id: string }[] = await this.database.query(
      `SELECT id FROM shows WHERE state IN ('placed', 'onAir', 'interrupted') AND rehearsalOf IS NULL
        AND (id IN (SELECT showId FROM guests) OR id IN (SELECT showId FROM speakers_there)) ORDER BY startsAt LIMIT ${SHOWS_AT_ONCE}`,
    );
    const airings = await this.airings.ofShows(shows.map(({ id }) => id));
    const channels = new Map((await this.channels.some(airings.map(({ channelId }) => channelId))).map((channel) => [channel.id, channel]));
    for (const airing of airings) {
      const channel = channels.get(airing.channelId);
      if (channel && airing.placing === 'placed' && airing.remoteId !== null && this.access.connectorOf(channel)?.speakers) await this.tell(airing, channel);
    }
  }

  private async tell({ id: airingId, showId, remoteId }: Airing, channel: Channel): Promise<void> {
    const now = this.clock.now();
    if ((this.notBefore.get(channel.id) ?? 0) > now || this.access.stateOf(channel) !== 'good') return;
    const wanted = await this.wanted(showId);
    const before = await this.rows.findOneBy({ airingId, remoteId: remoteId! });
    const refused = before !== null && before.refusal !== '';
    const isNews = JSON.stringify(wanted) !== JSON.stringify(before?.told ?? []);
    if (!isNews && (!before?.told.length || now - before.readAt < (refused ? REFUSED_FOR_MS : READ_EVERY_MS))) return;
    const connector = this.access.connectorOf(channel)!;
    const keep = async (seen: SpeakerThere[], refusal: string) => {
      await this.rows.upsert({ airingId, showId, remoteId: remoteId!, told: wanted, seen, refusal, readAt: now }, ['airingId']);
      if (JSON.stringify([seen, refusal]) !== JSON.stringify([before?.seen, before?.refusal])) this.bus.tell({ kind: 'show', showId });
    };
    try {
      const access = this.access.of(channel);
      await keep(isNews || refused ? await connector.speakers!.invite(access, remoteId!, wanted) : await connector.speakers!.read(access, remoteId!), '');
    } catch (error) {
      // Only what the network itself refuses is told; all else is not known to have arrived, and is told once more.
      if (!(error instanceof NetworkRefusal)) return void this.notBefore.set(channel.id, now + LEFT_ALONE_MS);
      await keep(before?.seen.filter(({ id }) => wanted.some((each) => each.id === id)) ?? [], wordsOfNetworkError(error, channel, connector));
    }
  }

  /** Guests of the sheet who have been asked and have not said no. Whoever came in by a question of theirs is nobody's speaker. */
  private wanted(showId: string): Promise<Speaker[]> {
    return this.database
      .getRepository(Guest)
      .createQueryBuilder('guest')
      .where(`guest.showId = :showId AND guest.answer <> 'declined'`, { showId })
      .andWhere(`guest.id NOT IN (SELECT guestId FROM questions WHERE guestId IS NOT NULL)`)
      .orderBy('guest.invitedAt')
      .addOrderBy('guest.id')
      .getMany()
      .then((guests) => guests.map(({ id, name, caption }) => ({ id, name, about: caption })));
  }
}
