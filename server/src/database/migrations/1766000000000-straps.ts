import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How names and captions are drawn in a look's programme. */
export class Straps1766000000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE looks ADD COLUMN straps text NOT NULL DEFAULT 'edge'`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE looks DROP COLUMN straps`);
  }
}
