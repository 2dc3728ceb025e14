import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How many watched, worked out once. */
export class Watched1768200000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(
      `CREATE TABLE watched_figures (showId text PRIMARY KEY REFERENCES shows(id) ON DELETE CASCADE, mark text NOT NULL, figures text NOT NULL)`,
    );
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE watched_figures`);
  }
}
