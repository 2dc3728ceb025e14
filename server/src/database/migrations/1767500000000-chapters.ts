import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Which of a programme stands where in its recording: for chapters. */
export class Chapters1767500000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE recordings ADD COLUMN parts text`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE recordings DROP COLUMN parts`);
  }
}
