import type { MigrationInterface, QueryRunner } from 'typeorm';

type Row = Record<string, string | number | null>;

/** What a stage and a recording are kept by becomes rows of their own, beside the show's. */
export class Rooms1764800000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(
      `CREATE TABLE recordings (showId text PRIMARY KEY REFERENCES shows(id) ON DELETE CASCADE, state text NOT NULL, lengthMs integer NOT NULL)`,
    );
    await query.query(`CREATE INDEX recordings_by_state ON recordings (state)`);
    await query.query(`CREATE TABLE stages (showId text PRIMARY KEY REFERENCES shows(id) ON DELETE CASCADE, programme text NOT NULL)`);
    await query.query(`INSERT INTO recordings SELECT id, recording, recordingMs FROM shows WHERE recording <> 'none' OR recordingMs > 0`);
    await query.query(`INSERT INTO stages SELECT id, programme FROM shows WHERE programme <> 'holding'`);
    for (const column of ['programme', 'recording', 'recordingMs']) await query.query(`ALTER TABLE shows DROP COLUMN ${column}`);
    // What was removed in the last day comes back with all that it had.
    const removals: { id: string; tables: string }[] = await query.query(`SELECT id, tables FROM removals WHERE kind = 'show'`);
    for (const { id, tables } of removals) {
      const kept = JSON.parse(tables) as [string, Row[]][];
      const [show] = kept.find(([table]) => table === 'shows')?.[1] ?? [];
      if (!show) continue;
      const { id: showId, recording, recordingMs, programme } = show;
      for (const column of ['programme', 'recording', 'recordingMs']) delete show[column];
      kept.push(['recordings', recording === 'none' && recordingMs === 0 ? [] : [{ showId: showId!, state: recording!, lengthMs: recordingMs! }]]);
      kept.push(['stages', programme === 'holding' ? [] : [{ showId: showId!, programme: programme! }]]);
      await query.query(`UPDATE removals SET tables = ? WHERE id = ?`, [JSON.stringify(kept), id]);
    }
  }

  async down(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE shows ADD COLUMN programme text NOT NULL DEFAULT 'holding'`);
    await query.query(`ALTER TABLE shows ADD COLUMN recording text NOT NULL DEFAULT 'none'`);
    await query.query(`ALTER TABLE shows ADD COLUMN recordingMs integer NOT NULL DEFAULT 0`);
    await query.query(`UPDATE shows SET recording = recordings.state, recordingMs = recordings.lengthMs FROM recordings WHERE recordings.showId = shows.id`);
    await query.query(`UPDATE shows SET programme = stages.programme FROM stages WHERE stages.showId = shows.id`);
    await query.query(`DROP TABLE stages`);
    await query.query(`DROP TABLE recordings`);
  }
}
