import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What visitors of house pages ask, and which shows take no questions. */
export class Questions1766600000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE questions (
      id text PRIMARY KEY, showId text NOT NULL REFERENCES shows(id) ON DELETE CASCADE, keyHash text NOT NULL UNIQUE, name text NOT NULL, words text NOT NULL,
      askedAt integer NOT NULL, state text NOT NULL, answeredAt integer, onPicture text, place text NOT NULL, guestId text)`);
    await query.query(`CREATE INDEX questions_of ON questions (showId, askedAt)`);
    await query.query(`CREATE TABLE shut_to_questions (showId text PRIMARY KEY REFERENCES shows(id) ON DELETE CASCADE)`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE shut_to_questions`);
    await query.query(`DROP TABLE questions`);
  }
}
