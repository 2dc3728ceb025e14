import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The own sound of guests: whether it is wanted, and what each has said to it. */
export class OwnSounds1768700000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE shows ADD COLUMN ownSounds boolean NOT NULL DEFAULT 0`);
    await query.query(`ALTER TABLE guests ADD COLUMN ownSound text NOT NULL DEFAULT 'unasked'`);
    for (const table of ['series', 'templates']) await query.query(`UPDATE ${table} SET pattern = json_set(pattern, '$.ownSounds', json('false'))`);
  }

  async down(query: QueryRunner): Promise<void> {
    for (const table of ['series', 'templates']) await query.query(`UPDATE ${table} SET pattern = json_remove(pattern, '$.ownSounds')`);
    await query.query(`ALTER TABLE guests DROP COLUMN ownSound`);
    await query.query(`ALTER TABLE shows DROP COLUMN ownSounds`);
  }
}
