// The thread that measures pictures, so that a show on air never waits for one.
import { parentPort } from 'node:worker_threads';
import { measure, type Measuring } from './measure';

parentPort!.on('message', ({ number, asked }: { number: number; asked: Measuring }) => {
  try {
    parentPort!.postMessage({ number, answer: measure(asked) });
  } catch (error) {
    parentPort!.postMessage({ number, trouble: error instanceof Error ? error.message : String(error) });
  }
});
