// The chapters of a show's recording: as somebody has written them, or its cues as they were begun and the questions that everybody saw on the picture.
import { chaptersOf, fitForPicture, type Chapter, type Mark } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { HappeningRows } from '../air/happening-rows';
import { Bus } from '../foundation/bus';
import { PlainError } from '../foundation/errors';
import { oneLine } from '../foundation/one-line';
import { together } from '../foundation/together';
import { RemovalService } from '../shows/removal.service';
import { ChapterList } from './chapter-list.entities';
import { QuestionsService } from '../questions/questions.service';
import { RecordingRows } from '../recording/recording-rows';
import type { Show } from '../shows/show.entities';

@Injectable()
export class ChaptersService {
  constructor(
    private readonly happenings: HappeningRows,
    private readonly questions: QuestionsService,
    private readonly recordings: RecordingRows,
    private readonly database: DataSource,
    private readonly bus: Bus,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'chapter_lists', where: 'showId = ?' });
  }

  /** `revision`: counts changes by hand. None where the recording is not there, or nobody knows what of the programme stands where in it. */
  async list(show: Show): Promise<{ chapters: Chapter[]; revision: number }> {
    const own = await this.database.getRepository(ChapterList).findOneBy({ showId: show.id });
    return { chapters: own?.chapters.length ? own.chapters : await this.asItRan(show), revision: own?.revision ?? 0 };
  }

  /** Keeps them over the state that was looked at; none: those of the running order again. */
  async keep({ id: showId }: Show, base: number, named: readonly Chapter[], lengthMs: number): Promise<void> {
    const chapters = named
      .map(({ atMs, name }) => ({ atMs, name: oneLine(name) }))
      .filter(({ atMs, name }) => name && atMs < lengthMs)
      .sort((a, b) => a.atMs - b.atMs);
    await together(this.database, async (entities) => {
      const now = await entities.findOneBy(ChapterList, { showId });
      if ((now?.revision ?? 0) !== base) throw new PlainError(409, 'Somebody else has changed the chapters meanwhile. Theirs are there now; change those.');
      await entities.upsert(ChapterList, { showId, revision: base + 1, chapters }, ['showId']);
    });
    this.bus.tell({ kind: 'recording', showId });
  }

  private async asItRan({ id, cues, onAirSince }: Show): Promise<Chapter[]> {
    const { state, parts } = await this.recordings.of(id);
    if (state !== 'ready' || !parts || onAirSince === null) return [];
    const asked = new Map((await this.questions.shown(id)).map((question) => [question.id, question]));
    const marks = (await this.happenings.of(id)).flatMap(({ kind, what, at }): Mark[] => {
      const programmeMs = at - onAirSince;
      if (kind === 'cue') return [{ programmeMs, name: cues.find((cue) => cue.id === what)?.name ?? '' }];
      const question = kind === 'graphic' && what !== null ? asked.get(what) : undefined;
      return question ? [{ programmeMs, name: fitForPicture(question.words) }] : [];
    });
    return chaptersOf(marks, parts);
  }
}
