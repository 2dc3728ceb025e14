import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What was removed and can be put back; and sessions that people can tell apart and end. */
const SESSION_COLUMNS = [
  `id text NOT NULL DEFAULT ''`,
  `openedAt integer NOT NULL DEFAULT 0`,
  `seenAt integer NOT NULL DEFAULT 0`,
  `browser text NOT NULL DEFAULT ''`,
];

export class TakingBack1764600000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(
      `CREATE TABLE removals (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id) ON DELETE CASCADE, kind text NOT NULL, subjectId text NOT NULL,
        title text NOT NULL, until integer NOT NULL, tables text NOT NULL)`,
    );
    await query.query(`CREATE INDEX removals_by_time ON removals (until)`);
    for (const column of SESSION_COLUMNS) await query.query(`ALTER TABLE sessions ADD COLUMN ${column}`);
    await query.query(`UPDATE sessions SET id = lower(hex(randomblob(16))), openedAt = passwordAt, seenAt = passwordAt`);
    await query.query(`CREATE INDEX sessions_by_person ON sessions (personId)`);
    await query.query(`CREATE INDEX sessions_by_end ON sessions (expiresAt)`);
    // A show that was withdrawn everywhere is a draft again; that people were told of it is known from when it was placed.
    await query.query(`UPDATE shows SET placedAt = COALESCE(placedAt, changedAt), state = 'draft' WHERE state = 'withdrawn' AND seriesId IS NOT NULL`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP INDEX sessions_by_end`);
    await query.query(`DROP INDEX sessions_by_person`);
    for (const column of SESSION_COLUMNS) await query.query(`ALTER TABLE sessions DROP COLUMN ${column.split(' ')[0]}`);
    await query.query(`DROP TABLE removals`);
  }
}
