import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Who has told a show to go on air by itself at its time, and the outside line that stands on its stage. */
export class Stages1765200000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE stages ADD COLUMN startsBy text`);
    await query.query(`ALTER TABLE stages ADD COLUMN lineOnStage text`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE stages DROP COLUMN lineOnStage`);
    await query.query(`ALTER TABLE stages DROP COLUMN startsBy`);
  }
}
