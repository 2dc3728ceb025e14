import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What was noted of a show for the next time. */
export class Lessons1767600000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(
      `CREATE TABLE lessons (showId text PRIMARY KEY REFERENCES shows(id) ON DELETE CASCADE, revision integer NOT NULL, lessons text NOT NULL)`,
    );
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE lessons`);
  }
}
