// Hands what is to be measured of pictures to a thread of its own, and the answers back.
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { measure, type Measured, type Measuring } from './measure';

/** Compiled code alone can be given to a thread; where there is none yet, this thread measures. */
const PROGRAM = join(__dirname, 'measure.worker.js');

interface Waiting {
  done: (answer: never) => void;
  failed: (error: Error) => void;
}

@Injectable()
export class PictureMeasures implements OnApplicationShutdown {
  private worker: Worker | null = null;
  private number = 0;
  private readonly waiting = new Map<number, Waiting>();

  async onApplicationShutdown(): Promise<void> {
    await this.worker?.terminate();
  }

  ask<Kind extends Measuring['kind']>(asked: Extract<Measuring, { kind: Kind }>): Promise<Measured[Kind]> {
    if (!existsSync(PROGRAM)) return Promise.resolve(measure<Kind>(asked));
    return new Promise((done, failed) => {
      const number = this.number++;
      this.waiting.set(number, { done, failed });
      this.thread().postMessage({ number, asked });
    });
  }

  private thread(): Worker {
    if (this.worker) return this.worker;
    const worker = new Worker(PROGRAM);
    worker.unref(); // It keeps no server from ending.
    worker.on('message', ({ number, answer, trouble }: { number: number; answer: never; trouble?: string }) => {
      const waiting = this.waiting.get(number);
      this.waiting.delete(number);
      if (trouble === undefined) waiting?.done(answer);
      else waiting?.failed(new Error(trouble));
    });
    const gone = (error: Error) => {
      if (this.worker === worker) this.worker = null;
      for (const { failed } of this.waiting.values()) failed(error);
      this.waiting.clear();
    };
    worker.on('error', gone);
    worker.on('exit', () => gone(new Error('the thread that measures pictures has ended')));
    this.worker = worker;
    return worker;
  }
}
