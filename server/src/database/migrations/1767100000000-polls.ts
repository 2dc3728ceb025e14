import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Polls, and a vote of each who answered. */
export class Polls1767100000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    const show = 'text NOT NULL REFERENCES shows(id) ON DELETE CASCADE';
    await query.query(`CREATE TABLE polls (id text PRIMARY KEY, showId ${show}, question text NOT NULL, options text NOT NULL, state text NOT NULL, madeAt integer NOT NULL,
      openedAt integer, closedAt integer, countedTo integer NOT NULL DEFAULT 0)`);
    await query.query(`CREATE INDEX polls_of_show ON polls (showId)`);
    await query.query(`CREATE UNIQUE INDEX polls_open ON polls (showId) WHERE state = 'open'`);
    await query.query(
      `CREATE TABLE votes (pollId text NOT NULL, voter text NOT NULL, showId ${show}, channelId text NOT NULL, "option" integer NOT NULL, PRIMARY KEY (pollId, voter))`,
    );
    await query.query(`CREATE INDEX votes_of_show ON votes (showId)`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE votes`);
    await query.query(`DROP TABLE polls`);
  }
}
