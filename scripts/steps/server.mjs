// The product's two processes: what is on air is carried apart, so that the planning server may be started anew beneath it.
import { join } from 'node:path';
import { root } from './places.mjs';
import { startKept } from './processes.mjs';

const program = (...path) => join(root, 'server', 'dist', ...path);

/** Starts both, and starts each again should it die. Answers with what the planning server says of itself. */
export async function startServer(env, output) {
  await startKept('The air process', program('carrier', 'main.js'), env, output);
  return startKept('The planning server', program('main.js'), env, output);
}
