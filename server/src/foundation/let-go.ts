// Work that nobody waits for. It has a name, and whatever goes wrong in it is logged under that name and counted.
import { Subject } from 'rxjs';

/** What went wrong in work that was let go. `Faults` listens. */
export const failures = new Subject<{ name: string; error: unknown }>();

/** Lets `work` go on by itself. Lint forbids doing so in any other way. */
export function letGo(name: string, work: Promise<unknown>): void {
  work.catch((error: unknown) => failures.next({ name, error }));
}
