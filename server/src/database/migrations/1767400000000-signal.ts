import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How shows went out, as it was measured where they were made. */
export class Signal1767400000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE signal_samples (id integer PRIMARY KEY AUTOINCREMENT, showId text NOT NULL REFERENCES shows(id) ON DELETE CASCADE,
      at integer NOT NULL, pictures integer, kbps integer)`);
    await query.query(`CREATE INDEX signal_of ON signal_samples (showId, at)`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE signal_samples`);
  }
}
