// Hides what the station's rules hold back, where it stands and as soon as it comes; whoever looks at it may show it again.
import { messageRules, type NetworkId } from '@lantern/core';
import { Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import type { Subscription } from 'rxjs';
import { ChannelAccessService } from '../channels/access.service';
import { ChannelRows } from '../channels/channel-rows';
import type { Channel } from '../channels/channel.entities';
import { NetworkRefusal } from '../channels/connectors/connector';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { letGo } from '../foundation/let-go';
import { RegularWork } from '../foundation/regular-work';
import { unasked } from '../foundation/unasked';
import { MessageRows } from './message-rows';

/** What could not be hidden at once is tried again; news come by the bus. */
const EVERY_MS = 5_000;
const AT_ONCE = 100;
/** A network that did not take it is left alone for so long; others are not. */
const LEFT_ALONE_MS = 10_000;

@Injectable()
export class HouseOrderService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('what is held back', EVERY_MS, () => this.hideAll());
  private readonly notBefore = new Map<string, number>();
  private heard: Subscription | null = null;
  private asked = false;

  constructor(
    private readonly rows: MessageRows,
    private readonly channels: ChannelRows,
    private readonly access: ChannelAccessService,
    private readonly clock: Clock,
    private readonly bus: Bus,
  ) {}

  onApplicationBootstrap(): void {
    this.work.start();
    this.heard = this.bus.on('messages').subscribe(() => {
      // One run that waits is enough for all that came before it.
      if (this.asked) return;
      this.asked = true;
      letGo(
        'hiding what is held back',
        unasked(() => this.work.now()),
      );
    });
  }

  onApplicationShutdown(): void {
    this.work.stop();
    this.heard?.unsubscribe();
  }

  private async hideAll(): Promise<void> {
    this.asked = false;
    const channels = await this.channels.some(await this.rows.channelsToHide());
    await Promise.all(channels.map((channel) => this.hideOn(channel)));
  }

  private async hideOn(channel: Channel): Promise<void> {
    const connector = this.access.connectorOf(channel);
    if (!connector || (this.notBefore.get(channel.id) ?? 0) > this.clock.now()) return;
    // What cannot be taken back is a person's to do: it stays marked.
    if (messageRules(channel.network as NetworkId).hiding === 'for good') return;
    for (const message of await this.rows.toHide(channel.id, AT_ONCE)) {
      try {
        await connector.messages.setHidden(this.access.of(channel), message.remoteId, true);
        await this.rows.change(message, { state: 'hidden' });
      } catch (error) {
        // One that is gone, or that it will not hide, keeps the next from nothing. Seen there as before, it is held back no more.
        if (error instanceof NetworkRefusal) await this.rows.change(message, error.status === 404 ? { state: 'removed' } : { held: null });
        else return void this.notBefore.set(channel.id, this.clock.now() + LEFT_ALONE_MS);
      }
    }
  }
}
