import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What happened while a show was on air. */
export class Happenings1766100000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE happenings (
      id integer PRIMARY KEY AUTOINCREMENT, showId text NOT NULL REFERENCES shows(id) ON DELETE CASCADE, at integer NOT NULL, kind text NOT NULL, what text)`);
    await query.query(`CREATE INDEX happenings_of_show ON happenings (showId, at)`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE happenings`);
  }
}
