// The rows of stages: what a stage is found with again after a reload, a change of hands or a kill.
import { HOLDING, type CueRan, type SceneId, type SourceId } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource, IsNull, Not } from 'typeorm';
import type { HolderState } from '../air-wire/messages';
import { Stage, type StartsBy } from './air.entities';

/** How a stage stands. `holder`: whose it is, in which tab; null before the show is on air. */
export interface StageStanding {
  programme: SceneId;
  /** The cues of the running order that have been begun. */
  ran: CueRan[];
  /** The outside line that stands on it. */
  lineOnStage: string | null;
  chosen: SourceId;
  backAt: number | null;
  holder: HolderState | null;
  /** Identifiers of airings that are begun by another press. */
  heldBack: string[];
}

@Injectable()
export class StageRows {
  constructor(private readonly database: DataSource) {}

  async of(showId: string): Promise<StageStanding> {
    const row = await this.database.getRepository(Stage).findOneBy({ showId });
    if (!row) return { programme: HOLDING, ran: [], lineOnStage: null, chosen: 'stage', backAt: null, holder: null, heldBack: [] };
    const holder = row.holderId === null ? null : { personId: row.holderId, name: row.holderName, tab: row.holderTab };
    return { programme: row.programme, ran: row.ran, lineOnStage: row.lineOnStage, chosen: row.chosen, backAt: row.backAt, holder, heldBack: row.heldBack };
  }

  /** What is pressed on it while its show is not on air. */
  async set(showId: string, pressed: Partial<Pick<StageStanding, 'programme' | 'lineOnStage'>>): Promise<void> {
    await this.database.getRepository(Stage).upsert({ showId, ...pressed }, ['showId']);
  }

  async keep(showId: string, { programme, ran, lineOnStage, chosen, backAt, holder, heldBack }: StageStanding): Promise<void> {
    const held = { holderId: holder?.personId ?? null, holderName: holder?.name ?? '', holderTab: holder?.tab ?? null };
    await this.database.getRepository(Stage).upsert({ showId, programme, ran, lineOnStage, chosen, backAt, heldBack, ...held }, ['showId']);
  }

  /** Who has told a show to begin by itself; null: nobody. */
  async startsBy(showId: string): Promise<StartsBy | null> {
    return (await this.database.getRepository(Stage).findOneBy({ showId }))?.startsBy ?? null;
  }

  /** All that are to begin by themselves. */
  toBegin(): Promise<Stage[]> {
    return this.database.getRepository(Stage).findBy({ startsBy: Not(IsNull()) });
  }

  async setStartsBy(showId: string, startsBy: StartsBy | null): Promise<void> {
    await this.database.getRepository(Stage).upsert({ showId, startsBy }, ['showId']);
  }

  /** Notes that a show is being carried at this moment. */
  async noteAlive(showId: string, aliveAt: number): Promise<void> {
    await this.database.getRepository(Stage).upsert({ showId, aliveAt }, ['showId']);
  }

  /** When a show was last known to be carried; null: never. */
  async aliveAt(showId: string): Promise<number | null> {
    return (await this.database.getRepository(Stage).findOneBy({ showId }))?.aliveAt ?? null;
  }

  async forget(showId: string): Promise<void> {
    await this.database.getRepository(Stage).delete({ showId });
  }
}
