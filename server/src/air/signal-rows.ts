// How shows went out, as the stages that sent them measured it: written every few seconds, read by the report.
import { coarse, instant, SIGNAL_EVERY_MS, type SignalSample } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { SignalRow } from './air.entities';

/** Two stages, or a page that is loaded anew, tell no more than one does. */
const LEAST_APART_MS = SIGNAL_EVERY_MS / 2;
/** Two days of it. */
const MOST = 20_000;
/** More makes no other line on a page. */
const MOST_TOLD = 600;

@Injectable()
export class SignalRows {
  /** When something was last kept of a show that is on air. */
  private readonly last = new Map<string, number>();

  constructor(private readonly database: DataSource) {}

  private get rows() {
    return this.database.getRepository(SignalRow);
  }

  async add(showId: string, { at, pictures, kbps }: SignalSample): Promise<void> {
    if (at - (this.last.get(showId) ?? -Infinity) < LEAST_APART_MS) return;
    this.last.set(showId, at);
    if ((await this.rows.countBy({ showId })) < MOST) await this.rows.insert({ showId, at, pictures, kbps });
  }

  /** In the order of their moments; of a long show the worst of each stretch. */
  async of(showId: string): Promise<SignalSample[]> {
    // Thousands for an evening: read as they are.
    const rows = (await this.database.query('SELECT at, pictures, kbps FROM signal_samples WHERE showId = ? ORDER BY at, id', [showId])) as Pick<
      SignalRow,
      'at' | 'pictures' | 'kbps'
    >[];
    return coarse(
      rows.map(({ at, pictures, kbps }) => ({ at: instant(at), pictures, kbps })),
      MOST_TOLD,
    );
  }

  /** As if it had not been on air. */
  async forget(showId: string): Promise<void> {
    this.last.delete(showId);
    await this.rows.delete({ showId });
  }

  /** Nothing more is told of a show. */
  over(showId: string): void {
    this.last.delete(showId);
  }
}
