import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Pictures made here: their library, the looks that they take colours from, and the picture that early viewers see. */
const ADDED: Record<string, string[]> = { shows: ['waiting text'], series: ['waiting text'], templates: ['waiting text'] };

const MADE = [
  `CREATE TABLE pieces (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id) ON DELETE CASCADE, kind text NOT NULL, name text NOT NULL,
    alternative text NOT NULL, width integer NOT NULL, height integer NOT NULL, recipe text, addedAt integer NOT NULL)`,
  `CREATE INDEX pieces_by_station ON pieces (stationId)`,
  `CREATE TABLE looks (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id) ON DELETE CASCADE, name text NOT NULL, palette text NOT NULL, logoId text)`,
];

export class Artwork1764500000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    for (const [table, columns] of Object.entries(ADDED)) {
      for (const column of columns) await query.query(`ALTER TABLE ${table} ADD COLUMN ${column}`);
    }
    for (const statement of MADE) await query.query(statement);
  }

  async down(query: QueryRunner): Promise<void> {
    for (const table of ['looks', 'pieces']) await query.query(`DROP TABLE ${table}`);
    for (const [table, columns] of Object.entries(ADDED)) {
      for (const column of columns) await query.query(`ALTER TABLE ${table} DROP COLUMN ${column.split(' ')[0]}`);
    }
  }
}
