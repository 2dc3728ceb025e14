import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What a show on air is taken up with again by a process that was started anew. */
export class Programme1765100000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE shows ADD COLUMN breakCard text`);
    await query.query(`ALTER TABLE shows ADD COLUMN outsideLineId text`);
    await query.query(`CREATE TABLE outside_lines (
      id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id), name text NOT NULL, sealed text NOT NULL, keyHash text NOT NULL UNIQUE,
      createdAt integer NOT NULL, lastUsedAt integer)`);
    await query.query(`CREATE INDEX outside_lines_by_station ON outside_lines (stationId)`);
    await query.query(`CREATE TABLE stages_new (
      showId text PRIMARY KEY REFERENCES shows(id) ON DELETE CASCADE, programme text NOT NULL DEFAULT 'holding', chosen text NOT NULL DEFAULT 'stage',
      backAt integer, holderId text, holderName text NOT NULL DEFAULT '', holderTab text, heldBack text NOT NULL DEFAULT '[]', aliveAt integer)`);
    await query.query(`INSERT INTO stages_new (showId, programme) SELECT showId, programme FROM stages`);
    await query.query(`DROP TABLE stages`);
    await query.query(`ALTER TABLE stages_new RENAME TO stages`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE outside_lines`);
    await query.query(`ALTER TABLE shows DROP COLUMN outsideLineId`);
    await query.query(`ALTER TABLE shows DROP COLUMN breakCard`);
    await query.query(`CREATE TABLE stages_old (showId text PRIMARY KEY REFERENCES shows(id) ON DELETE CASCADE, programme text NOT NULL)`);
    await query.query(`INSERT INTO stages_old SELECT showId, programme FROM stages`);
    await query.query(`DROP TABLE stages`);
    await query.query(`ALTER TABLE stages_old RENAME TO stages`);
  }
}
