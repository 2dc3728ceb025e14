import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The graphics of a show, and of what shows are made from. */
export class Graphics1765700000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE shows ADD COLUMN graphics text NOT NULL DEFAULT '[]'`);
    for (const table of ['series', 'templates']) await query.query(`UPDATE ${table} SET pattern = json_set(pattern, '$.graphics', json('[]'))`);
  }

  async down(query: QueryRunner): Promise<void> {
    for (const table of ['series', 'templates']) await query.query(`UPDATE ${table} SET pattern = json_remove(pattern, '$.graphics')`);
    await query.query(`ALTER TABLE shows DROP COLUMN graphics`);
  }
}
