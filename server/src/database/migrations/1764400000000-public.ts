import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The public side: who may see a page, who is reminded, who is invited, and the mail that goes out. */
const ADDED: Record<string, string[]> = {
  shows: [
    `short text NOT NULL DEFAULT ''`,
    `houseVisibility text NOT NULL DEFAULT 'everyone'`,
    `reminders boolean NOT NULL DEFAULT 1`,
    `embedSites text NOT NULL DEFAULT '[]'`,
    `announcements text NOT NULL DEFAULT '[]'`,
    `said text NOT NULL DEFAULT '[]'`,
    `placedAt integer`,
  ],
  stations: [`slug text NOT NULL DEFAULT ''`, `supportersHash text`],
};

const MADE = [
  // What was there before gets an address of its own too; identifiers are random, so their ends are.
  `UPDATE shows SET short = substr(replace(id, '-', ''), 1, 10)`,
  `UPDATE stations SET slug = substr(replace(id, '-', ''), 1, 10)`,
  `CREATE UNIQUE INDEX shows_by_short ON shows (short)`,
  `CREATE UNIQUE INDEX stations_by_slug ON stations (slug)`,
  `CREATE TABLE registrations (id text PRIMARY KEY, showId text NOT NULL REFERENCES shows(id) ON DELETE CASCADE, email text NOT NULL, zone text NOT NULL,
    tokenHash text NOT NULL, askedAt integer NOT NULL, confirmedAt integer, toldStart integer NOT NULL)`,
  `CREATE UNIQUE INDEX registrations_once ON registrations (showId, email)`,
  `CREATE INDEX registrations_by_token ON registrations (tokenHash)`,
  `CREATE TABLE invitations (id text PRIMARY KEY, showId text NOT NULL REFERENCES shows(id) ON DELETE CASCADE, name text NOT NULL, email text NOT NULL,
    tokenHash text NOT NULL, answer text NOT NULL, invitedAt integer NOT NULL)`,
  `CREATE UNIQUE INDEX invitations_once ON invitations (showId, email)`,
  `CREATE TABLE mails (id text PRIMARY KEY, recipient text NOT NULL, subject text NOT NULL, sealed text NOT NULL, about text NOT NULL, dueAt integer NOT NULL,
    sentAt integer, tries integer NOT NULL)`,
  `CREATE UNIQUE INDEX mails_once ON mails (about)`,
  `CREATE INDEX mails_waiting ON mails (dueAt) WHERE sentAt IS NULL`,
];

export class Public1764400000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    for (const [table, columns] of Object.entries(ADDED)) {
      for (const column of columns) await query.query(`ALTER TABLE ${table} ADD COLUMN ${column}`);
    }
    for (const statement of MADE) await query.query(statement);
  }

  async down(query: QueryRunner): Promise<void> {
    for (const table of ['mails', 'invitations', 'registrations']) await query.query(`DROP TABLE ${table}`);
    for (const index of ['shows_by_short', 'stations_by_slug']) await query.query(`DROP INDEX ${index}`);
    for (const [table, columns] of Object.entries(ADDED)) {
      for (const column of columns) await query.query(`ALTER TABLE ${table} DROP COLUMN ${column.split(' ')[0]}`);
    }
  }
}
