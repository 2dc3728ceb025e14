// The rows of messages: kept once each, in the order of arrival, with a revision that tells what is new or other since somebody looked.
import { MESSAGES_AT_FIRST, MESSAGES_AT_ONCE } from '@lantern/contract';
import { DAY_MS, heldBecause, NO_RULES, type HoldingRules } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { DataSource, In, IsNull, MoreThan, Not, type EntityManager } from 'typeorm';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { changeRow, together } from '../foundation/together';
import type { MessageBatch, MessageThere } from '../channels/connectors/connector';
import type { Airing } from '../shows/show.entities';
import { HoldingRulesRow, Message, MessageCursor, PreparedAnswersRow } from './message.entities';

/** A flood fills no disk. */
const MOST_PER_SHOW = 100_000;
/** SQLite takes so many values in one statement. */
const ROWS_AT_ONCE = 200;
/** However fast messages come, pages hear of them so often. */
const TELL_EVERY_MS = 300;
/** One that is longer than anybody reads is cut: it must keep no other from being read. */
const LONGEST_WORDS = 5_000;
const LONGEST_NAME = 100;
/** A network's clock may be ahead, but not by more; and what no calendar knows no page could show. */
const MOST_AHEAD_MS = DAY_MS;

@Injectable()
export class MessageRows {
  private readonly telling = new Map<string, NodeJS.Timeout>();

  constructor(
    private readonly database: DataSource,
    private readonly clock: Clock,
    private readonly bus: Bus,
  ) {}

  async rulesOf(stationId: string): Promise<HoldingRules> {
    const row = await this.database.getRepository(HoldingRulesRow).findOneBy({ stationId });
    return row ? { words: row.words, links: row.links } : NO_RULES;
  }

  async setRules(stationId: string, { words, links }: HoldingRules): Promise<void> {
    await this.database.getRepository(HoldingRulesRow).upsert({ stationId, words: [...words], links }, ['stationId']);
  }

  async preparedOf(stationId: string): Promise<string[]> {
    return (await this.database.getRepository(PreparedAnswersRow).findOneBy({ stationId }))?.answers ?? [];
  }

  async setPrepared(stationId: string, answers: string[]): Promise<void> {
    await this.database.getRepository(PreparedAnswersRow).upsert({ stationId, answers }, ['stationId']);
  }

  /** The channels on which something is held back and seen all the same. */
  async channelsToHide(): Promise<string[]> {
    const found: { channelId: string }[] = await this.database.query(`SELECT DISTINCT channelId FROM messages WHERE held IS NOT NULL AND state = 'shown'`);
    return found.map(({ channelId }) => channelId);
  }

  /** What is to be hidden on a channel, and is not yet; the oldest first. */
  toHide(channelId: string, most: number): Promise<Message[]> {
    return this.rows.find({ where: { channelId, held: Not(IsNull()), state: 'shown' }, order: { place: 'ASC' }, take: most });
  }

  private get rows() {
    return this.database.getRepository(Message);
  }

  byId(showId: string, id: string): Promise<Message | null> {
    return this.rows.findOneBy({ id, showId });
  }

  /** What is new or other since a revision, in the order in which it came to be; from 0 on the newest there are. */
  async since(showId: string, revision: number): Promise<{ rows: Message[]; revision: number; more: boolean }> {
    if (revision === 0) {
      const rows = await this.rows.find({ where: { showId }, order: { place: 'DESC' }, take: MESSAGES_AT_FIRST });
      return { rows: rows.reverse(), revision: await this.newest(this.database.manager, showId), more: false };
    }
    const rows = await this.rows.find({ where: { showId, revision: MoreThan(revision) }, order: { revision: 'ASC' }, take: MESSAGES_AT_ONCE });
    return { rows, revision: rows.at(-1)?.revision ?? revision, more: rows.length === MESSAGES_AT_ONCE };
  }

  /** By the networks' identifiers, ours, of one airing each. */
  async idsOf(rows: readonly Pick<Message, 'airingId' | 'answers'>[]): Promise<(row: Pick<Message, 'airingId' | 'answers'>) => string | null> {
    const answered = [...new Set(rows.flatMap(({ answers }) => answers ?? []))];
    const found = answered.length ? await this.rows.find({ where: { remoteId: In(answered) }, select: { id: true, airingId: true, remoteId: true } }) : [];
    const ids = new Map(found.map(({ id, airingId, remoteId }) => [`${airingId} ${remoteId}`, id]));
    return ({ airingId, answers }) => (answers === null ? null : (ids.get(`${airingId} ${answers}`) ?? null));
  }

  async cursorOf({ id: airingId, remoteId }: Airing): Promise<string> {
    const known = await this.database.getRepository(MessageCursor).findOneBy({ airingId });
    return known?.remoteId === remoteId ? known.cursor : '';
  }

  /** Keeps a batch and how far it reaches: both, or neither. What is kept already stays as it is. `rules`: what of it is held back. */
  async keep(airing: Airing, { messages, cursor }: MessageBatch, rules: HoldingRules = NO_RULES): Promise<void> {
    const { id: airingId, showId, remoteId } = airing;
    const isNews = await together(this.database, async (entities) => {
      const added = await this.add(entities, airing, messages, rules);
      await entities.upsert(MessageCursor, { airingId, showId, remoteId: remoteId!, cursor }, ['airingId']);
      return added > 0;
    });
    if (isNews) this.changed(showId);
  }

  /** Adds one that is kept here alone, in a transaction that is going on. Whoever asks for it tells of it afterwards. */
  async addHere(entities: EntityManager, message: Omit<Message, 'place' | 'id' | 'revision'>): Promise<Message> {
    const revision = (await this.newest(entities, message.showId)) + 1;
    const row = { id: randomUUID(), revision, ...message };
    await entities.insert(Message, row);
    return entities.findOneByOrFail(Message, { id: row.id });
  }

  /** Changes messages of a show, each with a revision of its own, in a transaction that is going on. */
  async changeAll(
    entities: EntityManager,
    showId: string,
    ids: readonly string[],
    columns: Partial<Pick<Message, 'state' | 'held' | 'askedToo'>>,
  ): Promise<void> {
    const newest = await this.newest(entities, showId);
    for (const [at, id] of ids.entries()) await changeRow(entities, Message, { id }, { ...columns, revision: newest + at + 1 });
  }

  /** What was written from here, as the network has it. */
  async keepOwn(airing: Airing, message: MessageThere): Promise<void> {
    await together(this.database, (entities) => this.add(entities, airing, [message]));
    this.changed(airing.showId);
  }

  /** Changes a message; false: it is gone, or is not as it was looked at. */
  async change(
    { id, showId, state }: Message,
    columns: Partial<Pick<Message, 'state' | 'answeredAt' | 'questionId' | 'held' | 'silentUntil'>>,
  ): Promise<boolean> {
    const done = await together(this.database, async (entities) => {
      const revision = (await this.newest(entities, showId)) + 1;
      return changeRow(entities, Message, { id, state }, { ...columns, revision });
    });
    if (done) this.changed(showId);
    return done > 0;
  }

  changed(showId: string): void {
    if (this.telling.has(showId)) return;
    const timer = setTimeout(() => {
      this.telling.delete(showId);
      this.bus.tell({ kind: 'messages', showId });
    }, TELL_EVERY_MS);
    timer.unref();
    this.telling.set(showId, timer);
  }

  private async add(
    entities: EntityManager,
    { id: airingId, showId, channelId }: Airing,
    messages: readonly MessageThere[],
    rules = NO_RULES,
  ): Promise<number> {
    const known = new Set<string>();
    for (const some of inParts(messages)) {
      const there = await entities.find(Message, { where: { airingId, remoteId: In(some.map(({ id }) => id)) }, select: { place: true, remoteId: true } });
      for (const { remoteId } of there) known.add(remoteId);
    }
    const fresh = messages.filter(({ id }) => !known.has(id) && known.add(id));
    if (!fresh.length) return 0;
    const newest = await this.newest(entities, showId);
    const now = this.clock.now();
    if (newest + fresh.length > MOST_PER_SHOW) throw new PlainError(409, 'This show has more messages than are kept.');
    const rows = fresh.map(({ id: remoteId, writtenAt, writer, standing, words, answers, hidden }, at): Omit<Message, 'place'> => ({
      ...{ id: randomUUID(), showId, airingId, channelId, remoteId, revision: newest + at + 1, standing },
      ...{ writer: writer.trim().slice(0, LONGEST_NAME) || 'Somebody', words: words.slice(0, LONGEST_WORDS) },
      ...{ answers, writtenAt: Math.min(writtenAt, now + MOST_AHEAD_MS), state: hidden ? 'hidden' : 'shown', answeredAt: null, questionId: null },
      held: standing === 'own' || hidden ? null : heldBecause(words, rules),
      ...{ writerHash: null, askedToo: 0, silentUntil: null, behindMs: null },
    }));
    for (const some of inParts(rows)) await entities.insert(Message, some);
    // What the channel itself has answered, from here or there, is answered.
    const answered = fresh.flatMap(({ standing, answers }) => (standing === 'own' && answers !== null ? [answers] : []));
    for (const [at, remoteId] of [...new Set(answered)].entries())
      await changeRow(entities, Message, { airingId, remoteId }, { answeredAt: now, revision: newest + fresh.length + at + 1 });
    return fresh.length;
  }

  /** The newest revision of a show's list. */
  newestOf(showId: string): Promise<number> {
    return this.newest(this.database.manager, showId);
  }

  private async newest(entities: EntityManager, showId: string): Promise<number> {
    return (await entities.maximum(Message, 'revision', { showId })) ?? 0;
  }
}

function* inParts<Row>(rows: readonly Row[]): Generator<Row[]> {
  for (let at = 0; at < rows.length; at += ROWS_AT_ONCE) yield rows.slice(at, at + ROWS_AT_ONCE);
}
