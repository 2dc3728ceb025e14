import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Work that outlives a stop of the server; what everybody who waits for a show was last told, so that it is asked of the database and not of each row. */
export class Ground1764700000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(
      `CREATE TABLE jobs (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id) ON DELETE CASCADE, kind text NOT NULL, subject text NOT NULL,
        dueAt integer NOT NULL, tries integer NOT NULL, trouble text NOT NULL, givenUpAt integer, asked integer NOT NULL)`,
    );
    await query.query(`CREATE UNIQUE INDEX jobs_by_subject ON jobs (kind, subject)`);
    await query.query(`CREATE INDEX jobs_by_time ON jobs (kind, givenUpAt, dueAt)`);
    for (const table of ['registrations', 'invitations']) {
      await query.query(`ALTER TABLE ${table} ADD COLUMN told text NOT NULL DEFAULT ''`);
      await query.query(`CREATE INDEX ${table}_by_told ON ${table} (showId, told)`);
      await query.query(`CREATE INDEX ${table}_by_start ON ${table} (showId, toldStart)`);
    }
    await query.query(`CREATE TABLE past_figures (showId text PRIMARY KEY REFERENCES shows(id) ON DELETE CASCADE, peakTogether integer)`);
    await query.query(`CREATE INDEX subscriptions_by_told ON subscriptions (stationId, toldUntil)`);
    await query.query(`CREATE INDEX mails_by_state ON mails (stationId, sentAt, tries)`);
    await query.query(`CREATE INDEX mails_sent ON mails (sentAt) WHERE sentAt IS NOT NULL`);
    await query.query(`CREATE INDEX shows_by_state ON shows (state, startsAt)`);
  }

  async down(query: QueryRunner): Promise<void> {
    for (const index of ['shows_by_state', 'mails_sent', 'mails_by_state', 'subscriptions_by_told']) await query.query(`DROP INDEX ${index}`);
    for (const table of ['registrations', 'invitations']) {
      await query.query(`DROP INDEX ${table}_by_start`);
      await query.query(`DROP INDEX ${table}_by_told`);
      await query.query(`ALTER TABLE ${table} DROP COLUMN told`);
    }
    await query.query(`DROP TABLE past_figures`);
    await query.query(`DROP TABLE jobs`);
  }
}
