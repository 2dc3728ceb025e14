import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Prepared sounds, and which of them is heard over a show's break card. */
export class Clips1765300000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE clips (
      id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id), name text NOT NULL, rights text NOT NULL, state text NOT NULL, words text NOT NULL,
      lengthMs integer NOT NULL, cameAt real, gainDb real NOT NULL, addedAt integer NOT NULL)`);
    await query.query(`CREATE INDEX clips_by_station ON clips (stationId)`);
    await query.query(`ALTER TABLE shows ADD COLUMN breakMusicId text`);
    for (const table of ['series', 'templates']) await query.query(`UPDATE ${table} SET pattern = json_set(pattern, '$.breakMusicId', NULL)`);
  }

  async down(query: QueryRunner): Promise<void> {
    for (const table of ['series', 'templates']) await query.query(`UPDATE ${table} SET pattern = json_remove(pattern, '$.breakMusicId')`);
    await query.query(`ALTER TABLE shows DROP COLUMN breakMusicId`);
    await query.query(`DROP TABLE clips`);
  }
}
