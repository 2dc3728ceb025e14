// Writes that belong together, and work that must not overtake itself.
import type { DataSource, EntityManager } from 'typeorm';

/** Work one after the other for each key; different keys do not wait for one another. Nothing is kept of a key that is idle. */
export class TurnByTurn {
  private readonly last = new Map<string, Promise<unknown>>();

  run<T>(key: string, work: () => Promise<T>): Promise<T> {
    const mine = (this.last.get(key) ?? Promise.resolve()).then(work);
    // What went wrong is told to whoever asked for it, and keeps nobody else from their turn.
    const settled = mine.catch(() => undefined);
    this.last.set(key, settled);
    void settled.then(() => {
      if (this.last.get(key) === settled) this.last.delete(key);
    });
    return mine;
  }
}

const turns = new WeakMap<DataSource, TurnByTurn>();

/**
 * Does all of `work` or nothing of it. SQLite has one connection here, so transactions take turns. `work` must wait for nothing but
 * the database, and use only the entity manager that it is given.
 */
export function together<T>(database: DataSource, work: (entities: EntityManager) => Promise<T>): Promise<T> {
  let turn = turns.get(database);
  if (!turn) turns.set(database, (turn = new TurnByTurn()));
  return turn.run('', () => database.transaction(work));
}
