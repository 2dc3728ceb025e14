// How long a server stands still while something is done to it.
import { Worker } from 'node:worker_threads';

/** Asks from a thread of its own: what this one does to send its load must not be taken for the server's waiting. */
const WATCH = `
const { parentPort, workerData } = require('node:worker_threads');
let slowest = 0;
let over = false;
parentPort.once('message', () => (over = true));
(async () => {
  await fetch(workerData);
  parentPort.postMessage('ready');
  while (!over) {
    const asked = performance.now();
    await fetch(workerData);
    slowest = Math.max(slowest, performance.now() - asked);
    await new Promise((next) => setTimeout(next, 5));
  }
  parentPort.postMessage(slowest);
})();
`;

/** The longest that `url` took to answer while `work` was done, in ms, and how long the work took, in s. */
export async function standStill<T>(url: string, work: () => Promise<T>): Promise<{ slowestMs: number; tookS: number; answer: T }> {
  const watch = new Worker(WATCH, { eval: true, workerData: url });
  await new Promise((ready) => watch.once('message', ready));
  const began = performance.now();
  const answer = await work();
  const tookS = (performance.now() - began) / 1_000;
  await new Promise((done) => setTimeout(done, 100));
  const slowestMs = await new Promise<number>((told) => {
    watch.once('message', told);
    watch.postMessage('stop');
  });
  await watch.terminate();
  return { slowestMs, tookS, answer };
}
