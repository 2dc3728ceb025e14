// Cuts of a show's recording: what is kept of it, made as a file when somebody asks, beside the recording, which stays as it is.
import { MOST_CUTS, type CutChange, type CutDraft, type CutsView, type CutView } from '@lantern/contract';
import {
  chaptersOfCut,
  inRecording,
  instant,
  lengthOfParts,
  MINUTE_MS,
  partsOfCut,
  sayDay,
  suggestionsFor,
  tidyPassages,
  type RecordedPart,
} from '@lantern/core';
import { Inject, Injectable, Logger } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { readFile, rm, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { DataSource } from 'typeorm';
import { HappeningRows } from '../air/happening-rows';
import { ComposerService } from '../artwork/composer.service';
import { ChaptersService } from '../chapters/chapters.service';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { DiskSpace } from '../foundation/disk-space';
import { FieldRefusal, PlainError, storageTrouble } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { addRow, changeRow, together } from '../foundation/together';
import { JobsService, NotDone } from '../jobs/jobs.service';
import { recordingFolder, syncPath } from '../media/stretch';
import { RecordingRows } from '../recording/recording-rows';
import { RecordingService } from '../recording/recording.service';
import { ScenesService } from '../scenes/scenes.service';
import { RemovalService } from '../shows/removal.service';
import type { Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { Cut } from './cut.entities';
import { makeCutFile, removeHalves } from './cut-file';
import { seenFrom } from './seen';
import { makeSurvey, SOUND, STRIP, surveyFile, surveyOf, timesBetween, timesOf, type Survey } from './survey';

const CUT = 'cut';
const SURVEY = 'survey';
const TRIES_MAX = 3;
const CARD_PX = 1_280;
/** So many times of pictures are told at once. */
const MOST_TIMES = 2_000;
/** What is told of progress, so that a page is not told of each picture. */
const STEP = 0.02;

const unknown = () => new PlainError(404, 'There is no such cut. It may have been removed.');
const tooLate = (name: string) => new PlainError(409, `Somebody else has changed “${name}” meanwhile. Look at theirs first.`);

@Injectable()
export class CutsService {
  private readonly log = new Logger('cut');
  /** Those that are being made here: how far, and what stops them. */
  private readonly atWork = new Map<string, { share: number; stop: AbortController }>();

  constructor(
    private readonly database: DataSource,
    private readonly jobs: JobsService,
    private readonly shows: ShowRows,
    private readonly recordingRows: RecordingRows,
    private readonly recordings: RecordingService,
    private readonly chapters: ChaptersService,
    private readonly happenings: HappeningRows,
    private readonly scenes: ScenesService,
    private readonly composer: ComposerService,
    private readonly disk: DiskSpace,
    private readonly bus: Bus,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
    removal: RemovalService,
  ) {
    removal.takeAlong({
      table: 'cuts',
      where: 'showId = ?',
      keptBy: async (showId) =>
        (await this.rows.existsBy({ showId, state: 'making' }))
          ? 'A cut of this show is being made. Wait until it is ready, or stop it, then remove the show.'
          : null,
    });
    const waitMs = (tries: number) => MINUTE_MS * 2 ** (tries - 1);
    jobs.takeUp({
      ...{ kind: SURVEY, atOnce: 1, triesMax: TRIES_MAX, waitMs },
      run: (showId) => this.survey(showId),
      words: async (showId) => `Look through the recording of ${await this.name(showId)}`,
    });
    jobs.takeUp({
      ...{ kind: CUT, atOnce: 1, triesMax: TRIES_MAX, waitMs },
      run: (id) => this.make(id),
      gaveUp: async (id, words) => {
        await this.rows.update({ id, state: 'making' }, { state: 'failed', trouble: words });
        await this.tell(id);
      },
      words: async (id) => {
        const cut = await this.rows.findOneBy({ id });
        return cut ? `Make the cut “${cut.name}” of ${await this.name(cut.showId)}` : 'Make a cut that was removed';
      },
    });
  }

  private get rows() {
    return this.database.getRepository(Cut);
  }

  private async name(showId: string): Promise<string> {
    const show = await this.shows.byId(showId);
    return show ? `“${show.title}”` : 'a show that was removed';
  }

  private async tell(id: string): Promise<void> {
    const cut = await this.rows.findOneBy({ id });
    if (cut) this.bus.tell({ kind: 'recording', showId: cut.showId });
  }

  // ---- what is there

  /** Everything that is needed for cutting; has the recording looked through where nobody has yet. */
  async of(show: Show): Promise<CutsView> {
    const { state, lengthMs, parts } = await this.recordingRows.of(show.id);
    if (state !== 'ready') throw new PlainError(404, 'There is no recording of this show that could be cut.');
    const folder = recordingFolder(this.settings, show.id);
    const survey = await surveyOf(folder, this.recordings.file(show.id));
    const job = survey ? null : await this.jobs.find(SURVEY, show.id);
    if (!survey && !job) await this.jobs.add(show.stationId, SURVEY, show.id);
    const happenings = parts && show.onAirSince !== null ? await this.happenings.of(show.id) : [];
    const begun = show.onAirSince ?? 0;
    const ran = happenings.flatMap(({ kind, what, at }) => {
      const atMs = kind === 'cue' ? inRecording(parts!, at - begun) : null;
      return atMs === null ? [] : [{ atMs, name: show.cues.find(({ id }) => id === what)?.name.trim() || 'A cue' }];
    });
    const seen = seenFrom(happenings, await this.scenes.list(show.stationId), begun, parts ?? []);
    const sound = { everyMs: SOUND.everyMs, levels: survey ? await readFile(surveyFile(folder, 'sound')) : [] };
    const cuts = await this.rows.find({ where: { showId: show.id }, order: { createdAt: 'ASC', id: 'ASC' } });
    const { chapters, revision } = await this.chapters.list(show);
    return {
      showId: show.id,
      title: show.title,
      recordingUrl: `/api/shows/${show.id}/recording.mp4`,
      lengthMs,
      survey: survey && this.surveyView(show.id, survey),
      surveyTrouble: job?.trouble ?? '',
      suggestions: survey ? suggestionsFor(lengthMs, seen, sound) : [],
      ran,
      chapters,
      chaptersRevision: revision,
      cuts: cuts.map((cut) => this.view(cut)),
    };
  }

  private surveyView(showId: string, { changedMs, strip, sound }: Survey): CutsView['survey'] {
    const version = `?v=${Math.round(changedMs)}`;
    return {
      strip: { url: `/api/shows/${showId}/cuts/strip.jpg${version}`, ...STRIP, ...strip },
      sound: { url: `/api/shows/${showId}/cuts/sound${version}`, ...SOUND, ...sound },
    };
  }

  private view({ id, showId, name, revision, kept, levelled, cardMs, state, trouble, made, shown }: Cut): CutView {
    return {
      ...{ id, name, revision, kept, levelled, cardMs, state, trouble, shown },
      lengthMs: cardMs + lengthOfParts(partsOfCut(kept)),
      progress: this.atWork.get(id)?.share ?? 0,
      made: made && {
        ...{ revision: made.revision, lengthMs: made.lengthMs, bytes: made.bytes, at: made.at },
        url: `/api/shows/${showId}/cuts/${id}/cut.mp4?v=${made.revision}`,
      },
    };
  }

  /** A file of what was found in looking through. */
  async surveyed({ id }: Show, which: 'strip' | 'sound'): Promise<string> {
    const folder = recordingFolder(this.settings, id);
    if (!(await surveyOf(folder, this.recordings.file(id)))) throw new PlainError(404, 'The recording has not been looked through yet.');
    return surveyFile(folder, which);
  }

  /** When its pictures are shown, from one moment to another. */
  async times({ id }: Show, fromMs: number, toMs: number): Promise<number[]> {
    await this.surveyed({ id } as Show, 'strip');
    return timesBetween(recordingFolder(this.settings, id), fromMs, toMs, MOST_TIMES);
  }

  async cut({ id: showId }: Show, id: string): Promise<Cut> {
    const cut = await this.rows.findOneBy({ showId, id });
    if (!cut) throw unknown();
    return cut;
  }

  /** The cut that stands in the place of the recording; null: none does. */
  shownOf(showId: string): Promise<Cut | null> {
    return this.rows.findOneBy({ showId, shown: true });
  }

  /** Where what was made of a cut lies. */
  file({ id, showId, made }: Pick<Cut, 'id' | 'showId' | 'made'>): string {
    if (!made) throw new PlainError(404, 'This cut has not been made yet.');
    return this.path(showId, id, made.revision);
  }

  private path(showId: string, id: string, revision: number): string {
    return join(recordingFolder(this.settings, showId), `cut-${id}-${revision}.mp4`);
  }

  // ---- what people do

  async add(show: Show, draft: CutDraft): Promise<void> {
    const columns = await this.tidied(show.id, draft);
    await together(this.database, async (entities) => {
      if ((await entities.countBy(Cut, { showId: show.id })) >= MOST_CUTS)
        throw new PlainError(409, `A recording has at most ${MOST_CUTS} cuts. Remove one that is no longer needed.`);
      const fresh = {
        id: randomUUID(),
        showId: show.id,
        createdAt: this.clock.now(),
        revision: 1,
        state: 'idle' as const,
        trouble: '',
        made: null,
        shown: false,
      };
      await addRow(entities, Cut, { ...fresh, ...columns });
    });
    this.bus.tell({ kind: 'recording', showId: show.id });
  }

  async change(show: Show, id: string, { base, ...draft }: CutChange): Promise<void> {
    const { name } = await this.cut(show, id);
    const columns = await this.tidied(show.id, draft);
    if (!(await changeRow(this.database.manager, Cut, { id, revision: base }, { ...columns, revision: base + 1 }))) throw tooLate(name);
    this.bus.tell({ kind: 'recording', showId: show.id });
  }

  private async tidied(showId: string, { name, kept, levelled, cardMs = 0 }: CutDraft): Promise<Pick<Cut, 'name' | 'kept' | 'levelled' | 'cardMs'>> {
    const { state, lengthMs } = await this.recordingRows.of(showId);
    if (state !== 'ready') throw new PlainError(409, 'There is no recording of this show that could be cut.');
    const passages = tidyPassages(kept, lengthMs);
    if (!passages.length) throw new FieldRefusal('kept', 'Nothing of the recording would be kept.');
    if (!name.trim()) throw new FieldRefusal('name', 'Give the cut a name.');
    return { name: name.trim(), kept: passages, levelled, cardMs };
  }

  async remove(show: Show, id: string): Promise<void> {
    const cut = await this.cut(show, id);
    if (cut.shown) throw new PlainError(409, `“${cut.name}” stands on the house page. Take it down there first, then remove it.`);
    await this.rows.delete({ id, shown: false });
    await this.stop(cut);
    if (cut.made) await rm(this.file(cut), { force: true });
    this.bus.tell({ kind: 'recording', showId: show.id });
  }

  /** Has it made as it is now. Asked for twice, it is made once. */
  async ask(show: Show, id: string): Promise<void> {
    await this.cut(show, id);
    if ((await this.disk.look()).state === 'none') throw new PlainError(507, 'There is no room left on the disk. Make some, then make the cut.');
    await together(this.database, async (entities) => {
      await changeRow(entities, Cut, { id }, { state: 'making', trouble: '' });
      await this.jobs.add(show.stationId, CUT, id, this.clock.now(), entities);
    });
    this.bus.tell({ kind: 'recording', showId: show.id });
  }

  /** What was made before stays. */
  async cancel(show: Show, id: string): Promise<void> {
    const cut = await this.cut(show, id);
    await this.rows.update({ id, state: 'making' }, { state: 'idle', trouble: '' });
    await this.stop(cut);
    this.bus.tell({ kind: 'recording', showId: show.id });
  }

  private async stop({ id, showId }: Pick<Cut, 'id' | 'showId'>): Promise<void> {
    const stationId = await this.shows.stationOf(showId);
    const job = await this.jobs.find(CUT, id);
    if (job && stationId) await this.jobs.giveUp(stationId, job.id).catch(() => undefined); // It has just been done.
    this.atWork.get(id)?.stop.abort();
  }

  /** Whether what was made of it stands on the house page. */
  async show(show: Show, id: string, shown: boolean): Promise<void> {
    const cut = await this.cut(show, id);
    if (shown && !cut.made) throw new PlainError(409, `“${cut.name}” has not been made yet. Make it, watch it, then show it.`);
    await together(this.database, async (entities) => {
      if (shown) await changeRow(entities, Cut, { showId: show.id, shown: true }, { shown: false });
      await changeRow(entities, Cut, { id, showId: show.id }, { shown });
    });
    this.bus.tell({ kind: 'recording', showId: show.id });
  }

  // ---- the work

  private async survey(showId: string): Promise<void> {
    const { state, lengthMs } = await this.recordingRows.of(showId);
    if (state !== 'ready' || !(await this.shows.byId(showId))) return;
    await this.lookThrough(showId, lengthMs, new AbortController().signal);
    this.bus.tell({ kind: 'recording', showId });
  }

  private async lookThrough(showId: string, lengthMs: number, signal: AbortSignal): Promise<Survey> {
    const folder = recordingFolder(this.settings, showId);
    const recording = this.recordings.file(showId);
    const known = await surveyOf(folder, recording);
    if (known) return known;
    try {
      await makeSurvey(this.settings.ffmpeg, folder, recording, lengthMs, signal);
    } catch (error) {
      throw this.notDone(error, signal);
    }
    const survey = await surveyOf(folder, recording);
    if (!survey) throw new NotDone('The recording was made anew meanwhile.');
    return survey;
  }

  private async make(id: string): Promise<void> {
    const cut = await this.rows.findOneBy({ id, state: 'making' });
    const show = cut && (await this.shows.byId(cut.showId));
    if (!cut || !show) return;
    const work = { share: 0, stop: new AbortController() };
    this.atWork.set(id, work);
    try {
      await this.makeFile(show, cut, work);
    } finally {
      this.atWork.delete(id);
      this.bus.tell({ kind: 'recording', showId: show.id });
    }
  }

  private async makeFile(show: Show, cut: Cut, work: { share: number; stop: AbortController }): Promise<void> {
    const { id, revision, levelled, cardMs } = cut;
    const { signal } = work.stop;
    const { state, lengthMs } = await this.recordingRows.of(show.id);
    if (state !== 'ready') throw new NotDone('The recording is not ready.');
    const kept = tidyPassages(cut.kept, lengthMs);
    const target = this.path(show.id, id, revision);
    try {
      const survey = await this.lookThrough(show.id, lengthMs, signal);
      const times = await timesOf(recordingFolder(this.settings, show.id), survey);
      const { chapters } = await this.chapters.list(show);
      const order = {
        ...{ recording: this.recordings.file(show.id), target, kept, times, levelled },
        chapters: chaptersOfCut(chapters, partsOfCut(kept, cardMs), lengthMs),
        card: cardMs ? { png: await this.titleCard(show), lastsMs: cardMs } : null,
      };
      await removeHalves(dirname(target), `cut-${id}-`);
      const madeMs = await makeCutFile(this.settings.ffmpeg, order, (share) => this.progress(show.id, work, share), signal);
      if (!(await surveyOf(recordingFolder(this.settings, show.id), order.recording))) throw new NotDone('The recording was made anew meanwhile.');
      await syncPath(target);
      await syncPath(dirname(target), 'r');
      await this.keep(cut, { revision, kept, cardMs, lengthMs: madeMs, bytes: (await stat(target)).size, at: this.clock.now() });
    } catch (error) {
      if (signal.aborted) return;
      throw this.notDone(error, signal);
    }
  }

  /** The title and the day, in the manner of the show's pictures. */
  private async titleCard(show: Show): Promise<Buffer> {
    return (await this.composer.card(show, { title: show.title, line: sayDay(instant(show.startsAt), show.zone) }, CARD_PX)).png();
  }

  private async keep(cut: Cut, made: NonNullable<Cut['made']>): Promise<void> {
    const target = this.path(cut.showId, cut.id, made.revision);
    const before = (await this.rows.findOneBy({ id: cut.id }))?.made ?? null;
    // Somebody may have stopped or removed it as its last bytes were written.
    if (!(await changeRow(this.database.manager, Cut, { id: cut.id, state: 'making' }, { state: 'idle', trouble: '', made })))
      return before?.revision === made.revision ? undefined : rm(target, { force: true });
    if (before && before.revision !== made.revision) await rm(this.path(cut.showId, cut.id, before.revision), { force: true });
  }

  private progress(showId: string, work: { share: number }, share: number): void {
    if (share - work.share < STEP) return;
    work.share = share;
    this.bus.tell({ kind: 'recording', showId });
  }

  private notDone(error: unknown, signal: AbortSignal): Error {
    if (error instanceof NotDone || error instanceof PlainError) return error;
    const storage = storageTrouble(error);
    const words = error instanceof Error ? error.message : String(error);
    if (!storage && !signal.aborted) this.log.error(words);
    if (storage) return new NotDone(storage.words);
    return new NotDone(/No space left/i.test(words) ? 'There is no room left on the disk.' : 'The recording could not be read to the end of what is kept.');
  }
}

/** Where what was kept stands in what was made of a cut. */
export const partsMade = ({ made }: Pick<Cut, 'made'>): RecordedPart[] => partsOfCut(made?.kept ?? [], made?.cardMs ?? 0);
