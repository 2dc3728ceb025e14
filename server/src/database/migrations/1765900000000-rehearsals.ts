import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The show that another one rehearses. */
export class Rehearsals1765900000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE shows ADD COLUMN rehearsalOf text`);
    await query.query(`CREATE INDEX shows_rehearsals ON shows (rehearsalOf) WHERE rehearsalOf IS NOT NULL`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DELETE FROM shows WHERE rehearsalOf IS NOT NULL`);
    await query.query(`DROP INDEX shows_rehearsals`);
    await query.query(`ALTER TABLE shows DROP COLUMN rehearsalOf`);
  }
}
