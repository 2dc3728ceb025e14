// A station that was kept by an earlier version opens with everything that it had.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DataSource, type MigrationInterface } from 'typeorm';
import { Invitation } from '../invitations/invitation.entities';
import { Show, Template } from '../shows/show.entities';
import { openDatabase } from './database';
import { Beginning1764000000000 } from './migrations/1764000000000-beginning';
import { Planning1764300000000 } from './migrations/1764300000000-planning';
import { Public1764400000000 } from './migrations/1764400000000-public';
import { Artwork1764500000000 } from './migrations/1764500000000-artwork';
import { TakingBack1764600000000 } from './migrations/1764600000000-taking-back';
import { Ground1764700000000 } from './migrations/1764700000000-ground';
import { RecordingRows } from '../recording/recording-rows';
import { StageRows } from '../air/stage-rows';
import type { Settings } from '../foundation/settings';

let dataDir: string;
beforeEach(() => (dataDir = mkdtempSync(join(tmpdir(), 'lantern-migrations-'))));
afterEach(() => rmSync(dataDir, { recursive: true, force: true }));

const before = (...migrations: (new () => MigrationInterface)[]) =>
  new DataSource({ type: 'better-sqlite3', database: join(dataDir, 'lantern.sqlite'), migrations, migrationsRun: true }).initialize();

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
  const old = await before(Beginning1764000000000, Planning1764300000000, Public1764400000000);
  const picture = JSON.stringify({ width: 1600, height: 900, version: 'v1' });
  await insert(old, 'stations', { id: 's', name: 'Alderfell Sky Club', zone: 'Europe/Dublin', slug: 'sky' });
  await insert(old, 'shows', {
    id: 'show',
    stationId: 's',
    slug: 'slug',
    short: 'short',
    title: 'Dusk Report',
    startsAt: 1_800_000_000_000,
    zone: 'UTC',
    thumbnail: picture,
  });
  await insert(old, 'templates', { id: 't', stationId: 's', name: 'Weekly', picture });
  await insert(old, 'invitations', { id: 'i', showId: 'show', name: 'Juno', email: 'juno@people.example', tokenHash: 'x', answer: 'accepted' });
  await old.destroy();

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

test('a recording and a stage of before are found again, also of a show that is removed and comes back', async () => {
  const old = await before(
    ...[Beginning1764000000000, Planning1764300000000, Public1764400000000, Artwork1764500000000, TakingBack1764600000000, Ground1764700000000],
  );
  await insert(old, 'stations', { id: 's', name: 'Alderfell Sky Club', zone: 'Europe/Dublin', slug: 'sky' });
  const facts = { stationId: 's', title: 'Dusk Report', zone: 'UTC', state: 'over', programme: 'host', recording: 'ready', recordingMs: 2_400_000 };
  await insert(old, 'shows', { ...facts, id: 'kept', slug: 'kept', short: 'kept' });
  await insert(old, 'shows', { ...facts, id: 'quiet', slug: 'quiet', short: 'quiet', programme: 'holding', recording: 'none', recordingMs: 0 });
  await insert(old, 'shows', { ...facts, id: 'removed', slug: 'removed', short: 'removed' });
  const tables = [['shows', await old.query(`SELECT * FROM shows WHERE id = 'removed'`)]];
  await insert(old, 'removals', { id: 'r', stationId: 's', kind: 'show', subjectId: 'removed', title: 'x', until: 1, tables: JSON.stringify(tables) });
  await old.query(`DELETE FROM shows WHERE id = 'removed'`);
  await old.destroy();

  const after = await openDatabase({ dataDir } as Settings);
  const [recordings, stages] = [new RecordingRows(after), new StageRows(after)];
  expect([await recordings.of('kept'), (await stages.of('kept')).programme]).toEqual([{ state: 'ready', lengthMs: 2_400_000, parts: null }, 'host']);
  expect([await recordings.of('quiet'), (await stages.of('quiet')).programme]).toEqual([{ state: 'none', lengthMs: 0, parts: null }, 'holding']);
  const [removal] = (await after.query('SELECT tables FROM removals')) as [{ tables: string }];
  for (const [table, rows] of JSON.parse(removal.tables) as [string, Record<string, unknown>[]][])
    for (const row of rows)
      await after.query(
        `INSERT INTO ${table} (${Object.keys(row).join()}) VALUES (${Object.keys(row)
          .map(() => '?')
          .join()})`,
        Object.values(row),
      );
  expect([await recordings.of('removed'), (await stages.of('removed')).programme]).toEqual([{ state: 'ready', lengthMs: 2_400_000, parts: null }, 'host']);
  for (let undone = 0; undone < 40; undone++) await after.undoLastMigration();
  expect(await after.query(`SELECT recording, recordingMs, programme FROM shows WHERE id = 'kept'`)).toEqual([
    { recording: 'ready', recordingMs: 2_400_000, programme: 'host' },
  ]);
  await after.destroy();
});
