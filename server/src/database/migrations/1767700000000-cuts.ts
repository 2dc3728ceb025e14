import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Cuts of recordings, chapters that were changed by hand, and captions. */
export class Cuts1767700000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    const show = 'REFERENCES shows(id) ON DELETE CASCADE';
    await query.query(
      `CREATE TABLE cuts (id text PRIMARY KEY, showId text NOT NULL ${show}, createdAt integer NOT NULL, name text NOT NULL, revision integer NOT NULL,
        kept text NOT NULL, levelled boolean NOT NULL, state text NOT NULL, trouble text NOT NULL, made text, shown boolean NOT NULL)`,
    );
    await query.query('CREATE INDEX cuts_of_show ON cuts (showId)');
    // One at the most stands in the place of the recording.
    await query.query('CREATE UNIQUE INDEX cut_shown ON cuts (showId) WHERE shown');
    await query.query(`CREATE TABLE chapter_lists (showId text PRIMARY KEY ${show}, revision integer NOT NULL, chapters text NOT NULL)`);
    await query.query(`CREATE TABLE captions (showId text PRIMARY KEY ${show}, revision integer NOT NULL, language text NOT NULL, captions text NOT NULL)`);
  }

  async down(query: QueryRunner): Promise<void> {
    for (const table of ['captions', 'chapter_lists', 'cuts']) await query.query(`DROP TABLE ${table}`);
  }
}
