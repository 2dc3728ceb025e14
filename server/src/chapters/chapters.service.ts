// The chapters of a show's recording: its cues as they were begun, and questions that everybody saw on the picture.
import { chaptersOf, fitForPicture, type Chapter, type Mark } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { HappeningRows } from '../air/happening-rows';
import { QuestionsService } from '../questions/questions.service';
import { RecordingRows } from '../recording/recording-rows';
import type { Show } from '../shows/show.entities';

@Injectable()
export class ChaptersService {
  constructor(
    private readonly happenings: HappeningRows,
    private readonly questions: QuestionsService,
    private readonly recordings: RecordingRows,
  ) {}

  /** None: the recording is not there, or nobody knows what of the programme stands where in it. */
  async of({ id, cues, onAirSince }: Show): Promise<Chapter[]> {
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
