import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Who was invited and wants to hear no more of it. */
export class LeftInvitations1768400000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE invitations ADD COLUMN leftAt integer`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE invitations DROP COLUMN leftAt`);
  }
}
