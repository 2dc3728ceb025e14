import { CLIP_SCENE } from '@lantern/core';
import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Films beside sounds, what of them is played, what is played into a show, and the scene on which it is seen. */
export class ClipsInShows1765800000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE clips ADD COLUMN kind text NOT NULL DEFAULT 'sound'`);
    await query.query(`ALTER TABLE clips ADD COLUMN inMs integer NOT NULL DEFAULT 0`);
    await query.query(`ALTER TABLE clips ADD COLUMN outMs integer`);
    await query.query(`ALTER TABLE pieces ADD COLUMN rights text NOT NULL DEFAULT ''`);
    await query.query(`ALTER TABLE shows ADD COLUMN clips text NOT NULL DEFAULT '[]'`);
    for (const table of ['series', 'templates']) await query.query(`UPDATE ${table} SET pattern = json_set(pattern, '$.clips', json('[]'))`);
    const { id, ...scene } = CLIP_SCENE;
    await query.query(
      `INSERT INTO scenes (stationId, id, place, revision, scene)
       SELECT stationId, ?, MAX(place) + 1, 0, ? FROM scenes GROUP BY stationId HAVING SUM(id = ?) = 0`,
      [id, JSON.stringify(scene), id],
    );
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`DELETE FROM scenes WHERE id = ?`, [CLIP_SCENE.id]);
    for (const table of ['series', 'templates']) await query.query(`UPDATE ${table} SET pattern = json_remove(pattern, '$.clips')`);
    await query.query(`ALTER TABLE shows DROP COLUMN clips`);
    await query.query(`ALTER TABLE pieces DROP COLUMN rights`);
    for (const column of ['outMs', 'inMs', 'kind']) await query.query(`ALTER TABLE clips DROP COLUMN ${column}`);
  }
}
