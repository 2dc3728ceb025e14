// Chapters and captions of a recording and of its cuts: changed, and as files.
import { CaptionsDraft, ChaptersDraft, type CaptionsView, type CutsView } from '@lantern/contract';
import { captionsOfNotes, chaptersVtt, checkCaptions, readCaptions, recordedAt, writeSubRip, writeVtt, type Caption } from '@lantern/core';
import { Body, Controller, Get, Header, Put } from '@nestjs/common';
import { CaptionsService } from '../captions/captions.service';
import { LiveNotesService } from '../captions/live-notes.service';
import { ChaptersService } from '../chapters/chapters.service';
import { FieldRefusal, PlainError } from '../foundation/errors';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { RecordingRows } from '../recording/recording-rows';
import type { Show } from '../shows/show.entities';
import { ShowId, UnknownId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { CutsService, partsMade } from './cuts.service';
import { ReplaysService } from './replays.service';

const VTT = 'text/vtt; charset=utf-8';
const SUBRIP = 'application/x-subrip; charset=utf-8';
const CutId = () => UnknownId('cutId', 'There is no such cut.');

@Controller('api/shows/:id')
export class CutTextsController {
  constructor(
    private readonly shows: ShowsService,
    private readonly cuts: CutsService,
    private readonly replays: ReplaysService,
    private readonly chapters: ChaptersService,
    private readonly captions: CaptionsService,
    private readonly notes: LiveNotesService,
    private readonly recordings: RecordingRows,
  ) {}

  private async show({ stationId }: Person, id: string): Promise<Show> {
    return (await this.shows.whole(stationId, id)).show;
  }

  @May('plan shows')
  @Put('chapters')
  async keepChapters(@SignedIn() person: Person, @ShowId() id: string, @Body() { base, chapters }: ChaptersDraft): Promise<CutsView> {
    const show = await this.show(person, id);
    const { lengthMs } = await this.recordings.of(id);
    await this.chapters.keep(show, base, chapters, lengthMs);
    return this.cuts.of(show);
  }

  /** The chapters of the recording as WebVTT (W3C). */
  @May('look at the station')
  @Get('chapters.vtt')
  @Header('content-type', VTT)
  async chaptersFile(@SignedIn() person: Person, @ShowId() id: string): Promise<string> {
    const { chapters } = await this.chapters.list(await this.show(person, id));
    return chaptersVtt(chapters, (await this.recordings.of(id)).lengthMs);
  }

  @May('look at the station')
  @Get('captions')
  async readCaptions(@SignedIn() person: Person, @ShowId() id: string): Promise<CaptionsView> {
    return this.view(await this.show(person, id));
  }

  /** Takes a whole file of captions, as it was written by a person or by whatever service. */
  @May('plan shows')
  @Put('captions')
  async keepCaptions(@SignedIn() person: Person, @ShowId() id: string, @Body() { base, text, language, take, cutId }: CaptionsDraft): Promise<CaptionsView> {
    const show = await this.show(person, id);
    const { captions, troubles } = text.trim() ? readCaptions(text) : { captions: [], troubles: [] };
    const [first] = troubles;
    if (first && (take === 'strict' || !captions.length)) throw new FieldRefusal('text', `Line ${first.line}: ${first.words} Nothing was changed.`);
    const { kept, lost } = cutId ? await this.ofCut(show, cutId, captions) : { kept: captions, lost: 0 };
    await this.captions.keep(show.id, base, language, kept);
    const left = lost ? [{ line: 0, words: `${lost} of them stand after the end of the cut and were left out.` }] : [];
    return { ...(await this.view(show)), unread: [...troubles, ...left] };
  }

  /** Captions that have the times of what was made of a cut, in those of the recording. */
  private async ofCut(show: Show, cutId: string, captions: readonly Caption[]): Promise<{ kept: Caption[]; lost: number }> {
    const cut = await this.cuts.cut(show, cutId);
    if (!cut.made) throw new PlainError(409, `“${cut.name}” has not been made yet: nobody can have written captions for it.`);
    const parts = partsMade(cut);
    const kept = captions.flatMap((caption): Caption[] => {
      const fromMs = recordedAt(parts, caption.fromMs);
      if (fromMs === null) return [];
      // Where something was cut out beneath it, it stands for as long as before, from where it begins.
      const ends = recordedAt(parts, caption.toMs - 1);
      const toMs = ends !== null && ends - fromMs < caption.toMs - caption.fromMs ? ends + 1 : fromMs + caption.toMs - caption.fromMs;
      return [{ ...caption, fromMs, toMs }];
    });
    return { kept, lost: captions.length - kept.length };
  }

  private async view({ id, onAirSince }: Show): Promise<CaptionsView> {
    const { revision, language, captions } = await this.captions.of(id);
    const { lengthMs, parts } = await this.recordings.of(id);
    const notes = parts && onAirSince !== null ? captionsOfNotes(await this.notes.of(id), onAirSince, parts, lengthMs) : [];
    return { revision, language, captions, troubles: checkCaptions(captions, lengthMs), unread: [], notes };
  }

  @May('look at the station')
  @Get('captions.vtt')
  @Header('content-type', VTT)
  async vtt(@SignedIn() person: Person, @ShowId() id: string): Promise<string> {
    await this.show(person, id);
    return writeVtt((await this.captions.of(id)).captions);
  }

  @May('look at the station')
  @Get('captions.srt')
  @Header('content-type', SUBRIP)
  async subRip(@SignedIn() person: Person, @ShowId() id: string): Promise<string> {
    await this.show(person, id);
    return writeSubRip((await this.captions.of(id)).captions);
  }

  @May('look at the station')
  @Get('cuts/:cutId/captions.vtt')
  @Header('content-type', VTT)
  async cutVtt(@SignedIn() person: Person, @ShowId() id: string, @CutId() cutId: string): Promise<string> {
    return writeVtt((await this.replay(person, id, cutId)).captions);
  }

  @May('look at the station')
  @Get('cuts/:cutId/captions.srt')
  @Header('content-type', SUBRIP)
  async cutSubRip(@SignedIn() person: Person, @ShowId() id: string, @CutId() cutId: string): Promise<string> {
    return writeSubRip((await this.replay(person, id, cutId)).captions);
  }

  @May('look at the station')
  @Get('cuts/:cutId/chapters.vtt')
  @Header('content-type', VTT)
  async cutChapters(@SignedIn() person: Person, @ShowId() id: string, @CutId() cutId: string): Promise<string> {
    const { chapters, lengthMs } = await this.replay(person, id, cutId);
    return chaptersVtt(chapters, lengthMs);
  }

  private async replay(person: Person, id: string, cutId: string) {
    const show = await this.show(person, id);
    return this.replays.ofCut(show, await this.cuts.cut(show, cutId));
  }
}
