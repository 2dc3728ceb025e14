import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What channels were told of speakers, where their pages name them. */
export class Speakers1766700000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE speakers_there (airingId text PRIMARY KEY REFERENCES airings(id) ON DELETE CASCADE, showId text NOT NULL, remoteId text NOT NULL,
      told text NOT NULL, seen text NOT NULL, refusal text NOT NULL, readAt integer NOT NULL)`);
    await query.query(`CREATE INDEX speakers_there_of ON speakers_there (showId)`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE speakers_there`);
  }
}
