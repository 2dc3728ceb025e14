// Whether something is done because somebody waits for it, or by itself. Whoever would be asked in vain is spared the latter.
import { AsyncLocalStorage } from 'node:async_hooks';

const store = new AsyncLocalStorage<true>();

/** Does `work` as something that nobody waits for. */
export const unasked = <T>(work: () => T): T => store.run(true, work);
export const isUnasked = (): boolean => store.getStore() === true;
