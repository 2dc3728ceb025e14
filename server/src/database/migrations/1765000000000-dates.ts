import type { MigrationInterface, QueryRunner } from 'typeorm';

/** In which order a station writes its dates. */
export class Dates1765000000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE stations ADD COLUMN dateOrder text NOT NULL DEFAULT 'day first'`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE stations DROP COLUMN dateOrder`);
  }
}
