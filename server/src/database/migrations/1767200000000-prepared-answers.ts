import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Answers that a station gives often. */
export class PreparedAnswers1767200000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE prepared_answers (stationId text PRIMARY KEY REFERENCES stations(id) ON DELETE CASCADE, answers text NOT NULL)`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE prepared_answers`);
  }
}
