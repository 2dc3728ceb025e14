import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Messages on house pages: how a page takes them, which browsers wrote, and who else asks what was asked. */
export class HouseTalk1767000000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    const show = 'text NOT NULL REFERENCES shows(id) ON DELETE CASCADE';
    await query.query(`ALTER TABLE messages ADD COLUMN writerHash text`);
    await query.query(`ALTER TABLE messages ADD COLUMN askedToo integer NOT NULL DEFAULT 0`);
    await query.query(`CREATE INDEX messages_writer ON messages (showId, writerHash) WHERE writerHash IS NOT NULL`);
    await query.query(
      `CREATE TABLE house_talk (showId text PRIMARY KEY REFERENCES shows(id) ON DELETE CASCADE, "open" boolean NOT NULL, lookedAt text NOT NULL, everyS integer NOT NULL)`,
    );
    await query.query(
      `CREATE TABLE house_writers (showId ${show}, writerHash text NOT NULL, wroteAt integer NOT NULL, silentUntil integer, PRIMARY KEY (showId, writerHash))`,
    );
    await query.query(`CREATE TABLE asked_too (messageId text NOT NULL, writerHash text NOT NULL, showId ${show}, PRIMARY KEY (messageId, writerHash))`);
    await query.query(`CREATE INDEX asked_too_of_show ON asked_too (showId)`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE asked_too`);
    await query.query(`DROP TABLE house_writers`);
    await query.query(`DROP TABLE house_talk`);
    await query.query(`DROP INDEX messages_writer`);
    await query.query(`DELETE FROM messages WHERE channelId = 'house page'`);
    await query.query(`ALTER TABLE messages DROP COLUMN askedToo`);
    await query.query(`ALTER TABLE messages DROP COLUMN writerHash`);
  }
}
