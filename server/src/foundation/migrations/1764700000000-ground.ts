import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Work that outlives a stop of the server. */
export class Ground1764700000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(
      `CREATE TABLE jobs (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id) ON DELETE CASCADE, kind text NOT NULL, subject text NOT NULL,
        dueAt integer NOT NULL, tries integer NOT NULL, trouble text NOT NULL, givenUpAt integer, asked integer NOT NULL)`,
    );
    await query.query(`CREATE UNIQUE INDEX jobs_by_subject ON jobs (kind, subject)`);
    await query.query(`CREATE INDEX jobs_by_time ON jobs (kind, givenUpAt, dueAt)`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE jobs`);
  }
}
