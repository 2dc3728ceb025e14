// What the public sees of a recording: the cut that was put in its place, or all of it, with chapters and captions that fit.
import { chaptersOfCut, keptOver, type Caption, type Chapter } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { CaptionsService } from '../captions/captions.service';
import { ChaptersService } from '../chapters/chapters.service';
import { RecordingRows } from '../recording/recording-rows';
import { RecordingService } from '../recording/recording.service';
import type { Show } from '../shows/show.entities';
import type { Cut } from './cut.entities';
import { CutsService, partsMade } from './cuts.service';

export interface Replay {
  path: string;
  /** Names the file among those of the show. */
  file: string;
  /** Tells one state of it, with its captions, from another under the same address. */
  version: string;
  lengthMs: number;
  chapters: Chapter[];
  captions: Caption[];
  language: string;
}

@Injectable()
export class ReplaysService {
  constructor(
    private readonly cuts: CutsService,
    private readonly chapters: ChaptersService,
    private readonly captions: CaptionsService,
    private readonly recordingRows: RecordingRows,
    private readonly recordings: RecordingService,
  ) {}

  /** Null: there is no recording. */
  async of(show: Show): Promise<Replay | null> {
    const cut = await this.cuts.shownOf(show.id);
    return cut?.made ? this.ofCut(show, cut) : this.whole(show);
  }

  /** Of all of the recording; null: there is none. */
  async whole(show: Show): Promise<Replay | null> {
    const { state, lengthMs } = await this.recordingRows.of(show.id);
    if (state !== 'ready') return null;
    const { captions, language, revision } = await this.captions.of(show.id);
    const { chapters } = await this.chapters.list(show);
    return { path: this.recordings.file(show.id), file: 'whole', version: `whole-${revision}`, lengthMs, chapters, captions, language };
  }

  /** Of what was made of a cut. */
  async ofCut(show: Show, cut: Cut): Promise<Replay> {
    const { lengthMs } = await this.recordingRows.of(show.id);
    const parts = partsMade(cut);
    const { captions, language, revision } = await this.captions.of(show.id);
    const { chapters } = await this.chapters.list(show);
    return {
      path: this.cuts.file(cut),
      file: `${cut.id}-${cut.made!.revision}`,
      version: `${cut.id.slice(0, 8)}-${cut.made!.revision}-${revision}`,
      lengthMs: cut.made!.lengthMs,
      chapters: chaptersOfCut(chapters, parts, lengthMs),
      captions: keptOver(parts, captions),
      language,
    };
  }
}
