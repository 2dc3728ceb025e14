// The air process: stages come in here, and pictures go out from here. It knows no database; what it has to know of shows
// and people it asks the planning server, which may be started anew while shows stay on air.
import 'reflect-metadata';
import { Logger } from '@nestjs/common';
import { constants, setPriority } from 'node:os';
import { StructuredLog } from '../foundation/log';
import { readSettings } from '../foundation/settings';
import { failures } from '../foundation/let-go';
import { openAir } from './open-air';

async function main(): Promise<void> {
  // Whatever is written from now on is for the owner of this process alone.
  process.umask(0o077);
  Logger.overrideLogger(new StructuredLog());
  const log = new Logger('air');
  let faults = 0;
  const note = (name: string, error: unknown) => {
    faults += 1;
    log.error(`${name}: ${error instanceof Error ? error.message : String(error)}`, error instanceof Error ? error.stack : undefined);
  };
  // One fault must not end every show that is on air.
  failures.subscribe(({ name, error }) => note(name, error));
  process.on('unhandledRejection', (error) => note('unhandled', error));
  process.on('uncaughtException', (error) => note('uncaught', error));
  goFirst(log);
  const air = await openAir(readSettings(), () => faults);
  process.send?.({ ready: true });
  let ending = false;
  const end = () => {
    if (ending) return;
    ending = true;
    air.close().then(
      () => process.exit(0),
      () => process.exit(1),
    );
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, end);
  // A parent that is gone has said nothing: whoever started it by hand has no channel to lose.
  process.on('disconnect', end);
}

/** Pictures do not wait: where the system lets it (as a service that may, or as root), this process and its converters come before the others. */
function goFirst(log: Logger): void {
  try {
    setPriority(constants.priority.PRIORITY_ABOVE_NORMAL);
  } catch {
    log.log('runs at the same priority as everything else; the system lets it have no higher one');
  }
}

main().catch((error: NodeJS.ErrnoException & { port?: number; address?: string }) => {
  console.error(error.code === 'EADDRINUSE' && error.port ? `Port ${error.port} is in use. Set LANTERN_AIR_PORT to another number.` : error);
  process.exit(1);
});
