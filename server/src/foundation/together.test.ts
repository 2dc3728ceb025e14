// Transactions and what goes on beside them, on a real database.
import 'reflect-metadata';
import fc from 'fast-check';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DataSource, type EntityManager } from 'typeorm';
import { openDatabase } from '../database/database';
import type { Settings } from './settings';
import { apart, together } from './together';

const SEED = 20261126;
const dataDir = mkdtempSync(join(tmpdir(), 'lantern-together-'));
let database: DataSource;

beforeAll(async () => {
  database = await openDatabase({ dataDir } as Settings);
  await database.query('CREATE TABLE marks (name text PRIMARY KEY, value integer NOT NULL)');
});
afterAll(async () => {
  await database.destroy();
  rmSync(dataDir, { recursive: true, force: true });
});
beforeEach(() => database.query('DELETE FROM marks'));

const write = (name: string, value = 0) => database.query('INSERT INTO marks VALUES (?, ?)', [name, value]);
const names = async () => ((await database.query('SELECT name FROM marks ORDER BY name')) as { name: string }[]).map(({ name }) => name);

test('what is written beside a transaction that fails stays, and nothing of the transaction does', async () => {
  let beside: Promise<unknown> = Promise.resolve();
  const failing = together(database, async (entities) => {
    await entities.query(`INSERT INTO marks VALUES ('within', 0)`);
    beside = apart(() => write('beside'));
    await entities.query(`INSERT INTO marks VALUES ('within too', 0)`);
    throw new Error('taken back');
  });
  await expect(failing).rejects.toThrow('taken back');
  await beside;
  expect(await names()).toEqual(['beside']);
});

test('nobody beside it sees what may still be taken back', async () => {
  let seen: Promise<string[]> = Promise.resolve([]);
  await together(database, async (entities) => {
    await entities.query(`INSERT INTO marks VALUES ('half', 0)`);
    seen = apart(() => names());
    await entities.query(`UPDATE marks SET name = 'whole'`);
  });
  expect(await seen).toEqual(['whole']);
});

test('within a transaction everything belongs to it: other hands on the database, and a transaction within', async () => {
  await together(database, async () => {
    await write('by the other hand');
    await together(database, () => write('within'));
    throw new Error('taken back');
  }).catch(() => undefined);
  expect(await names()).toEqual([]);
});

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

test('what was begun within and goes on afterwards belongs to nobody’s transaction', async () => {
  let later: Promise<unknown> = Promise.resolve();
  await together(database, async () => {
    later = pause(10).then(() => write('later'));
  });
  await together(database, async () => {
    await write('within');
    await pause(30);
    throw new Error('taken back');
  }).catch(() => undefined);
  await later;
  expect(await names()).toEqual(['later']);
});

test('a transaction that waits for something else is taken back, holds nobody up for ever, and writes nothing afterwards', async () => {
  let wake: () => void = () => undefined;
  let late: Promise<unknown> = Promise.resolve();
  const stuck = together(
    database,
    () =>
      (late = (async () => {
        await write('stuck');
        await new Promise<void>((resolve) => (wake = resolve));
        await write('too late');
      })()) as Promise<void>,
    50,
  );
  const beside = write('beside');
  await expect(stuck).rejects.toThrow('waited for something else');
  await beside;
  wake();
  await expect(late).rejects.toThrow('taken back');
  expect(await names()).toEqual(['beside']);
  await together(database, () => write('goes on'));
  expect(await names()).toEqual(['beside', 'goes on']);
});

test(`any mix of transactions that fail or not and of single writes keeps just what was acknowledged (seed ${SEED})`, async () => {
  const one = fc.record({ together: fc.boolean(), writes: fc.integer({ min: 1, max: 4 }), fails: fc.boolean() });
  let run = 0;
  await fc.assert(
    fc.asyncProperty(fc.array(one, { maxLength: 12 }), async (all) => {
      const of = `run ${++run}`;
      const acknowledged = new Set<string>();
      await Promise.all(
        all.map(async (each, at) => {
          const mine = Array.from({ length: each.writes }, (_, n) => `${of} ${at}.${n}`);
          if (each.together) {
            await together(database, async () => {
              for (const name of mine) await write(name);
              if (each.fails) throw new Error('taken back');
            }).then(
              () => mine.forEach((name) => acknowledged.add(name)),
              () => undefined,
            );
          } else
            for (const name of mine) {
              await write(name);
              acknowledged.add(name);
            }
        }),
      );
      expect((await names()).filter((name) => name.startsWith(`${of} `))).toEqual([...acknowledged].sort());
    }),
    { seed: SEED, numRuns: 60 },
  );
});

describe('a disk that is full', () => {
  const full = async (isFull: boolean) => {
    const [{ page_count: pages }] = (await database.query('PRAGMA page_count')) as [{ page_count: number }];
    await database.query(`PRAGMA max_page_count = ${isFull ? pages : 1_000_000}`);
  };
  const large = (name: string) =>
    together(database, async (entities) => {
      await entities.query(`INSERT INTO marks VALUES (?, 0)`, [name]);
      await entities.query(`INSERT INTO marks VALUES (?, 0)`, [name.repeat(300_000)]);
    });
  /** As whoever opens the file after this process has gone sees it. */
  const kept = async () => {
    const other = await new DataSource({ type: 'better-sqlite3', database: join(dataDir, 'lantern.sqlite') }).initialize();
    try {
      return ((await other.query('SELECT name FROM marks ORDER BY name')) as { name: string }[]).map(({ name }) => name);
    } finally {
      await other.destroy();
    }
  };
  afterEach(() => full(false));

  test('takes back what belongs together, however often, and what is written once there is room is kept', async () => {
    await full(true);
    for (const name of ['a', 'b', 'c']) await expect(large(name)).rejects.toThrow('full');
    await full(false);
    expect(await names()).toEqual([]);
    const refused = together(database, async () => {
      await write('refused');
      throw new Error('refused');
    });
    await expect(refused).rejects.toThrow('refused');
    await write('alone');
    await together(database, () => write('together'));
    expect(await kept()).toEqual(['alone', 'together']);
  });

  test.each([
    [
      'a transaction within',
      (entities: EntityManager, name: string) => entities.transaction((inner) => inner.query(`INSERT INTO marks VALUES (?, 0)`, [name])),
    ],
    ['a write', (entities: EntityManager, name: string) => entities.query(`INSERT INTO marks VALUES (?, 0)`, [name])],
  ])('takes back all that is around %s, even where somebody thinks nothing of its failure', async (_, fail) => {
    await full(true);
    const around = together(database, async (entities) => {
      await entities.query(`INSERT INTO marks VALUES ('around', 0)`);
      await fail(entities, 'x'.repeat(300_000)).catch(() => undefined);
      await entities.query(`INSERT INTO marks VALUES ('after', 0)`);
    });
    await expect(around).rejects.toThrow();
    await full(false);
    await write('later');
    expect(await kept()).toEqual(['later']);
  });
});
