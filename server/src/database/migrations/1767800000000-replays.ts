import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What airings show once they are over. */
export class Replays1767800000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(
      `CREATE TABLE replays (airingId text PRIMARY KEY REFERENCES airings(id) ON DELETE CASCADE, revision integer NOT NULL, shows text NOT NULL, cutId text,
        state text NOT NULL, sent integer NOT NULL, bytes integer NOT NULL, trouble text NOT NULL, hiddenAt integer)`,
    );
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE replays`);
  }
}
