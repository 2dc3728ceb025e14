// A station's scenes: those with which every station begins until somebody changes one, then its own.
import { MOST_SCENES, type SceneChange, type SceneDraft, type SceneView } from '@lantern/contract';
import { FIRST_SCENES, HOLDING, plainScene, type Scene } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { DataSource } from 'typeorm';
import { Bus } from '../foundation/bus';
import { FieldRefusal, PlainError } from '../foundation/errors';
import { addRow, changeRow, together } from '../foundation/together';
import { SceneRow } from './scene.entities';

const unknown = () => new PlainError(404, 'There is no such scene at your station. It may have been taken out.');

@Injectable()
export class ScenesService {
  constructor(
    private readonly database: DataSource,
    private readonly bus: Bus,
  ) {}

  private get rows() {
    return this.database.getRepository(SceneRow);
  }

  async list(stationId: string): Promise<SceneView[]> {
    const rows = await this.rows.find({ where: { stationId }, order: { place: 'ASC', id: 'ASC' } });
    return rows.length ? rows.map(({ id, scene, revision }) => ({ id, ...scene, revision })) : FIRST_SCENES.map((scene) => ({ ...scene, revision: 0 }));
  }

  /** A new scene, at the end. */
  async add(stationId: string, draft: SceneDraft): Promise<SceneView> {
    const scene = tidied(null, draft);
    const id = randomUUID();
    await together(this.database, async (entities) => {
      const known = await this.own(stationId);
      if (known.length >= MOST_SCENES) throw new PlainError(409, `A station has at most ${MOST_SCENES} scenes. Take one out that is no longer used.`);
      await addRow(entities, SceneRow, { stationId, id, place: Math.max(...known.map(({ place }) => place)) + 1, revision: 0, scene });
    });
    this.changed(stationId);
    return { id, ...scene, revision: 0 };
  }

  async change(stationId: string, id: string, { revision, ...draft }: SceneChange): Promise<SceneView> {
    const scene = tidied(id, draft);
    await together(this.database, async (entities) => {
      if (!(await this.own(stationId)).some((row) => row.id === id)) throw unknown();
      if (!(await changeRow(entities, SceneRow, { stationId, id, revision }, { scene, revision: revision + 1 })))
        throw new PlainError(409, `Somebody else has changed “${scene.name}” meanwhile. What you chose is still here: keep it over theirs, or take theirs.`);
    });
    this.changed(stationId);
    return { id, ...scene, revision: revision + 1 };
  }

  async remove(stationId: string, id: string): Promise<void> {
    if (id === HOLDING) throw new PlainError(409, 'Every show begins with the holding card: it cannot be taken out.');
    await together(this.database, async (entities) => {
      await this.own(stationId);
      if (!(await entities.delete(SceneRow, { stationId, id })).affected) throw unknown();
    });
    this.changed(stationId);
  }

  /** Those that are not named keep their order, behind the others. */
  async order(stationId: string, ids: readonly string[]): Promise<void> {
    await together(this.database, async (entities) => {
      const own = await this.own(stationId);
      const named = (id: string) => (ids.includes(id) ? ids.indexOf(id) : ids.length);
      const ordered = [...own].sort((a, b) => named(a.id) - named(b.id) || a.place - b.place);
      for (const [place, { id }] of ordered.entries()) await changeRow(entities, SceneRow, { stationId, id }, { place });
    });
    this.changed(stationId);
  }

  /** The station's rows, made from what every station begins with where there are none. Within a transaction. */
  private own(stationId: string): Promise<SceneRow[]> {
    return together(this.database, async (entities) => {
      const known = await this.rows.find({ where: { stationId }, order: { place: 'ASC', id: 'ASC' } });
      if (known.length) return known;
      for (const [place, { id, ...scene }] of FIRST_SCENES.entries()) await addRow(entities, SceneRow, { stationId, id, place, revision: 0, scene });
      return this.rows.find({ where: { stationId }, order: { place: 'ASC' } });
    });
  }

  private changed(stationId: string): void {
    this.bus.tell({ kind: 'library', stationId });
  }
}

/** A draft as it is kept. Throws FieldRefusal. */
function tidied(id: string | null, draft: SceneDraft): Omit<Scene, 'id'> {
  const isCard = draft.layout === 'card';
  if (id === HOLDING && !isCard) throw new FieldRefusal('layout', 'The holding card stays a card: make another scene from a copy.');
  if (!isCard && !draft.seats.length) throw new FieldRefusal('seats', 'Choose who or what is seen on this scene.');
  const { name, layout, card, seats, straps, bug, microphones, comes } = plainScene({ ...draft, id: id ?? '' });
  return { name, layout, card, seats, straps, bug, microphones, comes };
}
