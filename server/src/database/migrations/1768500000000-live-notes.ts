import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What is written down while a show is on. */
export class LiveNotes1768500000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE live_notes (id text PRIMARY KEY, showId text NOT NULL REFERENCES shows(id) ON DELETE CASCADE, begunAt integer NOT NULL,
      at integer NOT NULL, "by" text NOT NULL, words text NOT NULL)`);
    await query.query(`CREATE INDEX live_notes_of ON live_notes (showId, begunAt)`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE live_notes`);
  }
}
