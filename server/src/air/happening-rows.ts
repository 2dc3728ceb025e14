// What happened while shows were on air: written as it happens, read by the report.
import { HAPPENINGS, type Happening, type LastTold } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { HappeningRow } from './air.entities';

/** More than this of one show is somebody who plays with keys. */
const MOST = 20_000;

@Injectable()
export class HappeningRows {
  constructor(private readonly database: DataSource) {}

  private get rows() {
    return this.database.getRepository(HappeningRow);
  }

  async add(showId: string, all: readonly Happening[]): Promise<void> {
    if ((await this.rows.countBy({ showId })) >= MOST) return;
    await this.rows.insert(all.map(({ kind, what, at }) => ({ showId, kind, what, at })));
  }

  async of(showId: string): Promise<Happening[]> {
    const rows = await this.rows.find({ where: { showId }, order: { at: 'ASC', id: 'ASC' } });
    return rows.map(({ kind, what, at }) => ({ kind, what, at }));
  }

  /** What was told last of each kind. */
  async last(showId: string): Promise<LastTold> {
    const last: LastTold = {};
    for (const kind of HAPPENINGS) {
      const row = await this.rows.findOne({ where: { showId, kind }, order: { at: 'DESC', id: 'DESC' } });
      if (row) last[kind] = { what: row.what, at: row.at };
    }
    return last;
  }

  /** As if it had not been on air. */
  async forget(showId: string): Promise<void> {
    await this.rows.delete({ showId });
  }
}
