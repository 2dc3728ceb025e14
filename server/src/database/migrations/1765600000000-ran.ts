import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Which cues of a show have been begun, and when. */
export class Ran1765600000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE stages ADD COLUMN ran text NOT NULL DEFAULT '[]'`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE stages DROP COLUMN ran`);
  }
}
