// Polls of a show: one open at a time, answered on the house page by a press and everywhere by a message, each who answers counted once as far as can be known.
import { HOUSE_PAGE, type HousePoll, type HousePollMine, type HouseVote, type PollDraft, type PollView } from '@lantern/contract';
import { LONGEST_VOTE, voteIn } from '@lantern/core';
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { concatMap, filter, from, throttleTime, type Observable, type Subscription } from 'rxjs';
import { DataSource, In, type EntityManager } from 'typeorm';
import { channelInFull } from '../channels/access.service';
import { ChannelRows } from '../channels/channel-rows';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { digestOf } from '../foundation/digest';
import { PlainError } from '../foundation/errors';
import { letGo } from '../foundation/let-go';
import { oneLine } from '../foundation/one-line';
import { addRow, changeRow, together, TurnByTurn } from '../foundation/together';
import { AuditService } from '../people/audit.service';
import type { Person } from '../people/people.entities';
import { RemovalService } from '../shows/removal.service';
import type { Show } from '../shows/show.entities';
import { Poll, Vote } from './poll.entities';

/** More nobody prepares for an evening. */
const MOST_PER_SHOW = 20;
/** So many messages are looked through at once. */
const AT_ONCE = 500;
/** However fast votes come, pages hear of them so often. */
const TELL_EVERY_MS = 1_000;

const gone = () => new PlainError(404, 'This poll is not there any more.');
const settled = () => new PlainError(409, 'This poll has been opened, closed or changed meanwhile. Look at it again.');

interface Said {
  place: number;
  airingId: string;
  channelId: string;
  writer: string;
  writerHash: string | null;
  words: string;
}

@Injectable()
export class PollsService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('polls');
  private readonly turns = new TurnByTurn();
  private readonly telling = new Map<string, NodeJS.Timeout>();
  /** Shows of which messages wait to be counted: one look is enough for all that came before it. */
  private readonly asked = new Set<string>();
  private heard: Subscription | null = null;

  constructor(
    private readonly database: DataSource,
    private readonly channels: ChannelRows,
    private readonly audit: AuditService,
    private readonly clock: Clock,
    private readonly bus: Bus,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'polls', where: 'showId = ?' }, { table: 'votes', where: 'showId = ?' });
  }

  private get rows() {
    return this.database.getRepository(Poll);
  }

  onApplicationBootstrap(): void {
    this.heard = this.bus.on('messages').subscribe(({ showId }) => {
      if (this.asked.has(showId)) return;
      this.asked.add(showId);
      letGo('counting votes', this.countMessages(showId));
    });
  }

  onApplicationShutdown(): void {
    this.heard?.unsubscribe();
    for (const timer of this.telling.values()) clearTimeout(timer);
  }

  // ---- for the team

  async list({ id: showId }: Pick<Show, 'id'>): Promise<PollView[]> {
    const polls = await this.rows.find({ where: { showId }, order: { madeAt: 'ASC', id: 'ASC' } });
    if (!polls.length) return [];
    const votes: { pollId: string; channelId: string; option: number; votes: number }[] = await this.database.query(
      `SELECT pollId, channelId, "option", COUNT(*) AS votes FROM votes WHERE showId = ? GROUP BY pollId, channelId, "option"`,
      [showId],
    );
    const channels = await this.channels.some([...new Set(votes.map(({ channelId }) => channelId))].filter((id) => id !== HOUSE_PAGE));
    const nameOf = (id: string) => {
      const channel = channels.find((each) => each.id === id);
      return id === HOUSE_PAGE ? 'House page' : channel ? channelInFull(channel) : 'A channel that is unlinked';
    };
    return polls.map(({ id, question, options, state, openedAt, closedAt }) => {
      const own = votes.filter(({ pollId }) => pollId === id);
      const sum = (some: typeof own) => some.reduce((all, each) => all + each.votes, 0);
      return {
        ...{ id, question, options, state, openedAt, closedAt },
        counts: options.map((_, at) => sum(own.filter(({ option }) => option === at))),
        from: [...new Set(own.map(({ channelId }) => channelId))]
          .map((from) => ({ name: nameOf(from), votes: sum(own.filter(({ channelId }) => channelId === from)) }))
          .sort((a, b) => b.votes - a.votes || a.name.localeCompare(b.name)),
      };
    });
  }

  async prepare({ id: showId, rehearsalOf }: Show, draft: PollDraft): Promise<void> {
    if (rehearsalOf !== null) throw new PlainError(409, 'A rehearsal reaches nobody: prepare it on the show itself.');
    const asked = tidy(draft);
    await together(this.database, async (entities) => {
      if ((await entities.countBy(Poll, { showId })) >= MOST_PER_SHOW)
        throw new PlainError(409, `${MOST_PER_SHOW} polls are enough for a show. Take one away first.`);
      await addRow(entities, Poll, {
        id: randomUUID(),
        showId,
        ...asked,
        state: 'prepared',
        madeAt: this.clock.now(),
        openedAt: null,
        closedAt: null,
        countedTo: 0,
      });
    });
    this.changed(showId);
  }

  /** Changes one that nobody has been asked yet: what was answered stays what was asked. */
  async change({ id: showId }: Show, id: string, draft: PollDraft): Promise<void> {
    if (!(await changeRow(this.database.manager, Poll, { id, showId, state: 'prepared' }, tidy(draft)))) throw settled();
    this.changed(showId);
  }

  async takeAway({ id: showId }: Show, id: string): Promise<void> {
    await together(this.database, async (entities) => {
      const poll = await entities.findOneBy(Poll, { id, showId });
      if (poll?.state === 'open') throw new PlainError(409, 'It is open. Close it first.');
      await entities.delete(Vote, { pollId: id });
      await entities.delete(Poll, { id, showId });
    });
    this.changed(showId);
  }

  /** Opens a poll. A second press finds it open. */
  async open(by: Person, show: Show, id: string): Promise<void> {
    const { id: showId, state } = show;
    if (!['placed', 'onAir', 'interrupted'].includes(state)) throw new PlainError(409, 'Nobody can answer: this show is neither placed nor on air.');
    const opened = await together(this.database, async (entities) => {
      const poll = await entities.findOneBy(Poll, { id, showId });
      if (!poll) throw gone();
      if (poll.state === 'open') return null;
      if (poll.state === 'closed') throw new PlainError(409, 'It is closed: what was answered stays. Prepare another.');
      const other = await entities.findOneBy(Poll, { showId, state: 'open' });
      if (other) throw new PlainError(409, `“${other.question}” is open. Close it first.`);
      // What was written before is no answer.
      const [{ newest }] = (await entities.query('SELECT MAX(place) AS newest FROM messages WHERE showId = ?', [showId])) as [{ newest: number | null }];
      await changeRow(entities, Poll, { id, state: 'prepared' }, { state: 'open', openedAt: this.clock.now(), countedTo: newest ?? 0 });
      return poll;
    });
    if (!opened) return;
    await this.audit.note(by, 'opened', `the poll “${opened.question}”`);
    this.changed(showId);
  }

  /** Closes a poll, with all that has come until then. A second press finds it closed. */
  async close(by: Person, { id: showId }: Show, id: string): Promise<void> {
    await this.countMessages(showId);
    const poll = await this.rows.findOneBy({ id, showId });
    if (!poll) throw gone();
    if (poll.state === 'closed') return;
    if (!(await changeRow(this.database.manager, Poll, { id, state: 'open' }, { state: 'closed', closedAt: this.clock.now() }))) throw settled();
    await this.audit.note(by, 'closed', `the poll “${poll.question}”`);
    this.changed(showId);
  }

  // ---- for visitors

  /** The newest that was opened, as it stands; null: none, or the show is over. */
  async shown(show: Pick<Show, 'id' | 'state'>): Promise<HousePoll | null> {
    if (!['placed', 'onAir', 'interrupted'].includes(show.state)) return null;
    const poll = await this.newestOf(show.id);
    if (!poll) return null;
    const { id, question, options, state } = poll;
    return { id, question, options, state: state === 'open' ? 'open' : 'closed', counts: await this.countsOf(poll), at: this.clock.now() };
  }

  async mine(show: Show, writer: string): Promise<HousePollMine> {
    const poll = await this.shown(show);
    const vote = poll && (await this.database.getRepository(Vote).findOneBy({ pollId: poll.id, voter: digestOf(writer) }));
    return { poll, mine: vote?.option ?? null };
  }

  /** Takes a vote; while it is open, one may think better of it. */
  async vote(show: Show, { poll: pollId, option, writer }: HouseVote): Promise<HousePollMine> {
    await together(this.database, async (entities) => {
      const poll = await entities.findOneBy(Poll, { id: pollId, showId: show.id });
      if (!poll) throw gone();
      if (poll.state !== 'open' || !['placed', 'onAir', 'interrupted'].includes(show.state))
        throw new PlainError(409, 'This poll is closed. Thank you for answering.');
      if (option >= poll.options.length) throw new PlainError(400, 'There is no such answer.');
      await put(entities, poll, digestOf(writer), HOUSE_PAGE, option);
    });
    this.changedSoon(show.id);
    return this.mine(show, writer);
  }

  /** How it stands, whenever that changes. */
  news(show: Pick<Show, 'id'>, again: () => Promise<Pick<Show, 'id' | 'state'>>): Observable<HousePoll | null> {
    return this.bus.on('polls').pipe(
      filter(({ showId }) => showId === show.id),
      throttleTime(TELL_EVERY_MS, undefined, { leading: true, trailing: true }),
      concatMap(() => from(again().then((now) => this.shown(now)))),
    );
  }

  // ---- counting

  /** Looks through messages that came since, one show at a time: a message counts once, however often the server is killed. */
  private countMessages(showId: string): Promise<void> {
    return this.turns.run(showId, async () => {
      this.asked.delete(showId);
      try {
        let more = true;
        while (more) {
          const poll = await this.rows.findOneBy({ showId, state: 'open' });
          if (!poll) return;
          more = await together(this.database, (entities) => this.countSome(entities, poll));
        }
      } catch (error) {
        // As on a full disk: what was not counted is counted with the next message.
        this.log.warn(error instanceof Error ? error.message : String(error));
      }
    });
  }

  private async countSome(entities: EntityManager, poll: Poll): Promise<boolean> {
    const { id, showId, countedTo, options, openedAt } = poll;
    // Found by the index of the show's messages; what is longer than an answer is not even read.
    const said: Said[] = await entities.query(
      `SELECT place, airingId, channelId, writer, writerHash, CASE WHEN length(words) <= ${LONGEST_VOTE} AND standing <> 'own' THEN words ELSE '' END AS words
         FROM messages WHERE showId = ? AND place > ? ORDER BY place LIMIT ${AT_ONCE}`,
      [showId, countedTo],
    );
    if (!said.length) return false;
    let counted = false;
    for (const { airingId, channelId, writer, writerHash, words } of said) {
      const option = voteIn(words, options);
      if (option === null || openedAt === null) continue;
      // On the house page whoever pressed and whoever wrote is the same browser; elsewhere all that is known is a name.
      await put(entities, poll, writerHash ?? digestOf(`${airingId} ${writer}`), channelId, option);
      counted = true;
    }
    await changeRow(entities, Poll, { id }, { countedTo: said.at(-1)!.place });
    if (counted) this.changedSoon(showId);
    return said.length === AT_ONCE;
  }

  private async newestOf(showId: string): Promise<Poll | null> {
    return this.rows.findOne({ where: { showId, state: In(['open', 'closed']) }, order: { openedAt: 'DESC' } });
  }

  private async countsOf({ id, options }: Poll): Promise<number[]> {
    const found: { option: number; votes: number }[] = await this.database.query(
      `SELECT "option", COUNT(*) AS votes FROM votes WHERE pollId = ? GROUP BY "option"`,
      [id],
    );
    return options.map((_, at) => found.find(({ option }) => option === at)?.votes ?? 0);
  }

  private changed(showId: string): void {
    this.bus.tell({ kind: 'polls', showId });
  }

  private changedSoon(showId: string): void {
    if (this.telling.has(showId)) return;
    const timer = setTimeout(() => {
      this.telling.delete(showId);
      this.changed(showId);
    }, TELL_EVERY_MS);
    timer.unref();
    this.telling.set(showId, timer);
  }
}

const put = (entities: EntityManager, { id: pollId, showId }: Poll, voter: string, channelId: string, option: number) =>
  entities.upsert(Vote, { pollId, voter, showId, channelId, option }, ['pollId', 'voter']);

function tidy({ question, options }: PollDraft): Pick<Poll, 'question' | 'options'> {
  const asked = { question: oneLine(question), options: options.map(oneLine) };
  if (!asked.question || asked.options.some((option) => !option)) throw new PlainError(400, 'Write what is asked, and each answer.');
  if (new Set(asked.options.map((option) => option.toLowerCase())).size < asked.options.length) throw new PlainError(400, 'Two of the answers are the same.');
  return asked;
}
