// What is written beneath shows on air is collected from each network by itself: a silence or a flood on one delays nothing on another.
import { backoffMs, MINUTE_MS } from '@lantern/core';
import { Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { ChannelAccessService, wordsOfNetworkError } from '../channels/access.service';
import { ChannelRows } from '../channels/channel-rows';
import type { Channel } from '../channels/channel.entities';
import { pause } from '../channels/connectors/following';
import { Clock } from '../foundation/clock';
import { letGo } from '../foundation/let-go';
import { RegularWork } from '../foundation/regular-work';
import { unasked } from '../foundation/unasked';
import { AiringRows } from '../shows/airing-rows';
import type { Airing } from '../shows/show.entities';
import { MessageRows } from './message-rows';

const LOOK_EVERY_MS = 2_000;
/** Longer than any of the networks may be silent before it is noticed: an answer that waits may take 28 s, a socket 20 s. */
const NO_SILENCE_MS = 30_000;
/** People go on writing when a show is over. */
const AFTERWARDS_MS = 10 * MINUTE_MS;

interface Following {
  remoteId: string;
  over: AbortController;
  /** Why nothing comes; empty: it comes. */
  trouble: string;
}

@Injectable()
export class CollectorsService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('messages', LOOK_EVERY_MS, () => this.look());
  private readonly following = new Map<string, Following>();

  constructor(
    private readonly database: DataSource,
    private readonly airings: AiringRows,
    private readonly channels: ChannelRows,
    private readonly access: ChannelAccessService,
    private readonly messages: MessageRows,
    private readonly clock: Clock,
  ) {}

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
    for (const { over } of this.following.values()) over.abort();
  }

  tick(): Promise<void> {
    return this.work.now();
  }

  troubleOf(airingId: string): string {
    return this.following.get(airingId)?.trouble ?? '';
  }

  /** Follows what is on air, and lets go of what is no more. */
  private async look(): Promise<void> {
    const shows: { id: string }[] = await this.database.query(
      `SELECT id FROM shows WHERE rehearsalOf IS NULL AND (state IN ('onAir', 'interrupted') OR (state = 'over' AND endedAt > ?))`,
      [this.clock.now() - AFTERWARDS_MS],
    );
    const there = (await this.airings.ofShows(shows.map(({ id }) => id))).filter(({ placing, remoteId }) => placing === 'placed' && remoteId !== null);
    const channels = new Map((await this.channels.some(there.map(({ channelId }) => channelId))).map((channel) => [channel.id, channel]));
    for (const [airingId, { remoteId, over }] of this.following) {
      if (there.some((airing) => airing.id === airingId && airing.remoteId === remoteId)) continue;
      over.abort();
      this.following.delete(airingId);
    }
    for (const airing of there) {
      const channel = channels.get(airing.channelId);
      if (!channel || this.following.has(airing.id) || !this.access.connectorOf(channel)) continue;
      const followed: Following = { remoteId: airing.remoteId!, over: new AbortController(), trouble: '' };
      this.following.set(airing.id, followed);
      letGo(
        'collecting messages',
        unasked(() => this.follow(airing, channel, followed)),
      );
    }
  }

  private async follow(airing: Airing, channel: Channel, followed: Following): Promise<void> {
    const { signal } = followed.over;
    const connector = this.access.connectorOf(channel)!;
    for (let failures = 0; !signal.aborted;) {
      const began = performance.now();
      const hear = (trouble: string) => {
        if (followed.trouble === trouble) return;
        followed.trouble = trouble;
        this.messages.changed(airing.showId);
      };
      // Whoever is listened to for longer than a silence could last is heard, though nobody writes.
      const well = setTimeout(() => hear(''), NO_SILENCE_MS);
      try {
        const cursor = await this.messages.cursorOf(airing);
        await connector.messages.follow(
          this.access.of(channel),
          airing.remoteId!,
          cursor,
          async (batch) => {
            await this.messages.keep(airing, batch, await this.messages.rulesOf(channel.stationId));
            failures = 0;
            hear('');
          },
          signal,
        );
      } catch (error) {
        if (signal.aborted) return;
        if (performance.now() - began > MINUTE_MS) failures = 0;
        failures += 1;
        // One that fails for the first time is asked again before anybody is told.
        if (failures > 1) hear(wordsOfNetworkError(error, channel, connector, 'by itself'));
      } finally {
        clearTimeout(well);
      }
      await pause(backoffMs(failures, Math.random()), signal);
    }
  }
}
