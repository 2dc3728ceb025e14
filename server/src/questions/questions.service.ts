// Questions from the house page: read by the team and by nobody else, and answered, put aside, or asked on the picture by whoever asked them.
import type { OwnQuestion, PlaceAnswered, QuestionAsked, QuestionChange, QuestionsView } from '@lantern/contract';
import { fitForPicture } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { DataSource, In, IsNull } from 'typeorm';
import { placeName } from '../channels/access.service';
import { ChannelRows } from '../channels/channel-rows';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { digestOf } from '../foundation/digest';
import { PlainError } from '../foundation/errors';
import { oneLine } from '../foundation/one-line';
import { addRow, changeRow, together } from '../foundation/together';
import { GuestsService } from '../guests/guests.service';
import { AuditService } from '../people/audit.service';
import type { Person } from '../people/people.entities';
import { RemovalService } from '../shows/removal.service';
import type { Show } from '../shows/show.entities';
import { Question, ShutToQuestions } from './question.entities';

/** Whoever floods a show fills no disk by it, and the list stays one that can be read. */
const MOST_PER_SHOW = 1_000;

const FRESH = { state: 'open', answeredAt: null, onPicture: null, place: 'none', guestId: null } as const;

const gone = () => new PlainError(404, 'This question is not there any more.');
const settled = () => new PlainError(409, 'This has been settled meanwhile. Look at it again.');

@Injectable()
export class QuestionsService {
  constructor(
    private readonly database: DataSource,
    private readonly guests: GuestsService,
    private readonly channels: ChannelRows,
    private readonly audit: AuditService,
    private readonly clock: Clock,
    private readonly bus: Bus,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'questions', where: 'showId = ?' }, { table: 'shut_to_questions', where: 'showId = ?' });
  }

  private get rows() {
    return this.database.getRepository(Question);
  }

  /** Whether the house page of a show takes questions at this moment. */
  async taken({ id, state, rehearsalOf }: Show): Promise<boolean> {
    if (rehearsalOf !== null || !['placed', 'onAir', 'interrupted'].includes(state)) return false;
    return !(await this.database.getRepository(ShutToQuestions).existsBy({ showId: id }));
  }

  /** What of each question of a show stands on the picture when it is put there. */
  async shown(showId: string): Promise<{ id: string; words: string }[]> {
    return (await this.rows.findBy({ showId })).map(({ id, onPicture, words }) => ({ id, words: onPicture ?? words }));
  }

  // ---- for visitors

  /** Keeps a question. One that is sent again, since its answer got lost, is the same one. */
  async ask(show: Show, { key, name, words }: QuestionAsked): Promise<OwnQuestion> {
    const keyHash = digestOf(key);
    const row: Question = {
      ...{ id: randomUUID(), showId: show.id, keyHash, name: oneLine(name), words: oneLine(words), askedAt: this.clock.now() },
      ...FRESH,
      channelId: null,
    };
    const kept = await together(this.database, async (entities) => {
      const known = await entities.findOneBy(Question, { keyHash, showId: show.id });
      if (known) return known;
      if (!(await this.taken(show))) throw new PlainError(409, 'No questions are taken here at this moment.');
      if (!row.name || !row.words) throw new PlainError(400, 'Write your name and your question.');
      if ((await entities.countBy(Question, { showId: show.id })) >= MOST_PER_SHOW)
        throw new PlainError(409, 'The host has more questions than can be read. Please listen, and ask another time.');
      return addRow(entities, Question, row);
    });
    if (kept === row) this.changed(show.id);
    return ownOf(kept);
  }

  /** Gathers a message as a question, once; answers with its identifier. `keyHash`: of the key of the browser that wrote it on the house page. */
  async gather(
    { id: showId }: Show,
    message: { messageId: string; name: string; words: string; channelId: string | null; keyHash: string | null; at: number },
  ): Promise<string> {
    const { messageId, name, words, channelId, at: askedAt } = message;
    // Of a channel's no browser knows what this is made from, so nobody can ask for it from outside.
    const keyHash = message.keyHash ?? digestOf(`message ${messageId}`);
    const row: Question = { id: randomUUID(), showId, keyHash, name: oneLine(name), words: oneLine(words), channelId, askedAt, ...FRESH };
    const { id } = await together(this.database, async (entities) => {
      const known = await entities.findOneBy(Question, { keyHash, showId });
      if (known) return known;
      if ((await entities.countBy(Question, { showId })) >= MOST_PER_SHOW)
        throw new PlainError(409, 'There are more questions than can be read. Put some aside first.');
      return addRow(entities, Question, row);
    });
    this.changed(showId);
    return id;
  }

  /** What became of one's own, in the order of the keys; of keys that are no more, nothing. */
  async own(show: Show, keys: readonly string[]): Promise<Record<string, OwnQuestion>> {
    const rows = await this.asTheyAre(await this.rows.findBy({ showId: show.id, keyHash: In(keys.map(digestOf)) }));
    return Object.fromEntries(keys.flatMap((key) => rows.filter(({ keyHash }) => keyHash === digestOf(key)).map((row) => [key, ownOf(row)] as const)));
  }

  /** Comes in, with a pass of their own for this date, or does not. A second press finds the same pass. */
  async answerPlace(show: Show, stationId: string, key: string, comes: boolean): Promise<PlaceAnswered> {
    const { row, door } = await together(this.database, async (entities) => {
      const before = await entities.findOneBy(Question, { showId: show.id, keyHash: digestOf(key) });
      if (!before) throw gone();
      const { id, place } = before;
      if (comes && place === 'accepted' && before.guestId !== null) return { row: before, door: await this.guests.doorOf(before.guestId) };
      if (place !== 'offered') throw new PlainError(409, 'The place is not free any more. The host may still read your question.');
      if (show.state === 'over') throw new PlainError(409, 'This evening is over.');
      const guestId = comes ? await this.guests.comesIn(entities, show, stationId, before.name) : null;
      const set = { place: comes ? ('accepted' as const) : ('declined' as const), guestId };
      if (!(await changeRow(entities, Question, { id, place: 'offered' }, set))) throw settled();
      return { row: { ...before, ...set }, door: guestId === null ? null : await this.guests.doorOf(guestId) };
    });
    this.changed(show.id);
    // Whoever was let in stands on the bench by their own pass.
    this.bus.tell({ kind: 'show', showId: show.id });
    if (comes && door === null) throw new PlainError(409, 'The place was taken back. The host may still read your question.');
    return { question: ownOf(row), door };
  }

  // ---- for the team

  async list(show: Show): Promise<QuestionsView> {
    const rows = await this.asTheyAre(await this.rows.find({ where: { showId: show.id }, order: { askedAt: 'ASC', id: 'ASC' } }));
    const channels = await this.channels.some([...new Set(rows.flatMap(({ channelId }) => channelId ?? []))]);
    const placeOf = (id: string | null) => {
      const channel = channels.find((each) => each.id === id);
      return id === null ? 'the house page' : channel ? placeName(channel) : 'a channel that is unlinked';
    };
    return {
      taken: await this.taken(show),
      questions: rows.map(({ id, name, words, channelId, askedAt, state, answeredAt, onPicture, place }) => ({
        ...{ id, name, words, from: placeOf(channelId), onHousePage: channelId === null, askedAt, state, answeredAt, place },
        onPicture: fitForPicture(onPicture ?? words),
      })),
    };
  }

  /** Answered, put aside, open again; and how it stands on the picture. */
  async change(show: Show, id: string, { state, onPicture }: QuestionChange): Promise<void> {
    const set = {
      ...(state !== undefined && { state, answeredAt: state === 'answered' ? this.clock.now() : null }),
      ...(onPicture !== undefined && { onPicture: oneLine(onPicture) || null }),
    };
    if (onPicture !== undefined && oneLine(onPicture) && !fitForPicture(onPicture))
      throw new PlainError(400, 'Nothing of this can stand on the picture: addresses and keys do not.');
    if (!Object.keys(set).length) throw new PlainError(400, 'Say what is to change.');
    if (!(await changeRow(this.database.manager, Question, { id, showId: show.id }, set))) throw gone();
    this.changed(show.id);
  }

  /** Offers whoever asked to come in and ask it themselves. Nothing is given out before they have said yes. */
  async offerPlace(by: Person, show: Show, id: string): Promise<void> {
    const question = await this.rows.findOneBy({ id, showId: show.id });
    if (!question) throw gone();
    const [{ place }] = (await this.asTheyAre([question])) as [Question];
    if (place === 'offered' || place === 'accepted') return;
    if (question.channelId !== null) throw new PlainError(409, 'Only who asked on the house page can be offered a place there. Send others a guest pass.');
    if (!['placed', 'onAir', 'interrupted'].includes(show.state)) throw new PlainError(409, 'Nobody can come in: this show is neither placed nor on air.');
    if (!(await changeRow(this.database.manager, Question, { id, place: question.place }, { place: 'offered', guestId: null }))) throw settled();
    await this.audit.note(by, 'asked', `${question.name}, who asked on the house page, to be in “${show.title}”`);
    this.changed(show.id);
  }

  /** Takes the place back: the offer, or the pass of whoever has come in by it. */
  async takePlaceBack(by: Person, show: Show, id: string): Promise<void> {
    const question = await this.rows.findOneBy({ id, showId: show.id });
    if (!question) throw gone();
    // The pass first: a server that is killed in between leaves nobody in of whom nothing is said here.
    if (question.guestId !== null && (await this.guests.doorOf(question.guestId)) !== null) await this.guests.withdraw(by, show, question.guestId);
    // Whoever has come in since by the offer that was looked at stays in, and stands here.
    const looked = { id, place: question.place, guestId: question.guestId ?? IsNull() };
    if (!(await changeRow(this.database.manager, Question, looked, { place: 'none', guestId: null }))) throw settled();
    this.changed(show.id);
  }

  async setTaken(show: Show, taken: boolean): Promise<void> {
    const shut = this.database.getRepository(ShutToQuestions);
    if (taken) await shut.delete({ showId: show.id });
    else await shut.upsert({ showId: show.id }, ['showId']);
    this.changed(show.id);
    this.bus.tell({ kind: 'show', showId: show.id });
  }

  /** A pass may have been withdrawn where passes are: with it goes the place. */
  private async asTheyAre(rows: Question[]): Promise<Question[]> {
    const there = await this.guests.there(rows.flatMap(({ guestId }) => guestId ?? []));
    return rows.map((row) => (row.guestId !== null && !there.has(row.guestId) ? { ...row, place: 'none', guestId: null } : row));
  }

  private changed(showId: string): void {
    this.bus.tell({ kind: 'questions', showId });
  }
}

const ownOf = ({ words, state, place }: Question): OwnQuestion => ({ words, state, place });
