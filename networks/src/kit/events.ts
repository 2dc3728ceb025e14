// The life of events on all networks: lookups, keys, becoming public, ending. The rules of each
// network stand in its own folder; this is what they share.
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { DataSource, In, type FindOptionsWhere } from 'typeorm';
import { audienceAt, WatchCounter } from './audience';
import { now } from './clock';
import { Account, EventRow, Line, SpeakerRow, type Limits, type Network } from './entities';
import { Films } from './films';
import { Faults } from './faults';
import { Ingest, type Admission } from './ingest';
import { LimitBook } from './limits';
import { Playback } from './playback';
import { Refusal } from './refusal';
import { newId, newSecret } from './secrets';
import { SETTINGS, type Settings } from './settings';

/** What a network decides about its own events. */
export interface NetworkRules {
  network: Network;
  /** Its limits before any change. */
  limits: Limits;
  /** Whether a planned event whose picture arrives becomes public without being told. */
  becomesPublic(event: EventRow, at: number): boolean;
  /** A planned event that has not begun so long after its time lapses; null: it waits for ever. */
  lapsesAfterMs: number | null;
  /** Whether one account may have two events public at the same time. */
  severalAtOnce: boolean;
  picture: { maxHeight: number; maxKbps: number };
  thumbnail: { shape: number; minWidth: number; minHeight: number; maxBytes: number; types: readonly string[] };
  /** Whether the recording is kept, and how long it takes until it may be watched. */
  recording: { kept: boolean; afterMs: number; atMostMs: number };
  /** What of a withdrawn event stays. */
  withdrawn: 'nothing' | 'recording' | 'event';
  /** What may be written beneath its events: characters at most, and whether what answers another stands beneath it. */
  messages: { longest: number; threads: boolean };
  /** Who may write beneath an event. */
  mayWrite(event: EventRow): 'everyone' | 'followers' | 'members' | 'nobody';
  /** How often one writer writes (seconds), how old their account is (days) and how long a message is (characters): each at least; 0: no such limit. */
  writing(event: EventRow): { everySeconds: number; ageDays: number; shortest: number };
  /** Whether messages are still seen once it is over. */
  messagesStay(event: EventRow): boolean;
  /** From when on the account's page lists a planned event. */
  listedFrom(event: EventRow): number;
  /** Whether somebody in this country may see it, by its code of two letters; null: it is shown everywhere. */
  shownIn(event: EventRow): ((country: string) => boolean) | null;
  /** A public event whose picture has stopped for so long is ended; null: it waits for ever. */
  endsWithoutPictureMs: number | null;
}

const TICK_MS = 250;
const BACKUP = '-backup';
/** The application of a plain ingest, such as any service has that is only an address and a key. */
const PLAIN_SERVICE = 'hall';

@Injectable()
export class Events implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('events');
  private readonly rules = new Map<Network, NetworkRules>();
  readonly viewers = new WatchCounter();
  private timer: NodeJS.Timeout | null = null;
  /** Since when public events have had no picture. */
  private readonly without = new Map<string, number>();

  constructor(
    private readonly database: DataSource,
    private readonly ingest: Ingest,
    private readonly playback: Playback,
    private readonly films: Films,
    private readonly faults: Faults,
    private readonly limitBook: LimitBook,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  register(rules: NetworkRules): void {
    this.rules.set(rules.network, rules);
    this.limitBook.register(rules.network, rules.limits);
  }

  rulesOf(network: Network): NetworkRules {
    return this.rules.get(network)!;
  }

  async onApplicationBootstrap(): Promise<void> {
    this.ingest.use(
      (app, key) => this.admit(app, key),
      {
        arrived: ({ eventId, network }) => network && this.playback.begin(eventId),
        bytes: ({ eventId, network }, flv, packet) => network && this.playback.write(eventId, flv, packet),
        gone: ({ eventId, network }) => network && this.playback.end(eventId),
      },
      (network) => this.faults.of(network) === 'stall',
    );
    await this.ingest.listen(this.settings.rtmpPort);
    this.timer = setInterval(() => {
      this.tick().catch((error: unknown) => this.log.error(error instanceof Error ? error.message : String(error)));
    }, TICK_MS);
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

  /** An event of the login's that can still be changed. */
  async open(network: Network, id: string, loginId: string): Promise<EventRow> {
    const event = await this.ofAccount(network, id, loginId);
    if (event.state === 'over' || event.state === 'withdrawn') throw new Refusal(409, 'ended', 'This is over.');
    return event;
  }

  async account(network: Network, id: string, loginId: string): Promise<Account> {
    const account = await this.database.getRepository(Account).findOneBy({ id, network, loginId });
    if (!account) throw new Refusal(403, 'not-yours', 'This sign-in may not speak for that account.');
    return account;
  }

  byId(id: string): Promise<EventRow | null> {
    return this.database.getRepository(EventRow).findOneBy({ id });
  }

  /** Whose names stand on the page of an event: of those who are invited to speak, whoever has accepted. */
  speakers({ id }: EventRow): Promise<SpeakerRow[]> {
    return this.database.getRepository(SpeakerRow).find({ where: { eventId: id, answer: 'accepted' }, order: { place: 'ASC' } });
  }

  accountOf(event: EventRow): Promise<Account> {
    return this.database.getRepository(Account).findOneByOrFail({ id: event.accountId });
  }

  accounts(where: FindOptionsWhere<Account>): Promise<Account[]> {
    return this.database.getRepository(Account).find({ where, order: { name: 'ASC', kind: 'ASC' } });
  }

  saveAccount(account: Account): Promise<Account> {
    return this.database.getRepository(Account).save(account);
  }

  all(where: FindOptionsWhere<EventRow>): Promise<EventRow[]> {
    return this.database.getRepository(EventRow).find({ where, order: { startsAt: 'ASC' } });
  }

  /** The event that an earlier request with the same idempotency key made, if any. */
  earlier(accountId: string, idempotencyKey: string | undefined): Promise<EventRow | null> {
    if (!idempotencyKey) return Promise.resolve(null);
    return this.database.getRepository(EventRow).findOneBy({ accountId, idempotencyKey });
  }

  /** A new event with what all networks have in common. */
  make(
    facts: Pick<EventRow, 'network' | 'accountId' | 'title' | 'text' | 'startsAt' | 'lengthMs' | 'visibility' | 'lineId' | 'beginsBy' | 'delaySeconds'> &
      Partial<EventRow>,
  ): Promise<EventRow> {
    const blank = {
      idempotencyKey: null,
      rewindHours: 0,
      replay: true,
      facts: {},
      chosen: {},
      thumbnailType: null,
      thumbnailWords: '',
      publicAt: null,
      endedAt: null,
    };
    return this.save(Object.assign(new EventRow(), { id: newId(), state: 'planned', invitedKey: newSecret(), ...blank, ...facts }));
  }

  save(event: EventRow): Promise<EventRow> {
    return this.database.getRepository(EventRow).save(event);
  }

  async forget(event: EventRow): Promise<void> {
    this.ingest.drop({ eventId: event.id });
    await this.database.getRepository(EventRow).delete({ id: event.id });
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

  saveLine(line: Line): Promise<Line> {
    return this.database.getRepository(Line).save(line);
  }

  /** Issues a new key; the old one is good no longer, and whoever sends by it is hung up on. */
  async renewKey(line: Line): Promise<Line> {
    line.key = newSecret();
    await this.saveLine(line);
    this.ingest.drop({ lineId: line.id });
    return line;
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
    if (await this.othersPublic(event)) throw new Refusal(409, 'another-public', 'Another show of this account is public at this moment.');
    event.state = 'public';
    event.publicAt ??= now();
    await this.save(event);
  }

  async finish(event: EventRow): Promise<void> {
    if (event.state === 'over' || this.faults.of(event.network) === 'goes-on') return;
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
    if (this.rulesOf(event.network).withdrawn !== 'nothing') return;
    await this.playback.remove(event.id);
    await this.films.remove(event.id);
  }

  async setThumbnail(event: EventRow, bytes: Buffer, words = ''): Promise<void> {
    event.thumbnailType = await this.checkThumbnail(event.network, bytes);
    event.thumbnailWords = words;
    await writeFile(this.thumbnailPath(event), bytes);
    await this.save(event);
  }

  /** The type of a picture that the network takes. Throws the rule that it breaks. */
  async checkThumbnail(network: Network, bytes: Buffer): Promise<string> {
    const limits = this.rulesOf(network).thumbnail;
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
    if (Math.abs(facts.width / facts.height / limits.shape - 1) > 0.02) throw new Refusal(422, 'picture-shape', 'This picture has the wrong shape.');
    return type;
  }

  thumbnailPath(event: Pick<EventRow, 'id'>): string {
    return join(this.settings.mediaDir, `${event.id}.picture`);
  }

  /** What must be shown to see the event; null where anybody may. */
  async admissionKey(event: EventRow): Promise<string | null> {
    if (event.visibility === 'everyone' || event.visibility === 'link-holders') return null;
    return event.visibility === 'invited' ? event.invitedKey : (await this.accountOf(event)).membersKey;
  }

  private async othersPublic(event: EventRow): Promise<boolean> {
    if (this.rulesOf(event.network).severalAtOnce) return false;
    const others = await this.database.getRepository(EventRow).findBy({ accountId: event.accountId, state: 'public' });
    return others.some(({ id }) => id !== event.id);
  }

  /** Which event a key shown at the ingest belongs to now, or why it is refused. */
  private async admit(app: string, key: string): Promise<Admission | string> {
    // A screen in a hall: it shows whatever comes, knows no events, and tells nobody how it stands.
    if (app === PLAIN_SERVICE) return { network: null, lineId: key, eventId: `${PLAIN_SERVICE} ${key}`, backup: false, maxHeight: 1080, maxKbps: 20_000 };
    const backup = app.endsWith(BACKUP);
    const rules = this.rules.get((backup ? app.slice(0, -BACKUP.length) : app) as Network);
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
    return { network: rules.network, lineId: line.id, eventId: event.id, backup, ...rules.picture };
  }

  private async tick(): Promise<void> {
    const open = await this.database.getRepository(EventRow).findBy({ state: In(['planned', 'public']) });
    const at = now();
    for (const event of open) {
      const rules = this.rules.get(event.network);
      if (!rules) continue;
      const { longest } = await this.limitBook.inForce(event.network);
      if (event.state === 'planned' && rules.lapsesAfterMs !== null && at > event.startsAt + rules.lapsesAfterMs) await this.finish(event);
      else if (event.state === 'planned' && this.pictureArrives(event) && rules.becomesPublic(event, at)) await this.makePublic(event).catch(() => undefined);
      else if (event.state === 'public' && at - event.publicAt! > longest) await this.finish(event);
      else if (event.state === 'public' && this.isWithoutPicture(event, rules)) await this.finish(event);
    }
    for (const id of this.without.keys()) if (!open.some((event) => event.id === id)) this.without.delete(id);
  }

  /** Whether its picture has stopped for longer than the network waits. */
  private isWithoutPicture(event: EventRow, { endsWithoutPictureMs }: NetworkRules): boolean {
    if (this.pictureArrives(event)) {
      this.without.delete(event.id);
      return false;
    }
    const since = this.without.get(event.id);
    if (since === undefined) this.without.set(event.id, now());
    return since !== undefined && endsWithoutPictureMs !== null && now() - since >= endsWithoutPictureMs;
  }
}
