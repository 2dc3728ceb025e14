import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How often shows were played, on their channels and on the house page. */
export class Plays1768300000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE airing_plays (airingId text PRIMARY KEY REFERENCES airings(id) ON DELETE CASCADE, days text NOT NULL, toldAt integer,
      nextAt integer NOT NULL, trouble text NOT NULL)`);
    await query.query(`CREATE TABLE house_counts (showId text NOT NULL REFERENCES shows(id) ON DELETE CASCADE, what text NOT NULL, day integer NOT NULL,
      source text NOT NULL, count integer NOT NULL, PRIMARY KEY (showId, what, day, source))`);
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE house_counts`);
    await query.query(`DROP TABLE airing_plays`);
  }
}
