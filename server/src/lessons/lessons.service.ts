// What was noted of a show for the next time: kept with it, and found by the next dates of its series, or of its name where it belongs to none.
import type { Lesson, LessonsDraft, LessonsView } from '@lantern/contract';
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { Bus } from '../foundation/bus';
import { PlainError } from '../foundation/errors';
import { oneLine } from '../foundation/one-line';
import { together } from '../foundation/together';
import { RemovalService } from '../shows/removal.service';
import type { Show } from '../shows/show.entities';
import { LessonsRow } from './lesson.entities';

/** What lies further back has been learnt, or forgotten. */
const DATES_BEFORE = 3;

interface Before {
  id: string;
  title: string;
  startsAt: number;
  zone: string;
  lessons: string;
}

@Injectable()
export class LessonsService {
  constructor(
    private readonly database: DataSource,
    private readonly bus: Bus,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'lessons', where: 'showId = ?' });
  }

  async of({ id, seriesId, startsAt, stationId, title }: Show): Promise<LessonsView> {
    const own = await this.database.getRepository(LessonsRow).findOneBy({ showId: id });
    const [same, which] =
      seriesId === null ? [`shows.title <> '' AND shows.stationId = ? AND shows.title = ?`, [stationId, title]] : ['shows.seriesId = ?', [seriesId]];
    const before: Before[] = await this.database.query(
      `SELECT shows.id, shows.title, shows.startsAt, shows.zone, lessons.lessons FROM lessons JOIN shows ON shows.id = lessons.showId
        WHERE ${same} AND shows.startsAt < ? AND shows.id <> ? AND shows.rehearsalOf IS NULL AND lessons.lessons <> '[]' ORDER BY shows.startsAt DESC LIMIT ?`,
      [...which, startsAt, id, DATES_BEFORE],
    );
    return {
      revision: own?.revision ?? 0,
      lessons: own?.lessons ?? [],
      before: before.map(({ id: showId, lessons, ...show }) => ({ showId, ...show, lessons: JSON.parse(lessons) as Lesson[] })),
    };
  }

  /** Keeps them over the state that was looked at. Throws where somebody else was there meanwhile. */
  async keep({ id: showId, rehearsalOf }: Show, { base, lessons }: LessonsDraft): Promise<void> {
    if (rehearsalOf !== null) throw new PlainError(409, 'Note what a rehearsal has taught with its show.');
    const row = {
      showId,
      revision: base + 1,
      lessons: lessons.map(({ cue, words }) => ({ cue: cue.trim(), words: oneLine(words) })).filter(({ words }) => words),
    };
    await together(this.database, async (entities) => {
      const now = await entities.findOneBy(LessonsRow, { showId });
      if ((now?.revision ?? 0) !== base) throw new PlainError(409, 'Somebody else has written here meanwhile. Theirs is there now; write yours again.');
      await entities.upsert(LessonsRow, row, ['showId']);
    });
    this.bus.tell({ kind: 'show', showId });
  }
}
