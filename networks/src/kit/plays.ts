// How often a show was played, while it was public and since: each viewer once, and a made-up audience that comes by later.
import { Inject, Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { laterPlays, livePlays } from './audience';
import { now } from './clock';
import { PlayRow, type EventRow } from './entities';
import { Events } from './events';
import { SETTINGS, type Settings } from './settings';

/** A viewer that was counted needs no second look, for so many of them. */
const MOST_KNOWN = 20_000;

@Injectable()
export class Plays {
  private readonly known = new Set<string>();

  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async seen({ id: eventId, state }: EventRow, viewer: string): Promise<void> {
    if (state !== 'public' && state !== 'over') return;
    const play = { eventId, viewer: viewer.slice(0, 40), since: state === 'over' };
    const key = JSON.stringify(play);
    if (this.known.has(key)) return;
    if (this.known.size >= MOST_KNOWN) this.known.clear();
    this.known.add(key);
    await this.database.getRepository(PlayRow).upsert(play, ['eventId', 'viewer', 'since']);
  }

  async of(event: EventRow): Promise<{ live: number; since: number }> {
    const rows = this.database.getRepository(PlayRow);
    const [live, since] = [await rows.countBy({ eventId: event.id, since: false }), await rows.countBy({ eventId: event.id, since: true })];
    if (!this.settings.audience || event.publicAt === null) return { live, since };
    const { followers } = await this.events.accountOf(event);
    const ended = event.endedAt ?? now();
    return {
      live: live + livePlays(event.id, followers, ended - event.publicAt),
      since: since + (event.state === 'over' && event.replay ? laterPlays(event.id, followers, now() - ended) : 0),
    };
  }
}
