// What visitors write on a show's house page: taken without an account, looked at first where the team wants that, and hidden from one moment to the next.
import { HOUSE_PAGE, MOST_SAID_HERE, type HouseMessage, type HouseTalk, type Silence, type TalkKept, type TalkWritten } from '@lantern/contract';
import { heldBecause, looksAsked, silentUntil, takesTalk, USUAL_TALK, waitsBecause, type TalkRules } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { setTimeout } from 'node:timers/promises';
import { concatMap, filter, from, type Observable } from 'rxjs';
import { DataSource, In, MoreThan, Not } from 'typeorm';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { digestOf } from '../foundation/digest';
import { PlainError } from '../foundation/errors';
import { oneLine } from '../foundation/one-line';
import { changeRow, together } from '../foundation/together';
import { AuditService } from '../people/audit.service';
import type { Person } from '../people/people.entities';
import { Stations } from '../people/stations';
import type { Show } from '../shows/show.entities';
import { AskedTooRow, HouseTalkRow, HouseWriter, Message } from './message.entities';
import { MessageRows } from './message-rows';
import { FOR_GOOD, saySilence, SILENCE_WORDS, silentFor } from './silences';

/** Strangers fill no disk, and keep no message of a channel from being kept. */
const MOST_PER_SHOW = 20_000;
/** So many of a browser's messages go with it. */
const MOST_OF_ONE = 500;
/** A piece of news is so small, and the next comes so much later, that a visitor's line has taken it by then: whoever takes nothing is let go. */
const NEWS_AT_ONCE = 50;
const NEWS_PAUSE_MS = 40;
/** SQLite takes so many values in one statement. */
const KEYS_AT_ONCE = 200;

/** Stands where the airing of a channel would. */
const placeOf = (showId: string) => `house page ${showId}`;

@Injectable()
export class HouseTalkService {
  constructor(
    private readonly database: DataSource,
    private readonly rows: MessageRows,
    private readonly stations: Stations,
    private readonly audit: AuditService,
    private readonly clock: Clock,
    private readonly bus: Bus,
  ) {}

  private get messages() {
    return this.database.getRepository(Message);
  }

  async rulesOf(showId: string): Promise<TalkRules> {
    const row = await this.database.getRepository(HouseTalkRow).findOneBy({ showId });
    return row ? { open: row.open, lookedAt: row.lookedAt, everyS: row.everyS } : USUAL_TALK;
  }

  /** Whether a show has a page on which visitors can write for all, now or later. */
  isThere({ state, rehearsalOf }: Pick<Show, 'state' | 'rehearsalOf'>): boolean {
    return rehearsalOf === null && ['placed', 'onAir', 'interrupted'].includes(state);
  }

  /** Whether messages are written there at this moment. */
  async takes(show: Show): Promise<boolean> {
    return this.isThere(show) && takesTalk(show, this.clock.now()) && (await this.rulesOf(show.id)).open;
  }

  // ---- for visitors

  async list(show: Show): Promise<HouseTalk> {
    const shut = (await this.takes(show)) ? '' : 'Nothing can be written here at this moment.';
    if (!this.isThere(show) || !(await this.rulesOf(show.id)).open) return { shut, messages: [] };
    const rows = await this.messages.find({ where: { airingId: placeOf(show.id), state: 'shown' }, order: { place: 'DESC' }, take: MOST_SAID_HERE });
    return { shut, messages: await this.asShown(rows.reverse()) };
  }

  /** How far the list of a show reaches: what to hear news from. */
  newest(showId: string): Promise<number> {
    return this.rows.newestOf(showId);
  }

  /** What comes or changes after a revision, for all who look at the page. */
  news(showId: string, revision: number): Observable<HouseMessage[]> {
    const looked = { to: revision };
    return this.bus.on('messages').pipe(
      filter((told) => told.showId === showId),
      concatMap(() => from(this.since(showId, looked))),
    );
  }

  /** Keeps a message. One that is sent again, since its answer got lost, is the same one. */
  async write(show: Show, { key, writer, name, words, behindMs }: TalkWritten): Promise<TalkKept> {
    const [remoteId, writerHash, said, called] = [digestOf(key), digestOf(writer), oneLine(words), oneLine(name)];
    const rules = await this.rulesOf(show.id);
    const holding = await this.rows.rulesOf(show.stationId);
    const takes = await this.takes(show);
    const [airingId, showId] = [placeOf(show.id), show.id];
    const { row, isNew } = await together(this.database, async (entities) => {
      const known = await entities.findOneBy(Message, { airingId, remoteId });
      if (known) return { row: known, isNew: false };
      if (!takes) throw new PlainError(409, 'Nothing can be written here at this moment.');
      if (!called || !said) throw new PlainError(400, 'Write your name and your message.');
      const now = this.clock.now();
      const before = await entities.findOneBy(HouseWriter, { showId, writerHash });
      const until = silentUntil(before?.wroteAt ?? null, before?.silentUntil ?? null, rules, now);
      if (until !== null) throw new PlainError(409, sayWait(until, now, before!));
      if ((await entities.countBy(Message, { airingId })) >= MOST_PER_SHOW)
        throw new PlainError(409, 'More has been written here than can be kept. Please listen.');
      const shownBefore = before !== null && (await entities.existsBy(Message, { showId, writerHash, state: 'shown' }));
      const held = heldBecause(said, holding) ?? waitsBecause(rules, shownBefore);
      await entities.upsert(HouseWriter, { showId, writerHash, wroteAt: now, silentUntil: before?.silentUntil ?? null }, ['showId', 'writerHash']);
      const row = await this.rows.addHere(entities, {
        ...{ showId, airingId, channelId: HOUSE_PAGE, remoteId, writer: called, words: said, writerHash, held, answers: null, writtenAt: now },
        ...{
          standing: before ? 'unknown' : 'newcomer',
          state: held ? 'hidden' : 'shown',
          answeredAt: null,
          questionId: null,
          askedToo: 0,
          silentUntil: null,
          behindMs: behindMs ?? null,
        },
      });
      return { row, isNew: true };
    });
    if (isNew) this.rows.changed(showId);
    const [message = null] = row.state === 'shown' ? await this.asShown([row]) : [];
    return { id: row.id, waits: row.state !== 'shown', message };
  }

  /** Says that another one asks this too: once from each browser, and not from the one that asked. */
  async askToo(show: Show, id: string, writer: string): Promise<HouseMessage> {
    const writerHash = digestOf(writer);
    const showId = show.id;
    if (!(await this.takes(show))) throw new PlainError(409, 'Nothing can be written here at this moment.');
    const changed = await together(this.database, async (entities) => {
      const row = await entities.findOneBy(Message, { id, airingId: placeOf(showId), state: 'shown' });
      if (!row) throw new PlainError(404, 'This message is not there any more.');
      if (!asks(row) || row.writerHash === writerHash || (await entities.existsBy(AskedTooRow, { messageId: id, writerHash }))) return false;
      await entities.insert(AskedTooRow, { messageId: id, writerHash, showId });
      await this.rows.changeAll(entities, showId, [id], { askedToo: row.askedToo + 1 });
      return true;
    });
    if (changed) this.rows.changed(showId);
    const [message] = await this.asShown(await this.messages.findBy({ id }));
    return message!;
  }

  // ---- for the team

  async setRules(by: Person, show: Show, { open, lookedAt, everyS }: TalkRules): Promise<void> {
    if (!this.isThere(show)) throw new PlainError(409, 'The house page of this show takes no messages: it is neither placed nor on air.');
    await this.database.getRepository(HouseTalkRow).upsert({ showId: show.id, open, lookedAt, everyS }, ['showId']);
    const sayLooked = { none: 'shown at once', first: 'the first of each looked at', every: 'each looked at' }[lookedAt];
    await this.audit.note(by, 'set', `messages on the house page of “${show.title}”: ${open ? sayLooked : 'none'}`);
    this.rows.changed(show.id);
    this.bus.tell({ kind: 'show', showId: show.id });
  }

  /** Writes as the host: beneath what it answers, or to all. A second press is the same message. */
  async say(show: Show, words: string, key: string, answers: Message | null): Promise<void> {
    if (!(await this.takes(show))) throw new PlainError(409, 'The house page takes no messages at this moment.');
    const said = oneLine(words);
    if (!said) throw new PlainError(400, 'Write something.');
    const { name } = await this.stations.mustBe(show.stationId);
    const [airingId, showId, remoteId] = [placeOf(show.id), show.id, digestOf(`team ${key}`)];
    await together(this.database, async (entities) => {
      const now = this.clock.now();
      if (!(await entities.existsBy(Message, { airingId, remoteId })))
        await this.rows.addHere(entities, {
          ...{ showId, airingId, channelId: HOUSE_PAGE, remoteId, writer: name, words: said, writerHash: null, held: null, writtenAt: now },
          ...{
            answers: answers?.remoteId ?? null,
            standing: 'own',
            state: 'shown',
            answeredAt: null,
            questionId: null,
            askedToo: 0,
            silentUntil: null,
            behindMs: null,
          },
        });
    });
    this.rows.changed(showId);
  }

  /** Whoever wrote a message writes nothing more for a time, or in this show; with the latter goes all that they wrote. */
  async silence(by: Person, show: Show, { writer, writerHash }: Message, silence: Silence): Promise<void> {
    if (writerHash === null) throw new PlainError(409, 'Only who writes on the house page can be silenced from here. Elsewhere, hide what they write.');
    const showId = show.id;
    const until = silentFor(silence, this.clock.now());
    await together(this.database, async (entities) => {
      if (!(await changeRow(entities, HouseWriter, { showId, writerHash }, { silentUntil: until }))) throw new PlainError(404, 'They are not there any more.');
      const theirs = await entities.find(Message, {
        where: { showId, writerHash },
        order: { place: 'DESC' },
        take: MOST_OF_ONE,
        select: { id: true, state: true },
      });
      const idsOf = (state: 'shown' | 'hidden') => theirs.filter((each) => each.state === state).map(({ id }) => id);
      await this.rows.changeAll(entities, showId, idsOf('hidden'), {});
      await this.rows.changeAll(entities, showId, idsOf('shown'), silence === 'this show' ? { state: 'hidden', held: null } : {});
    });
    await this.audit.note(by, SILENCE_WORDS[silence], `${writer} on the house page of “${show.title}”`);
    this.rows.changed(showId);
  }

  /** For how long the writers of messages are silent. */
  async silences(rows: readonly Message[]): Promise<(row: Message) => Silence | null> {
    const hashes = [...new Set(rows.flatMap(({ writerHash }) => writerHash ?? []))];
    const silent = new Map<string, number>();
    for (let at = 0; at < hashes.length; at += KEYS_AT_ONCE) {
      const some = hashes.slice(at, at + KEYS_AT_ONCE);
      const found = await this.database
        .getRepository(HouseWriter)
        .findBy({ showId: rows[0]!.showId, writerHash: In(some), silentUntil: MoreThan(this.clock.now()) });
      for (const { writerHash, silentUntil: until } of found) silent.set(writerHash, until!);
    }
    return ({ writerHash }) => (writerHash === null ? null : saySilence(silent.get(writerHash) ?? null, this.clock.now()));
  }

  /** All of it, also where more came at once than is told at once. */
  private async *since(showId: string, looked: { to: number }): AsyncGenerator<HouseMessage[]> {
    for (let more = true; more;) {
      const where = { showId, channelId: HOUSE_PAGE, revision: MoreThan(looked.to) };
      const rows = await this.messages.find({ where, order: { revision: 'ASC' }, take: NEWS_AT_ONCE });
      if (!rows.length) return;
      looked.to = rows.at(-1)!.revision;
      more = rows.length === NEWS_AT_ONCE;
      yield await this.asShown(rows);
      if (more) await setTimeout(NEWS_PAUSE_MS);
    }
  }

  private async asShown(rows: readonly Message[]): Promise<HouseMessage[]> {
    const answered = [...new Set(rows.flatMap(({ answers }) => answers ?? []))];
    const found = answered.length
      ? await this.messages.find({
          where: { airingId: rows[0]!.airingId, remoteId: In(answered), state: Not('removed') },
          select: { place: true, remoteId: true, writer: true },
        })
      : [];
    return rows.map((row) => {
      const { id, place, revision, state, writer, standing, words, writtenAt, answers, askedToo, answeredAt } = row;
      const shown = state === 'shown';
      return {
        ...{ id, place, revision, shown, own: standing === 'own', writtenAt, asks: shown && asks(row), askedToo, answered: answeredAt !== null },
        // Of what is hidden nobody outside learns a word, nor who wrote it.
        ...{ name: shown ? writer : '', words: shown ? words : '', to: (shown && found.find(({ remoteId }) => remoteId === answers)?.writer) || null },
      };
    });
  }
}

const asks = ({ standing, words }: Message): boolean => standing !== 'own' && looksAsked(words);

function sayWait(until: number, now: number, { silentUntil: silenced }: HouseWriter): string {
  if (until === FOR_GOOD) return 'The host takes no more messages from you in this show.';
  const seconds = Math.ceil((until - now) / 1_000);
  const wait = seconds < 90 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`;
  return silenced !== null && silenced > now
    ? `The host asks you to write nothing for a while: wait ${wait}.`
    : `Give others a turn: wait ${wait}, and send it then.`;
}
