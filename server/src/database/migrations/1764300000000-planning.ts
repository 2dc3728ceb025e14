import { USUAL_TIMES } from '@lantern/core';
import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What shows, airings and stations are asked for since they are planned in series, in variants and by several people. */
const ADDED: Record<string, string[]> = {
  shows: [
    `version integer NOT NULL DEFAULT 1`,
    `fieldVersions text NOT NULL DEFAULT '{}'`,
    `changedBy text`,
    `changedAt integer NOT NULL DEFAULT 0`,
    `people text NOT NULL DEFAULT '[]'`,
    `room text NOT NULL DEFAULT ''`,
    `episode integer`,
    `milestoneTimes text NOT NULL DEFAULT '{}'`,
    `ticked text NOT NULL DEFAULT '[]'`,
    `toLook text NOT NULL DEFAULT '[]'`,
    `seriesId text`,
    `seriesDate text`,
    `differs text NOT NULL DEFAULT '[]'`,
  ],
  airings: [
    `title text`,
    `description text`,
    `choices text NOT NULL DEFAULT '{}'`,
    `told text`,
    `toldPicture text`,
    `toldChoices text`,
    `round integer NOT NULL DEFAULT 0`,
    `seen text`,
    `seenAt integer`,
    `gone boolean NOT NULL DEFAULT 0`,
  ],
  stations: [`cities text NOT NULL DEFAULT '[]'`, `milestoneTimes text NOT NULL DEFAULT '${JSON.stringify(USUAL_TIMES)}'`, `feedHash text`],
};

const MADE = [
  `CREATE TABLE series (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id), repeat text NOT NULL, time text NOT NULL, zone text NOT NULL,
    placesByItself boolean NOT NULL, pattern text NOT NULL, picture text)`,
  `CREATE TABLE templates (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id), name text NOT NULL, pattern text NOT NULL, picture text)`,
  `CREATE UNIQUE INDEX shows_by_series ON shows (seriesId, seriesDate) WHERE seriesId IS NOT NULL`,
];

export class Planning1764300000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    for (const [table, columns] of Object.entries(ADDED)) {
      for (const column of columns) await query.query(`ALTER TABLE ${table} ADD COLUMN ${column}`);
    }
    for (const statement of MADE) await query.query(statement);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP INDEX shows_by_series`);
    await query.query(`DROP TABLE templates`);
    await query.query(`DROP TABLE series`);
    for (const [table, columns] of Object.entries(ADDED)) {
      for (const column of columns) await query.query(`ALTER TABLE ${table} DROP COLUMN ${column.split(' ')[0]}`);
    }
  }
}
