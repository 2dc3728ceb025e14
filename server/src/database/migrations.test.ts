// A station that was kept by an earlier version opens with everything that it had.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { Invitation } from '../invitations/invitation.entities';
import { Show, Template } from '../shows/show.entities';
import { openDatabase } from './database';
import { Beginning1764000000000 } from './migrations/1764000000000-beginning';
import { Planning1764300000000 } from './migrations/1764300000000-planning';
import { Public1764400000000 } from './migrations/1764400000000-public';
import type { Settings } from '../foundation/settings';

const dataDir = mkdtempSync(join(tmpdir(), 'lantern-migrations-'));
afterAll(() => rmSync(dataDir, { recursive: true, force: true }));

/** A row with a value for each column that must have one. */
async function insert(database: DataSource, table: string, known: Record<string, string | number>): Promise<void> {
  const columns: { name: string; type: string; notnull: number; dflt_value: string | null }[] = await database.query(`PRAGMA table_info(${table})`);
  const row = Object.fromEntries(
    columns
      .filter(({ name, notnull, dflt_value }) => name in known || (notnull && dflt_value === null))
      .map(({ name, type }) => [name, known[name] ?? (type === 'text' ? '{}' : 0)]),
  );
  const names = Object.keys(row);
  await database.query(`INSERT INTO ${table} (${names.map((name) => `"${name}"`).join()}) VALUES (${names.map(() => '?').join()})`, Object.values(row));
}

test('shows, pictures, templates and invitations of before are kept, and get what is new', async () => {
  const before = await new DataSource({
    type: 'better-sqlite3',
    database: join(dataDir, 'lantern.sqlite'),
    migrations: [Beginning1764000000000, Planning1764300000000, Public1764400000000],
    migrationsRun: true,
  }).initialize();
  const picture = JSON.stringify({ width: 1600, height: 900, version: 'v1' });
  await insert(before, 'stations', { id: 's', name: 'Alderfell Sky Club', zone: 'Europe/Dublin', slug: 'sky' });
  await insert(before, 'shows', {
    id: 'show',
    stationId: 's',
    slug: 'slug',
    short: 'short',
    title: 'Dusk Report',
    startsAt: 1_800_000_000_000,
    zone: 'UTC',
    thumbnail: picture,
  });
  await insert(before, 'templates', { id: 't', stationId: 's', name: 'Weekly', picture });
  await insert(before, 'invitations', { id: 'i', showId: 'show', name: 'Juno', email: 'juno@people.example', tokenHash: 'x', answer: 'accepted' });
  await before.destroy();

  const after = await openDatabase({ dataDir } as Settings);
  expect(await after.getRepository(Show).findOneByOrFail({ id: 'show' })).toMatchObject({
    title: 'Dusk Report',
    thumbnail: { version: 'v1' },
    ...{ waiting: null, trailer: null, houseReplay: true, posted: {} },
  });
  expect(await after.getRepository(Template).findOneByOrFail({ id: 't' })).toMatchObject({ picture: { version: 'v1' }, waiting: null });
  // Nobody is told of a move that they have known all along.
  expect((await after.getRepository(Invitation).findOneByOrFail({ id: 'i' })).toldStart).toBe(1_800_000_000_000);
  await after.undoLastMigration();
  expect(await after.query(`SELECT title FROM shows`)).toEqual([{ title: 'Dusk Report' }]);
  await after.destroy();
});
