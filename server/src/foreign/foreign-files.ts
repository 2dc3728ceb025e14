// Reads files of strangers in a process of their own, one at a time, with a limit of time and memory. What is beyond
// the limits is killed, and nothing else notices: the server's own threads never decode what somebody sent.
import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { fork, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { PlainError } from '../foundation/errors';
import { residentBytes, workedMs } from '../foundation/process-use';
import { TurnByTurn } from '../foundation/together';
import { limitOf, type Job } from './jobs';
import { letGo } from '../foundation/let-go';

/** Compiled code alone can be run by a process of its own. */
const PROGRAM = [join(__dirname, 'child.js'), join(__dirname, '../../dist/foreign/child.js')];
const LOOK_EVERY_MS = 50;
const MOST_WAITING = 20;
/** A process that has nothing to do is let go after this. */
const IDLE_MS = 60_000;
/** Limits are of work done; on a machine that is busy otherwise a file may take so many times as long. */
const BUSY_MACHINE = 6;
const COMES_UP_MS = 30_000;

type Answer = { number: number; answer?: unknown; refused?: { status: number; words: string }; trouble?: string };

@Injectable()
export class ForeignFiles implements OnApplicationShutdown {
  private readonly log = new Logger('foreign files');
  private readonly turns = new TurnByTurn();
  private child: ChildProcess | null = null;
  private waiting = 0;
  private number = 0;
  private idle: NodeJS.Timeout | null = null;

  onApplicationShutdown(): void {
    this.letGo();
  }

  /** Does one job. Throws PlainError with what is wrong with the file, also where reading it takes more than any such file should. */
  async ask<T>(job: Job): Promise<T> {
    if (this.waiting >= MOST_WAITING) throw new PlainError(503, 'Other files are being read just now. Try again in a moment.');
    this.waiting += 1;
    try {
      return await this.turns.run('', () => this.alone<T>(job));
    } finally {
      this.waiting -= 1;
    }
  }

  private async alone<T>(job: Job): Promise<T> {
    const { ms, bytes, what } = limitOf(job);
    const child = await this.process();
    const number = this.number++;
    const workedBefore = await workedMs(child.pid);
    const tooMuch = (of: string) => new PlainError(422, `${what} takes more ${of} to read than any should. Export it again from where it came, smaller.`);
    return new Promise<T>((done, failed) => {
      let ended = false;
      const end = (settle: () => void, kill = false) => {
        if (ended) return;
        ended = true;
        clearTimeout(timer);
        clearInterval(look);
        child.off('message', hear);
        child.off('exit', gone);
        if (kill) this.letGo();
        else this.rest();
        settle();
      };
      const hear = ({ number: of, answer, refused, trouble }: Answer) => {
        if (of !== number) return;
        if (refused) return end(() => failed(new PlainError(refused.status, refused.words)));
        if (trouble !== undefined) return end(() => failed(new Error(trouble)));
        end(() => done(answer as T));
      };
      const gone = () => end(() => failed(tooMuch('memory')), true);
      const stop = (of: 'time' | 'memory', at: string) => {
        if (ended) return;
        this.log.warn(`${job.kind}: killed at ${at}`);
        end(() => failed(tooMuch(of)), true);
      };
      const timer = setTimeout(() => stop('time', `${ms * BUSY_MACHINE} ms`), workedBefore === null ? ms : ms * BUSY_MACHINE);
      const look = setInterval(() => {
        letGo(
          'watching the reader',
          Promise.all([residentBytes(child.pid), workedMs(child.pid)]).then(([resident, worked]) => {
            if (resident > bytes) stop('memory', `${Math.round(resident / 1e6)} MB`);
            if (worked !== null && worked - (workedBefore ?? 0) > ms) stop('time', `${ms} ms of work`);
          }),
        );
      }, LOOK_EVERY_MS);
      child.on('message', hear);
      child.once('exit', gone);
      child.send({ number, job }, (error) => {
        if (error) end(() => failed(new Error('the process that reads files could not be reached')), true);
      });
    });
  }

  /** The process that reads, come up and ready. */
  private async process(): Promise<ChildProcess> {
    if (this.idle) clearTimeout(this.idle);
    this.idle = null;
    if (this.child) return this.child;
    const program = PROGRAM.find((path) => existsSync(path));
    if (!program) throw new Error('the program that reads files of strangers is not built: run npm run build');
    const child = fork(program, [], {
      serialization: 'advanced',
      execArgv: ['--max-old-space-size=512'],
      // It needs none of what the server was told in secret.
      env: { PATH: process.env.PATH, LANTERN_LOG: 'silent' },
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    child.unref();
    child.channel?.unref();
    child.on('error', (error) => this.log.warn(error.message));
    child.once('exit', () => {
      if (this.child === child) this.child = null;
    });
    this.child = child;
    await new Promise<void>((ready, failed) => {
      const timer = setTimeout(() => failed(new Error('the process that reads files did not come up')), COMES_UP_MS);
      const settle = (then: () => void) => () => {
        clearTimeout(timer);
        then();
      };
      child.once('message', settle(ready));
      child.once(
        'exit',
        settle(() => failed(new Error('the process that reads files ended at once'))),
      );
    }).catch((error: unknown) => {
      this.letGo();
      throw error;
    });
    return child;
  }

  private rest(): void {
    this.idle = setTimeout(() => this.letGo(), IDLE_MS);
    this.idle.unref();
  }

  private letGo(): void {
    this.child?.kill('SIGKILL');
    this.child = null;
  }
}
