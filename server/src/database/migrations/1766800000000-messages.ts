import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Messages from networks, how far each airing has been read, and questions that were one of them. */
export class Messages1766800000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE messages (
      place integer PRIMARY KEY AUTOINCREMENT, id text NOT NULL UNIQUE, showId text NOT NULL REFERENCES shows(id) ON DELETE CASCADE, airingId text NOT NULL, channelId text NOT NULL,
      remoteId text NOT NULL, revision integer NOT NULL, writer text NOT NULL, standing text NOT NULL, words text NOT NULL, answers text, writtenAt integer NOT NULL,
      state text NOT NULL, answeredAt integer, questionId text)`);
    await query.query(`CREATE UNIQUE INDEX messages_once ON messages (airingId, remoteId)`);
    await query.query(`CREATE INDEX messages_news ON messages (showId, revision)`);
    await query.query(
      `CREATE TABLE message_cursors (airingId text PRIMARY KEY, showId text NOT NULL REFERENCES shows(id) ON DELETE CASCADE, remoteId text NOT NULL, cursor text NOT NULL)`,
    );
    await query.query(`ALTER TABLE questions ADD COLUMN channelId text`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE questions DROP COLUMN channelId`);
    await query.query(`DROP TABLE message_cursors`);
    await query.query(`DROP TABLE messages`);
  }
}
