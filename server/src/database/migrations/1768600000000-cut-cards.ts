import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How long a title card stands before a cut. */
export class CutCards1768600000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE cuts ADD COLUMN cardMs integer NOT NULL DEFAULT 0`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE cuts DROP COLUMN cardMs`);
  }
}
