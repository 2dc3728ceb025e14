import type { MigrationInterface, QueryRunner } from 'typeorm';

/** When somebody who was invited watched a show. */
export class Came1767900000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE invitations ADD COLUMN cameAt integer`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE invitations DROP COLUMN cameAt`);
  }
}
