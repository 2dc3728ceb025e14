import type { MigrationInterface, QueryRunner } from 'typeorm';

/** For how long whoever wrote a message on a channel writes nothing more there. */
export class Silences1767300000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE messages ADD COLUMN silentUntil integer`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE messages DROP COLUMN silentUntil`);
  }
}
