import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Airings of past shows that are taken away from their channels. */
export class Takedowns1768000000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(
      `CREATE TABLE takedowns (airingId text PRIMARY KEY REFERENCES airings(id) ON DELETE CASCADE, state text NOT NULL, trouble text NOT NULL, thenHere boolean NOT NULL)`,
    );
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE takedowns`);
  }
}
