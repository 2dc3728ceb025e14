// The rows of stages: what a stage is found with again after a reload, a change of hands or a kill.
import type { SceneId } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { Stage } from './air.entities';

@Injectable()
export class StageRows {
  constructor(private readonly database: DataSource) {}

  async programmeOf(showId: string): Promise<SceneId> {
    return (await this.database.getRepository(Stage).findOneBy({ showId }))?.programme ?? 'holding';
  }

  async take(showId: string, programme: SceneId): Promise<void> {
    await this.database.getRepository(Stage).upsert({ showId, programme }, ['showId']);
  }

  async forget(showId: string): Promise<void> {
    await this.database.getRepository(Stage).delete({ showId });
  }
}
