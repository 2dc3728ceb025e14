import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How many wrote, asked and came, kept beyond what they wrote. */
export class Counts1768100000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE past_figures ADD COLUMN counts text`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE past_figures DROP COLUMN counts`);
  }
}
