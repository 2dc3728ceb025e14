import type { MigrationInterface, QueryRunner } from 'typeorm';

/** People who are asked to be in a show, each with a pass for that date alone; and what of them is known over shows. */
export class Guests1766500000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE guests (
      id text PRIMARY KEY, showId text NOT NULL REFERENCES shows(id) ON DELETE CASCADE, stationId text NOT NULL, tokenHash text NOT NULL UNIQUE,
      name text NOT NULL, caption text NOT NULL, zone text, email text, answer text NOT NULL, word text NOT NULL,
      invitedAt integer NOT NULL, toldStart integer NOT NULL, tried text, triedAt integer, leftAt integer)`);
    await query.query(`CREATE INDEX guests_of ON guests (showId)`);
    await query.query(`ALTER TABLE contacts ADD COLUMN caption text NOT NULL DEFAULT ''`);
    await query.query(`ALTER TABLE contacts ADD COLUMN zone text`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE contacts DROP COLUMN zone`);
    await query.query(`ALTER TABLE contacts DROP COLUMN caption`);
    await query.query(`DROP TABLE guests`);
  }
}
