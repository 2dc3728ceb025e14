// Writes that belong together, and work that must not overtake itself.
import { AsyncLocalStorage } from 'node:async_hooks';
import type { DataSource, EntityManager, EntityTarget, FindOptionsWhere, ObjectLiteral } from 'typeorm';
import type { QueryDeepPartialEntity } from 'typeorm/query-builder/QueryPartialEntity';
import { letGo } from './let-go';

/** Work one after the other for each key; different keys do not wait for one another. Nothing is kept of a key that is idle. */
export class TurnByTurn {
  private readonly last = new Map<string, Promise<unknown>>();

  run<T>(key: string, work: () => Promise<T>): Promise<T> {
    const mine = (this.last.get(key) ?? Promise.resolve()).then(work);
    // What went wrong is told to whoever asked for it, and keeps nobody else from their turn.
    const settled = mine.catch(() => undefined);
    this.last.set(key, settled);
    letGo(
      'taking turns',
      settled.then(() => {
        if (this.last.get(key) === settled) this.last.delete(key);
      }),
    );
    return mine;
  }
}

/** A transaction that is going on: what is asked within it belongs to it. */
interface Transaction {
  database: DataSource;
  entities: EntityManager;
  /** `failed`: nothing that was begun within it may be written any more. */
  over: boolean | 'failed';
}

/** A transaction that takes so long waits for something else than the database, and everybody else waits for it. */
const MOST_MS = 10_000;

const within = new AsyncLocalStorage<Transaction>();
const turns = new WeakMap<DataSource, TurnByTurn>();
/** The end of the transaction that is going on. */
const ends = new WeakMap<DataSource, Promise<void>>();

function transactionOf(database: DataSource): Transaction | null {
  const current = within.getStore();
  return current?.database === database && !current.over ? current : null;
}

/**
 * Does all of `work` or nothing of it. SQLite has one connection here, so transactions take turns, and whatever else asks the database
 * meanwhile waits for the end of the one that is going on (see `keepApart`): it sees nothing that may be taken back yet, and is not taken
 * back with it. `work` must wait for nothing but the database. Called within `work`, it belongs to the transaction that is going on.
 */
export function together<T>(database: DataSource, work: (entities: EntityManager) => Promise<T>, mostMs = MOST_MS): Promise<T> {
  const current = transactionOf(database);
  if (current) return work(current.entities);
  let turn = turns.get(database);
  if (!turn) turns.set(database, (turn = new TurnByTurn()));
  return turn.run('', async () => {
    const transaction: Transaction = { database, entities: database.manager, over: false };
    let end: () => void = () => undefined;
    ends.set(database, new Promise((resolve) => (end = resolve)));
    try {
      return await within.run(transaction, () =>
        database.transaction((entities) => {
          transaction.entities = entities;
          return atMost(mostMs, work(entities), transaction);
        }),
      );
    } finally {
      transaction.over ||= true;
      ends.delete(database);
      end();
    }
  });
}

async function atMost<T>(mostMs: number, work: Promise<T>, transaction: Transaction): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, give) => {
    timer = setTimeout(() => {
      transaction.over = 'failed';
      give(new Error(`A transaction waited for something else than the database for ${mostMs / 1000} s. It is taken back.`));
    }, mostMs);
  });
  try {
    return await Promise.race([work, late]);
  } finally {
    clearTimeout(timer);
  }
}

/** Has all that belongs to no transaction wait until the one that is going on has ended. Once for each database, when it has been opened. */
export function keepApart(database: DataSource): DataSource {
  const runner = database.createQueryRunner();
  const ask = runner.query.bind(runner) as (...asked: unknown[]) => Promise<unknown>;
  runner.query = (async (...asked: unknown[]) => {
    const own = within.getStore();
    if (own?.database === database && own.over === 'failed' && !/^ROLLBACK/.test(String(asked[0])))
      throw new Error('This belongs to a transaction that was taken back.');
    for (let end = ends.get(database); end && own?.over !== 'failed' && !transactionOf(database); end = ends.get(database)) await end;
    try {
      return await ask(...asked);
    } catch (error) {
      noteTakenBack(database);
      throw error;
    }
  }) as typeof runner.query;
  const takeBack = runner.rollbackTransaction.bind(runner);
  runner.rollbackTransaction = async () => {
    if (connectionOf(database).inTransaction) return takeBack();
    // The library would count it as open for ever, begin each one after it within that, and never end what it began: nothing would be kept any more.
    Object.assign(runner, { isTransactionActive: false, transactionDepth: 0 });
  };
  return database;
}

/** SQLite may take a whole transaction back by itself, as on a full disk (sqlite.org/lang_transaction.html, section 3): nothing more is written into it then. */
function noteTakenBack(database: DataSource): void {
  const current = transactionOf(database);
  if (current && !connectionOf(database).inTransaction) current.over = 'failed';
}

/** What the library drives SQLite by. */
const connectionOf = ({ driver }: DataSource): { readonly inTransaction: boolean } =>
  (driver as unknown as { databaseConnection: { readonly inTransaction: boolean } }).databaseConnection;

/** Does `work` as if it had been begun by nobody, so that it belongs to no transaction. */
export const apart = <T>(work: () => T): T => within.exit(work);

/** A new row with all its columns. */
export async function addRow<Row extends ObjectLiteral>(entities: EntityManager, table: EntityTarget<Row>, row: Row): Promise<Row> {
  // A copy: the library writes what it made into what it is given.
  await entities.insert(table, { ...row } as QueryDeepPartialEntity<Row>);
  return row;
}

/** Writes just these columns: what others wrote into the rest meanwhile stays as they wrote it. Answers with how many rows there were. */
export async function changeRow<Row extends ObjectLiteral>(
  entities: EntityManager,
  table: EntityTarget<Row>,
  where: NoInfer<FindOptionsWhere<Row>>,
  columns: NoInfer<Partial<Row>>,
): Promise<number> {
  return (await entities.update(table, where, columns as QueryDeepPartialEntity<Row>)).affected ?? 0;
}
