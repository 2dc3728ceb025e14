import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Passes that mails bring: into a team, and to a new password. */
export class Team1766300000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE team_passes (
      id text PRIMARY KEY, tokenHash text NOT NULL UNIQUE, kind text NOT NULL, stationId text NOT NULL REFERENCES stations(id) ON DELETE CASCADE,
      email text NOT NULL, role text, invitedBy text, personId text REFERENCES people(id) ON DELETE CASCADE, madeAt integer NOT NULL, until integer NOT NULL)`);
    // One of a kind for each address: a new pass takes the place of the one before.
    await query.query(`CREATE UNIQUE INDEX team_passes_of ON team_passes (kind, stationId, email)`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE team_passes`);
  }
}
