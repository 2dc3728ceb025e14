// Long-running processes of a script: started, waited for, and all ended with the script.
import { fork } from 'node:child_process';
import { createServer } from 'node:net';

const PATIENCE_MS = 8_000;
/** Dies more often within a while than this, and it is not started again. */
const FAILURES_MOST = 5;
const STEADY_MS = 60_000;
const AGAIN_AFTER_MS = 1_000;
const children = new Set();
let ending = false;

/** Says in one sentence which port is taken and which setting moves it, and ends the script. */
export async function demandFreePorts(ports) {
  for (const { port, setting } of ports) {
    const free = await new Promise((resolve) => {
      const probe = createServer();
      probe.once('error', () => resolve(false)).listen(Number(port), '127.0.0.1', () => probe.close(() => resolve(true)));
    });
    if (!free) {
      console.error(`Port ${port} is in use: end what holds it, or set ${setting} to another number.`);
      process.exit(1);
    }
  }
}

/** Starts a Node program and waits until it says that it is ready. Ends the script if it ends. */
export function startProcess(name, program, env, output = 'inherit') {
  return run(program, env, output, (code) => {
    console.error(`${name} has stopped.`);
    void endAll(code || 1);
  });
}

/** The same for one that is started again should it die; the script ends if it cannot be kept alive. */
export function startKept(name, program, env, output = 'inherit') {
  let startedAt = Date.now();
  let failures = 0;
  let up = false;
  const again = (code) => {
    failures = Date.now() - startedAt > STEADY_MS ? 1 : failures + 1;
    // One that never came up says why itself, and would say it again and again.
    if (!up || failures > FAILURES_MOST) {
      console.error(`${name} has stopped.`);
      return void endAll(code || 1);
    }
    console.error(`${name} has stopped and is started again.`);
    setTimeout(
      () => {
        startedAt = Date.now();
        if (!ending) void run(program, env, output, again);
      },
      AGAIN_AFTER_MS * (failures - 1),
    );
  };
  return run(program, env, output, again).then((ready) => {
    up = true;
    return ready;
  });
}

function run(program, env, output, onGone) {
  const child = fork(program, [], { env: { ...process.env, ...env }, stdio: ['ignore', output, output, 'ipc'] });
  children.add(child);
  return new Promise((ready) => {
    child.on('message', (message) => (message === 'ready' || message?.ready) && ready({ child, ...message }));
    child.on('exit', (code) => {
      children.delete(child);
      if (!ending) onGone(code);
    });
  });
}

export async function endAll(code = 0) {
  if (ending) return;
  ending = true;
  const gone = [...children].map((child) => new Promise((done) => child.once('exit', done)));
  for (const child of children) child.kill('SIGTERM');
  const timer = setTimeout(() => children.forEach((child) => child.kill('SIGKILL')), PATIENCE_MS);
  await Promise.all(gone);
  clearTimeout(timer);
  process.exit(code);
}

for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void endAll(0));
