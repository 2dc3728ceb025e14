import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The running order of a show, and of what shows are made from. */
export class Cues1765400000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE shows ADD COLUMN cues text NOT NULL DEFAULT '[]'`);
    for (const table of ['series', 'templates']) await query.query(`UPDATE ${table} SET pattern = json_set(pattern, '$.cues', json('[]'))`);
  }

  async down(query: QueryRunner): Promise<void> {
    for (const table of ['series', 'templates']) await query.query(`UPDATE ${table} SET pattern = json_remove(pattern, '$.cues')`);
    await query.query(`ALTER TABLE shows DROP COLUMN cues`);
  }
}
