import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A station's own scenes. */
export class Scenes1765500000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE scenes (
      stationId text NOT NULL REFERENCES stations(id), id text NOT NULL, place integer NOT NULL, revision integer NOT NULL, scene text NOT NULL,
      PRIMARY KEY (stationId, id))`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE scenes`);
  }
}
