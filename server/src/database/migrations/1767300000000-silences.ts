import type { MigrationInterface, QueryRunner } from 'typeorm';

/** For how long whoever wrote a message on a channel writes nothing more there; and how late a visitor of the house page saw the show as they wrote. */
export class Silences1767300000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    for (const column of ['silentUntil', 'behindMs']) await query.query(`ALTER TABLE messages ADD COLUMN ${column} integer`);
  }

  async down(query: QueryRunner): Promise<void> {
    for (const column of ['silentUntil', 'behindMs']) await query.query(`ALTER TABLE messages DROP COLUMN ${column}`);
  }
}
