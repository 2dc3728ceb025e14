import type { MigrationInterface, QueryRunner } from 'typeorm';

const ADDED = [
  `letters text NOT NULL DEFAULT '{"display":"bricolage-grotesque","text":"atkinson-hyperlegible-next"}'`,
  `cards text NOT NULL DEFAULT 'horizon'`,
  `background text`,
  `sponsors text NOT NULL DEFAULT '[]'`,
  `sponsorsInCorner boolean NOT NULL DEFAULT 0`,
  `stingId text`,
  `forStation boolean NOT NULL DEFAULT 0`,
  `revision integer NOT NULL DEFAULT 0`,
];

/** Letters, cards, what lies behind, sponsors and a sting of looks, and which one is the station's; scenes of a show that are other than the station's. */
export class Looks1766200000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    for (const column of ADDED) await query.query(`ALTER TABLE looks ADD COLUMN ${column}`);
    await query.query(`ALTER TABLE shows ADD COLUMN scenes text NOT NULL DEFAULT '[]'`);
    for (const table of ['series', 'templates']) await query.query(`UPDATE ${table} SET pattern = json_set(pattern, '$.scenes', json('[]'))`);
  }

  async down(query: QueryRunner): Promise<void> {
    for (const table of ['series', 'templates']) await query.query(`UPDATE ${table} SET pattern = json_remove(pattern, '$.scenes')`);
    await query.query(`ALTER TABLE shows DROP COLUMN scenes`);
    for (const column of ADDED) await query.query(`ALTER TABLE looks DROP COLUMN ${column.split(' ')[0]}`);
  }
}
