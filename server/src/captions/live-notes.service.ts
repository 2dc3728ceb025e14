// What somebody of the team writes down while a show is on: each line once, with when it was begun, so that it can stand beneath the recording later.
import { MOST_NOTES_SHOWN, type NoteDraft, type NotesView } from '@lantern/contract';
import type { LiveNote } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { oneLine } from '../foundation/one-line';
import { RemovalService } from '../shows/removal.service';
import type { Show } from '../shows/show.entities';
import { LiveNoteRow } from './captions.entities';

/** Nobody writes more in the longest of shows. */
const MOST = 10_000;

@Injectable()
export class LiveNotesService {
  constructor(
    private readonly database: DataSource,
    private readonly bus: Bus,
    private readonly clock: Clock,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'live_notes', where: 'showId = ?' });
  }

  private get rows() {
    return this.database.getRepository(LiveNoteRow);
  }

  async view({ id: showId, title, state }: Show): Promise<NotesView> {
    const notes = await this.rows.find({ where: { showId }, order: { begunAt: 'DESC', id: 'ASC' }, take: MOST_NOTES_SHOWN });
    return {
      ...{ showId, title, open: isOn(state), count: await this.rows.countBy({ showId }) },
      notes: notes.reverse().map(({ id, at, by, words }) => ({ id, at, by, words })),
    };
  }

  /** In the order in which they were begun. */
  async of(showId: string): Promise<LiveNote[]> {
    return this.rows.find({ where: { showId }, order: { begunAt: 'ASC', id: 'ASC' } });
  }

  /** Keeps a line; the same once, however often it comes. `by`: whose it is. */
  async add(show: Show, { id, words, begunMsAgo }: NoteDraft, by: string): Promise<void> {
    const said = oneLine(words).trim();
    if (await this.rows.existsBy({ id, showId: show.id })) return;
    if (!isOn(show.state)) throw new PlainError(409, 'This show is not on air: nothing is said that could be written down.');
    if (!said) throw new PlainError(400, 'Write something.');
    if ((await this.rows.countBy({ showId: show.id })) >= MOST) throw new PlainError(409, `A show takes ${MOST.toLocaleString('en-GB')} notes.`);
    const at = this.clock.now();
    await this.rows
      .createQueryBuilder()
      .insert()
      .values({ id, showId: show.id, begunAt: at - begunMsAgo, at, by, words: said })
      .orIgnore()
      .execute();
    this.bus.tell({ kind: 'show', showId: show.id });
  }

  async remove({ id: showId }: Show, id: string): Promise<void> {
    await this.rows.delete({ id, showId });
    this.bus.tell({ kind: 'show', showId });
  }
}

const isOn = (state: Show['state']): boolean => state === 'onAir' || state === 'interrupted';
