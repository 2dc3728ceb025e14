// Work that nobody waits for, kept until it is done: endings, recordings, posts. One worker; each kind has places of its
// own, so that one that hangs or throws holds up no other.
import type { JobView } from '@lantern/contract';
import { backoffMs } from '@lantern/core';
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { DataSource, In, IsNull, LessThanOrEqual, Not, type EntityManager } from 'typeorm';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { letGo } from '../foundation/let-go';
import { RegularWork } from '../foundation/regular-work';
import { apart } from '../foundation/together';
import { unasked } from '../foundation/unasked';
import { Job } from './job.entities';

const LOOK_EVERY_MS = 1_000;
const MOST_SHOWN = 100;

/** It could not be done now: `message` says why, in words for the owner. */
export class NotDone extends Error {
  constructor(
    words: string,
    /** Whether trying again is of any use. */
    readonly hopeless = false,
    /** How long whoever was asked wants to be left alone; null: they did not say. */
    readonly waitMs: number | null = null,
  ) {
    super(words);
  }
}

export interface JobKind {
  kind: string;
  /** How many of them may be at work at the same time. */
  atOnce: number;
  /** After so many tries in vain it is given up, and waits for somebody. */
  triesMax: number;
  /** The wait after so many tries; otherwise doubling, spread waits. */
  waitMs?: (tries: number) => number;
  /** Does it. Called again after a kill in the middle, so doing it twice must do no harm. */
  run: (subject: string) => Promise<void>;
  /** It has been given up for now. */
  gaveUp?: (subject: string, words: string) => Promise<void>;
  /** What is done, for the owner: `End “Dusk Report” on Townfold`. */
  words: (subject: string) => Promise<string>;
}

@Injectable()
export class JobsService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('jobs');
  private readonly kinds = new Map<string, JobKind>();
  /** By kind, those at work. */
  private readonly atWork = new Map<string, Map<string, Promise<void>>>();
  private readonly work = new RegularWork('jobs', LOOK_EVERY_MS, () => this.look());
  /** Identifiers of those that somebody has pressed to try now. */
  private readonly pressed = new Set<string>();
  private stopped = false;

  constructor(
    private readonly database: DataSource,
    private readonly bus: Bus,
    private readonly clock: Clock,
  ) {}

  /** Says how jobs of a kind are done. Once for each kind, before the application has come up. */
  takeUp(kind: JobKind): void {
    if (this.kinds.has(kind.kind)) throw new Error(`Two services do jobs of the kind “${kind.kind}”.`);
    this.kinds.set(kind.kind, kind);
    this.atWork.set(kind.kind, new Map());
  }

  onApplicationBootstrap(): void {
    this.work.start();
  }

  async onApplicationShutdown(): Promise<void> {
    this.stopped = true;
    this.work.stop();
    await this.work.now();
  }

  /**
   * Has something done, now or at `dueAt`. What is waiting for the same subject already is brought forward, with all its tries before
   * it. With `entities` it is kept together with what else is written there, or not at all.
   */
  async add(
    stationId: string,
    kind: string,
    subject: string,
    dueAt: number = this.clock.now(),
    entities: EntityManager = this.database.manager,
  ): Promise<void> {
    await entities.query(
      `INSERT INTO jobs (id, stationId, kind, subject, dueAt, tries, trouble, givenUpAt, asked) VALUES (?, ?, ?, ?, ?, 0, '', NULL, 0)
       ON CONFLICT (kind, subject) DO UPDATE SET dueAt = MIN(dueAt, excluded.dueAt), tries = 0, trouble = '', givenUpAt = NULL, asked = asked + 1`,
      [randomUUID(), stationId, kind, subject, dueAt],
    );
    if (dueAt <= this.clock.now()) this.soon();
  }

  /** Has something done that nobody is doing yet: what waits already, or was given up, is left as it is. */
  async need(stationId: string, kind: string, subject: string, dueAt: number = this.clock.now()): Promise<void> {
    await this.database.query(
      `INSERT INTO jobs (id, stationId, kind, subject, dueAt, tries, trouble, givenUpAt, asked) VALUES (?, ?, ?, ?, ?, 0, '', NULL, 0)
       ON CONFLICT (kind, subject) DO NOTHING`,
      [randomUUID(), stationId, kind, subject, dueAt],
    );
  }

  /** The same for each row of `from`, a query for `stationId` and `id`, which is the subject. */
  async needEach(kind: string, from: string, parameters: readonly unknown[] = []): Promise<void> {
    await this.database.query(
      `INSERT INTO jobs (id, stationId, kind, subject, dueAt, tries, trouble, givenUpAt, asked)
       SELECT lower(hex(randomblob(16))), stationId, ?, id, ?, 0, '', NULL, 0 FROM (${from}) WHERE true ON CONFLICT (kind, subject) DO NOTHING`,
      [kind, this.clock.now(), ...parameters],
    );
  }

  /** How a job stands; null: it is done, or nobody asked for it. */
  find(kind: string, subject: string): Promise<Job | null> {
    return this.database.getRepository(Job).findOneBy({ kind, subject });
  }

  /** What has not been done at the first try, for whoever runs the station. */
  async inTrouble(stationId: string): Promise<JobView[]> {
    const rows = await this.database.getRepository(Job).find({ where: { stationId, trouble: Not('') }, order: { dueAt: 'ASC' }, take: MOST_SHOWN });
    return Promise.all(
      rows.map(async ({ id, kind, subject, trouble, tries, givenUpAt, dueAt }) => {
        const words = await (this.kinds.get(kind)?.words(subject) ?? Promise.resolve(kind)).catch(() => kind);
        return { id, words, trouble, tries, nextTryAt: givenUpAt === null ? dueAt : null };
      }),
    );
  }

  /** Tries one again at once, with all its tries before it. */
  async tryNow(stationId: string, id: string): Promise<void> {
    const { affected } = await this.database
      .getRepository(Job)
      .update({ id, stationId }, { dueAt: this.clock.now(), tries: 0, givenUpAt: null, asked: () => 'asked + 1' });
    if (!affected) throw new PlainError(409, 'This has been done meanwhile.');
    this.pressed.add(id);
    this.soon();
  }

  /** Leaves one undone for good. */
  async giveUp(stationId: string, id: string): Promise<void> {
    const job = await this.database.getRepository(Job).findOneBy({ id, stationId });
    if (!job) throw new PlainError(409, 'This has been done meanwhile.');
    await this.database.getRepository(Job).delete({ id });
    this.bus.tell({ kind: 'jobs', stationId });
  }

  /** Does what is due and waits until that is done, or has been tried. */
  async settled(kind: string): Promise<void> {
    for (;;) {
      await this.work.now();
      const runs = [...(this.atWork.get(kind)?.values() ?? [])];
      await Promise.all(runs);
      // What was at work as that looked may have ended before it was counted here, with others still waiting for its place.
      if (this.stopped || (!runs.length && !(await this.isDue(kind)))) return;
    }
  }

  private isDue(kind: string): Promise<boolean> {
    return this.database.getRepository(Job).existsBy({ kind, givenUpAt: IsNull(), dueAt: LessThanOrEqual(this.clock.now()) });
  }

  private soon(): void {
    // Not within the transaction that asked for it, if any did.
    apart(() =>
      setImmediate(() => {
        if (!this.stopped) letGo('jobs', this.work.now());
      }),
    );
  }

  private async look(): Promise<void> {
    if (this.stopped) return;
    for (const kind of this.kinds.values()) {
      const atWork = this.atWork.get(kind.kind)!;
      const free = kind.atOnce - atWork.size;
      if (free <= 0) continue;
      const due = await this.database.getRepository(Job).find({
        where: { kind: kind.kind, givenUpAt: IsNull(), dueAt: LessThanOrEqual(this.clock.now()), ...(atWork.size && { id: Not(In([...atWork.keys()])) }) },
        order: { dueAt: 'ASC' },
        take: free,
      });
      for (const job of due) {
        const run = this.doOne(kind, job).finally(() => {
          atWork.delete(job.id);
          // A place has become free for the next.
          this.soon();
        });
        atWork.set(job.id, run);
        letGo(`job ${kind.kind}`, run);
      }
    }
  }

  private async doOne(kind: JobKind, job: Job): Promise<void> {
    const jobs = this.database.getRepository(Job);
    const { id, subject, asked } = job;
    try {
      // Where a person has pressed, whoever has been silent is asked all the same.
      await (this.pressed.delete(id) ? kind.run(subject) : unasked(() => kind.run(subject)));
      await jobs.delete({ id, asked });
      if (job.trouble) this.bus.tell({ kind: 'jobs', stationId: job.stationId });
    } catch (error) {
      if (this.stopped) return;
      const known = error instanceof NotDone || error instanceof PlainError;
      if (!known) this.log.error(error instanceof Error ? error.message : String(error), error instanceof Error ? error.stack : undefined);
      const words = known ? error.message : 'Something went wrong here.';
      const tries = job.tries + 1;
      const over = tries >= kind.triesMax || (error instanceof NotDone && error.hopeless);
      const waitMs = (error instanceof NotDone ? error.waitMs : null) ?? kind.waitMs?.(tries) ?? backoffMs(tries, Math.random());
      this.log.warn(`${kind.kind} ${subject}: ${words}${over ? ' It is given up.' : ''}`);
      const { affected } = await jobs.update(
        { id, asked },
        { tries, trouble: words.slice(0, 300), dueAt: this.clock.now() + waitMs, givenUpAt: over ? this.clock.now() : null },
      );
      this.bus.tell({ kind: 'jobs', stationId: job.stationId });
      if (affected && over) await kind.gaveUp?.(subject, words);
    }
  }
}
