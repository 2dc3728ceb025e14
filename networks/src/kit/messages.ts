// What people write beneath events: by whom, in which order, and what of it everybody sees. How it is read is each network's own matter.
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { filter, Subject, type Observable } from 'rxjs';
import { DataSource, Like, MoreThan } from 'typeorm';
import { made, whenWritten } from './audience-words';
import { now } from './clock';
import { MessageRow, MutedRow, type EventRow, type Standing } from './entities';
import { Events } from './events';
import { Refusal } from './refusal';
import { newId } from './secrets';
import { SETTINGS, type Settings } from './settings';

const AUDIENCE_WRITES_EVERY_MS = 1_000;
/** Whoever was away for long hears no more of the made-up audience than this at once. */
const MOST_AT_ONCE = 20;
/** What the made-up audience writes is known by, also after a restart. */
const MADE = 'made-';
/** So that a page stays one that can be read. */
const MOST_ON_A_PAGE = 200;
const MOST_READ = 8;

/** As long as a network has known somebody of whom nothing else is said. */
const AGE_DAYS: Record<Standing, number> = { account: Infinity, member: 400, follower: 40, newcomer: 0 };

export interface Written {
  writerId: string | null;
  writer: string;
  standing: Standing;
  /** How long the network has known them. */
  ageDays?: number;
  text: string;
  answers?: string | null;
  once?: string | null;
}

@Injectable()
export class Messages implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('messages');
  private readonly news = new Subject<MessageRow>();
  private timer: NodeJS.Timeout | null = null;
  /** By event, what is read again and again. */
  private readonly read = new Map<string, MessageRow[]>();
  /** How many messages somebody has begun to write. */
  private begun = 0;
  /** By event, how much the made-up audience has written. */
  private readonly madeUp = new Map<string, number>();

  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  onApplicationBootstrap(): void {
    if (!this.settings.audience) return;
    this.timer = setInterval(() => {
      this.letAudienceWrite().catch((error: unknown) => this.log.error(error instanceof Error ? error.message : String(error)));
    }, AUDIENCE_WRITES_EVERY_MS);
  }

  onApplicationShutdown(): void {
    if (this.timer) clearInterval(this.timer);
  }

  private get rows() {
    return this.database.getRepository(MessageRow);
  }

  /** Each message beneath an event from now on, as it is written. */
  of(eventId: string): Observable<MessageRow> {
    return this.news.pipe(filter((message) => message.eventId === eventId));
  }

  /** What was written after `place`, the oldest first. */
  after(eventId: string, place: number, most: number): Promise<MessageRow[]> {
    return this.rows.find({ where: { eventId, place: MoreThan(place) }, order: { place: 'ASC' }, take: most });
  }

  /** All that stands beneath an event, the oldest first. Whoever reads page after page has it read once. */
  async all(eventId: string): Promise<readonly MessageRow[]> {
    const known = this.read.get(eventId);
    if (known) return known;
    const before = this.begun;
    const rows = await this.rows.find({ where: { eventId }, order: { place: 'ASC' } });
    // What was written meanwhile may be missing from this one.
    if (this.begun !== before) return rows;
    if (this.read.size >= MOST_READ) this.read.clear();
    this.read.set(eventId, rows);
    return rows;
  }

  /** What everybody sees. */
  shown(eventId: string): Promise<MessageRow[]> {
    return this.rows.find({ where: { eventId, hidden: false }, order: { place: 'DESC' }, take: MOST_ON_A_PAGE }).then((rows) => rows.reverse());
  }

  /** Writes a message; the same `once` gives the same message again, whatever it says. */
  async write(event: EventRow, { writerId, writer, standing, text, ageDays = AGE_DAYS[standing], answers = null, once = null }: Written): Promise<MessageRow> {
    const earlier = once === null ? null : await this.rows.findOneBy({ eventId: event.id, idempotencyKey: once });
    if (earlier) return earlier;
    const { messages, mayWrite } = this.events.rulesOf(event.network);
    if (event.state === 'withdrawn') throw new Refusal(409, 'ended', 'Nothing can be written here any more.');
    const who = mayWrite(event);
    if (who === 'nobody') throw new Refusal(409, 'messages-off', 'Messages are switched off here.');
    if (who === 'followers' && standing === 'newcomer') throw new Refusal(403, 'followers-only', 'Only followers write here.');
    if (who === 'members' && standing !== 'member' && standing !== 'account') throw new Refusal(403, 'members-only', 'Only members write here.');
    if (!text.trim()) throw new Refusal(422, 'empty', 'Write something.');
    if (writerId !== null) await this.mustMayWriteNow(event, writerId, ageDays, text);
    if ([...text].length > messages.longest) throw new Refusal(422, 'too-long', `Messages have ${messages.longest} characters at most.`);
    if (answers !== null && !(await this.rows.existsBy({ id: answers, eventId: event.id })))
      throw new Refusal(404, 'unknown-message', 'There is no such message.');
    const facts = { id: newId(), eventId: event.id, writerId, writer, standing, text, answers, writtenAt: now(), hidden: false, idempotencyKey: once };
    this.begun += 1;
    const row = await this.rows.save(Object.assign(new MessageRow(), facts));
    const read = this.read.get(event.id);
    if (read && (read.at(-1)?.place ?? 0) < row.place) read.push(row);
    this.news.next(row);
    return row;
  }

  /** Throws where the account of the event asks for more, or for nothing from this writer. */
  private async mustMayWriteNow(event: EventRow, writerId: string, ageDays: number, text: string): Promise<void> {
    const { everySeconds, ageDays: oldEnough, shortest } = this.events.rulesOf(event.network).writing(event);
    const eventId = event.id;
    const muted = await this.muted.findOneBy({ eventId, writerId });
    if (muted && (muted.until === null || muted.until > now())) throw new Refusal(403, 'muted', 'The host takes nothing more from you here.');
    if (ageDays < oldEnough) throw new Refusal(403, 'account-too-new', `Only accounts of ${oldEnough} days or more write here.`);
    if ([...text.trim()].length < shortest) throw new Refusal(422, 'too-short', `Messages have ${shortest} characters at least.`);
    const last = everySeconds > 0 ? await this.rows.findOne({ where: { eventId, writerId }, order: { place: 'DESC' } }) : null;
    if (last && now() - last.writtenAt < everySeconds * 1_000) throw new Refusal(429, 'too-often', `One message every ${everySeconds} seconds.`);
  }

  private get muted() {
    return this.database.getRepository(MutedRow);
  }

  /** Has whoever wrote a message write nothing more beneath its event until then; null: ever, 0: they write again. */
  async mute({ eventId, writerId }: MessageRow, until: number | null): Promise<void> {
    if (writerId === null) throw new Refusal(422, 'own', 'This is the account itself.');
    if (until === 0) await this.muted.delete({ eventId, writerId });
    else await this.muted.upsert({ eventId, writerId, until }, ['eventId', 'writerId']);
  }

  /** For the account itself. */
  async answer(event: EventRow, text: string, answers: string | null, once: string | null): Promise<MessageRow> {
    const { name } = await this.events.accountOf(event);
    return this.write(event, { writerId: null, writer: name, standing: 'account', text, answers, once });
  }

  /** A message beneath one of the account's own events, and that event. */
  async find(id: string): Promise<{ message: MessageRow; event: EventRow }> {
    const message = await this.rows.findOneBy({ id });
    const event = message && (await this.events.byId(message.eventId));
    if (!message || !event) throw new Refusal(404, 'unknown-message', 'There is no such message.');
    return { message, event };
  }

  async setHidden(message: MessageRow, hidden: boolean): Promise<MessageRow> {
    this.read.delete(message.eventId);
    return this.rows.save(Object.assign(message, { hidden }));
  }

  async remove({ id, eventId }: MessageRow): Promise<void> {
    await this.rows.delete({ id });
    this.read.delete(eventId);
  }

  /** The made-up audience writes what is due by now. */
  private async letAudienceWrite(): Promise<void> {
    const open = await this.events.all({ state: 'public' });
    for (const id of this.madeUp.keys()) if (!open.some((event) => event.id === id)) this.madeUp.delete(id);
    for (const event of open) {
      const who = this.events.rulesOf(event.network).mayWrite(event);
      if (who === 'nobody') continue;
      const { followers } = await this.events.accountOf(event);
      let index = this.madeUp.get(event.id) ?? (await this.rows.countBy({ eventId: event.id, idempotencyKey: Like(`${MADE}%`) }));
      const since = now() - event.publicAt!;
      for (let written = 0; written < MOST_AT_ONCE && whenWritten(event.id, followers, index) <= since; written++, index++) {
        const { writerId, writer, standing, text } = made(event.id, index);
        // Whoever may not write here does not.
        const fits = who === 'everyone' || (who === 'followers' && standing === 'follower') || who === 'members';
        if (!fits) continue;
        await this.write(event, { writerId, writer, standing: who === 'members' ? 'member' : standing, text, once: `${MADE}${index}` }).catch(
          (error: unknown) => {
            if (!(error instanceof Refusal)) throw error;
          },
        );
      }
      this.madeUp.set(event.id, index);
    }
  }
}
