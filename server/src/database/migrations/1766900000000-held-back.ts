import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What a station holds back of what is written to it, and why a message was. */
export class HeldBack1766900000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(
      `CREATE TABLE holding_rules (stationId text PRIMARY KEY REFERENCES stations(id) ON DELETE CASCADE, words text NOT NULL, links boolean NOT NULL)`,
    );
    await query.query(`ALTER TABLE messages ADD COLUMN held text`);
    await query.query(`CREATE INDEX messages_held ON messages (held) WHERE held IS NOT NULL`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP INDEX messages_held`);
    await query.query(`ALTER TABLE messages DROP COLUMN held`);
    await query.query(`DROP TABLE holding_rules`);
  }
}
