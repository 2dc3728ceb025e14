import type { MigrationInterface, QueryRunner } from 'typeorm';

/** When a show was drafted: shows of before count as long planned. */
export class Desk1764900000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE shows ADD COLUMN madeAt integer NOT NULL DEFAULT 0`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE shows DROP COLUMN madeAt`);
  }
}
