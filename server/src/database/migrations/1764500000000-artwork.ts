import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Pictures made here with their library and looks, contacts, whose mail is whose, trailers and replays, and posts. */
const ADDED: Record<string, string[]> = {
  shows: ['waiting text', `posted text NOT NULL DEFAULT '{}'`, `houseReplay boolean NOT NULL DEFAULT 1`, 'trailer text'],
  series: ['waiting text'],
  templates: ['waiting text'],
  invitations: ['toldStart integer NOT NULL DEFAULT 0'],
  mails: [`stationId text NOT NULL DEFAULT ''`, `trouble text NOT NULL DEFAULT ''`],
};

const MADE = [
  `UPDATE invitations SET toldStart = (SELECT startsAt FROM shows WHERE shows.id = invitations.showId)`,
  `CREATE TABLE subscriptions (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id) ON DELETE CASCADE, email text NOT NULL, zone text NOT NULL,
    tokenHash text NOT NULL, askedAt integer NOT NULL, confirmedAt integer, toldUntil integer NOT NULL)`,
  `CREATE UNIQUE INDEX subscriptions_once ON subscriptions (stationId, email)`,
  `CREATE INDEX subscriptions_by_token ON subscriptions (tokenHash)`,
  `CREATE TABLE pieces (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id) ON DELETE CASCADE, kind text NOT NULL, name text NOT NULL,
    alternative text NOT NULL, width integer NOT NULL, height integer NOT NULL, recipe text, addedAt integer NOT NULL)`,
  `CREATE INDEX pieces_by_station ON pieces (stationId)`,
  `CREATE TABLE looks (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id) ON DELETE CASCADE, name text NOT NULL, palette text NOT NULL, logoId text)`,
  `CREATE TABLE contacts (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id) ON DELETE CASCADE, name text NOT NULL, email text NOT NULL, groups text NOT NULL)`,
  `CREATE UNIQUE INDEX contacts_once ON contacts (stationId, email)`,
  `CREATE INDEX mails_by_station ON mails (stationId, dueAt)`,
];

export class Artwork1764500000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    for (const [table, columns] of Object.entries(ADDED)) {
      for (const column of columns) await query.query(`ALTER TABLE ${table} ADD COLUMN ${column}`);
    }
    for (const statement of MADE) await query.query(statement);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP INDEX mails_by_station`);
    for (const table of ['subscriptions', 'contacts', 'looks', 'pieces']) await query.query(`DROP TABLE ${table}`);
    for (const [table, columns] of Object.entries(ADDED)) {
      for (const column of columns) await query.query(`ALTER TABLE ${table} DROP COLUMN ${column.split(' ')[0]}`);
    }
  }
}
