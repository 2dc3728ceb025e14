// The life of events on both networks: lookups, keys, becoming public, ending. The rules of each
// network stand in its own folder; this is what they share.
import { Inject, Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { DataSource, type FindOptionsWhere } from 'typeorm';
import { audienceAt, WatchCounter } from './audience';
import { now } from './clock';
import { Account, EventRow, Line, type Network } from './entities';
import { Faults } from './faults';
import { Ingest, type Admission } from './ingest';
import { Playback } from './playback';
import { Refusal } from './refusal';
import { newId, newSecret } from './secrets';
import { SETTINGS, type Settings } from './settings';

/** What a network decides about its own events. */
export interface NetworkRules {
  network: Network;
  /** The first path part of its ingest addresses. */
  app: string;
  /** A reason to refuse the picture of a planned event at this moment, or null. */
  refusesPicture(event: EventRow, at: number): string | null;
  /** Whether a planned event whose picture arrives becomes public without being told. */
  becomesPublic(event: EventRow, at: number): boolean;
  longestMs: number;
  thumbnail: { minWidth: number; minHeight: number; maxBytes: number; types: readonly string[] };
}

const TICK_MS = 250;

@Injectable()
export class Events implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly rules = new Map<Network, NetworkRules>();
  readonly viewers = new WatchCounter();
  private timer: NodeJS.Timeout | null = null;

  constructor(
    private readonly database: DataSource,
    private readonly ingest: Ingest,
    private readonly playback: Playback,
    private readonly faults: Faults,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  register(rules: NetworkRules): void {
    this.rules.set(rules.network, rules);
  }

  async onApplicationBootstrap(): Promise<void> {
    this.ingest.use(
      (app, key) => this.admit(app, key),
      {
        arrived: ({ eventId }) => this.playback.begin(eventId),
        bytes: ({ eventId }, flv, packet) => this.playback.write(eventId, flv, packet),
        gone: ({ eventId }) => this.playback.end(eventId),
      },
      (network) => this.faults.of(network) === 'stall',
    );
    await this.ingest.listen(this.settings.rtmpPort);
    this.timer = setInterval(() => void this.tick(), TICK_MS);
  }

  onApplicationShutdown(): void {
    if (this.timer) clearInterval(this.timer);
  }

  async find(network: Network, id: string): Promise<EventRow> {
    const event = await this.database.getRepository(EventRow).findOneBy({ id, network });
    if (!event) throw new Refusal(404, 'unknown-event', 'There is no such event.');
    return event;
  }

  async ofAccount(network: Network, id: string, loginId: string): Promise<EventRow> {
    const event = await this.find(network, id);
    await this.account(network, event.accountId, loginId);
    return event;
  }

  async account(network: Network, id: string, loginId: string): Promise<Account> {
    const account = await this.database.getRepository(Account).findOneBy({ id, network, loginId });
    if (!account) throw new Refusal(403, 'not-yours', 'This sign-in may not speak for that account.');
    return account;
  }

  accountOf(event: EventRow): Promise<Account> {
    return this.database.getRepository(Account).findOneByOrFail({ id: event.accountId });
  }

  accounts(where: FindOptionsWhere<Account>): Promise<Account[]> {
    return this.database.getRepository(Account).find({ where, order: { name: 'ASC', kind: 'ASC' } });
  }

  /** The event that an earlier request with the same idempotency key made, if any. */
  earlier(accountId: string, idempotencyKey: string | undefined): Promise<EventRow | null> {
    if (!idempotencyKey) return Promise.resolve(null);
    return this.database.getRepository(EventRow).findOneBy({ accountId, idempotencyKey });
  }

  save(event: EventRow): Promise<EventRow> {
    return this.database.getRepository(EventRow).save(event);
  }

  async makeLine(network: Network, accountId: string, label: string, lasting: boolean): Promise<Line> {
    const line = Object.assign(new Line(), { id: newId(), network, accountId, label, key: newSecret(), lasting });
    return this.database.getRepository(Line).save(line);
  }

  lines(accountId: string): Promise<Line[]> {
    return this.database.getRepository(Line).findBy({ accountId, lasting: true });
  }

  line(id: string): Promise<Line | null> {
    return this.database.getRepository(Line).findOneBy({ id });
  }

  pictureArrives(event: EventRow): boolean {
    return this.ingest.pictureArrives(event.id);
  }

  async watching(event: EventRow): Promise<number> {
    if (event.state !== 'public') return 0;
    const real = this.viewers.count(event.id, Date.now());
    if (!this.settings.audience) return real;
    const account = await this.accountOf(event);
    return real + audienceAt(event.id, account.followers, now() - event.publicAt!);
  }

  async makePublic(event: EventRow): Promise<void> {
    event.state = 'public';
    event.publicAt ??= now();
    await this.save(event);
  }

  async finish(event: EventRow): Promise<void> {
    if (event.state === 'over') return;
    event.state = 'over';
    event.endedAt = now();
    await this.save(event);
    this.ingest.drop({ eventId: event.id });
  }

  async withdraw(event: EventRow): Promise<void> {
    event.state = 'withdrawn';
    event.endedAt = now();
    await this.save(event);
    this.ingest.drop({ eventId: event.id });
  }

  async setThumbnail(event: EventRow, bytes: Buffer): Promise<void> {
    const limits = this.rules.get(event.network)!.thumbnail;
    if (bytes.length > limits.maxBytes) {
      throw new Refusal(413, 'picture-too-heavy', `Pictures may weigh ${limits.maxBytes / 1_000_000} MB at most.`);
    }
    const facts = await sharp(bytes)
      .metadata()
      .catch(() => null);
    const type = facts?.format === 'jpeg' ? 'image/jpeg' : facts?.format === 'png' ? 'image/png' : null;
    if (!facts?.width || !facts.height || !type || !limits.types.includes(type)) {
      throw new Refusal(422, 'picture-type', 'This is not a picture of a kind that is taken here.');
    }
    if (facts.width < limits.minWidth || facts.height < limits.minHeight) {
      throw new Refusal(422, 'picture-too-small', `Pictures are at least ${limits.minWidth} by ${limits.minHeight}.`);
    }
    await writeFile(this.thumbnailPath(event), bytes);
    event.thumbnailType = type;
    await this.save(event);
  }

  thumbnailPath(event: EventRow): string {
    return join(this.settings.mediaDir, `${event.id}.picture`);
  }

  /** Which event a key shown at the ingest belongs to now, or why it is refused. */
  private async admit(app: string, key: string): Promise<Admission | string> {
    const rules = [...this.rules.values()].find((each) => each.app === app);
    if (!rules) return 'There is no such ingest here.';
    const fault = this.faults.of(rules.network);
    if (fault === 'refuse') return 'No pictures are taken just now.';
    if (fault === 'down') return 'Not available.';
    const line = await this.database.getRepository(Line).findOneBy({ key, network: rules.network });
    if (!line) return 'This key is not known here.';
    const at = now();
    const events = await this.database.getRepository(EventRow).findBy({ lineId: line.id });
    const open = events.filter((event) => event.state === 'planned' || event.state === 'public');
    if (!open.length) return events.length ? 'This key has been used up.' : 'No event waits for this key.';
    // On a lasting line the event nearest in time is meant.
    open.sort((a, b) => Math.abs(a.startsAt - at) - Math.abs(b.startsAt - at));
    const event = open.find((each) => each.state === 'public') ?? open[0]!;
    const refusal = event.state === 'planned' ? rules.refusesPicture(event, at) : null;
    return refusal ?? { network: rules.network, lineId: line.id, eventId: event.id };
  }

  private async tick(): Promise<void> {
    const open = await this.database.getRepository(EventRow).findBy([{ state: 'planned' }, { state: 'public' }]);
    const at = now();
    for (const event of open) {
      const rules = this.rules.get(event.network);
      if (!rules) continue;
      if (event.state === 'planned' && this.pictureArrives(event) && rules.becomesPublic(event, at)) await this.makePublic(event);
      if (event.state === 'public' && at - event.publicAt! > rules.longestMs) await this.finish(event);
    }
  }
}
