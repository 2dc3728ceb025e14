import type { MigrationInterface, QueryRunner } from 'typeorm';

const ADDED = [`codeSecret text`, `codePending text`, `codeStep integer NOT NULL DEFAULT 0`, `spareCodes text NOT NULL DEFAULT '[]'`];

/** A second factor of somebody's: codes of an app of theirs, and spare ones on paper. */
export class SecondFactor1766400000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    for (const column of ADDED) await query.query(`ALTER TABLE people ADD COLUMN ${column}`);
  }

  async down(query: QueryRunner): Promise<void> {
    for (const column of ADDED) await query.query(`ALTER TABLE people DROP COLUMN ${column.split(' ')[0]}`);
  }
}
