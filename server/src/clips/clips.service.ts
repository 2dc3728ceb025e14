// Prepared sounds: taken as whatever file the host has, kept as loud as a programme, in the form in which programmes are sent.
import { SOUND_MAX_BYTES, SOUND_MAX_MS, type ClipChange, type ClipView } from '@lantern/contract';
import { gainTo, SILENCE_LUFS } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { DiskSpace } from '../foundation/disk-space';
import { PlainError } from '../foundation/errors';
import { letGo } from '../foundation/let-go';
import { SETTINGS, type Settings } from '../foundation/settings';
import { addRow, changeRow } from '../foundation/together';
import { ForeignFilms, type Incoming, type RunFilm, type Taking } from '../foreign/foreign-films';
import { syncPath } from '../media/stretch';
import { SeriesRows, TemplateRows } from '../shows/series-rows';
import { ShowRows } from '../shows/show-rows';
import { Clip } from './clip.entities';

const MOST_CLIPS = 200;
const TAKEN: Taking = {
  what: 'sound',
  mostBytes: SOUND_MAX_BYTES,
  readers: ['wav', 'mp3', 'mov', 'ogg', 'flac', 'matroska'],
  kinds: 'Choose a WAV, MP3, M4A, OGG or FLAC file.',
};
/** What is kept of each: for programmes, and for browsers to play. */
const ENDS = ['flv', 'm4a'] as const;
/** By so much what was made may differ in length from what was measured, in ms. */
const MAY_DIFFER_MS = 1_000;
/** Quieter than this there is nothing to hear, in LUFS. */
const NOTHING_BELOW = -60;
/** Programmes are sent with sound like this: a change between sources is none of form. */
const SOUND = ['-c:a', 'aac', '-b:a', '128k', '-ar', '48000', '-ac', '2'];

@Injectable()
export class ClipsService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('clips');
  /** Those that are being made ready, each with what ends that. */
  private readonly making = new Map<string, AbortController>();

  constructor(
    private readonly database: DataSource,
    private readonly showRows: ShowRows,
    private readonly seriesRows: SeriesRows,
    private readonly templateRows: TemplateRows,
    private readonly films: ForeignFilms,
    private readonly disk: DiskSpace,
    private readonly clock: Clock,
    private readonly bus: Bus,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  private get rows() {
    return this.database.getRepository(Clip);
  }

  async onApplicationBootstrap(): Promise<void> {
    for (const { id } of await this.rows.findBy({ state: 'making' })) {
      await this.clear(id);
      await this.become(id, { state: 'failed', words: 'The server stopped while it was made ready. Take it out, and add it again.' });
    }
  }

  onApplicationShutdown(): void {
    for (const work of this.making.values()) work.abort();
  }

  async list(stationId: string): Promise<ClipView[]> {
    const clips = await this.rows.find({ where: { stationId }, order: { addedAt: 'DESC' } });
    if (!clips.length) return [];
    const uses = await this.uses(stationId);
    return clips.map(({ id, name, rights, state, words, lengthMs, cameAt, gainDb, addedAt }) => ({
      ...{ id, name, rights, state, words, lengthMs, cameAt, gainDb, addedAt },
      url: state === 'ready' ? `/api/clips/${id}/sound.m4a` : null,
      usedBy: uses(id),
    }));
  }

  /** Takes a sound as it comes in. Answers once it is here; making it ready goes on afterwards. Throws what is wrong with it. */
  async take(stationId: string, name: string, file: Incoming, rights = ''): Promise<void> {
    if ((await this.rows.countBy({ stationId })) >= MOST_CLIPS)
      throw new PlainError(409, `The library holds ${MOST_CLIPS} sounds. Take out some that are not used.`);
    const id = randomUUID();
    const sound = await this.films.take(file, this.path(id, 'incoming'), TAKEN);
    const clip: Clip = { id, stationId, name: name.trim() || 'Untitled', rights, state: 'making', words: '', lengthMs: 0, ...UNMEASURED, addedAt: 0 };
    const added = addRow(this.database.manager, Clip, { ...clip, addedAt: this.clock.now() });
    const work = new AbortController();
    this.making.set(id, work);
    letGo(
      'making a sound ready',
      sound
        .inTurn(async (run) => {
          await added;
          await this.make(id, (args) => run(args, work.signal));
        })
        .finally(() => this.making.delete(id)),
    );
    await added;
    this.bus.tell({ kind: 'library', stationId });
  }

  async change(stationId: string, id: string, { name, rights }: ClipChange): Promise<void> {
    await this.one(stationId, id);
    await changeRow(this.database.manager, Clip, { id }, { name: name.trim(), rights: rights.trim() });
    this.bus.tell({ kind: 'library', stationId });
  }

  /** Takes a sound out; what is being made ready is made no further. Refused where it is used. */
  async remove(stationId: string, id: string): Promise<void> {
    await this.one(stationId, id);
    const used = (await this.uses(stationId))(id);
    if (used.length) throw new PlainError(409, `It is heard over the break card of ${used.join(', ')}. Choose another there first.`);
    await this.rows.delete({ id });
    this.making.get(id)?.abort();
    await this.clear(id);
    this.bus.tell({ kind: 'library', stationId });
  }

  /** Where the file lies that browsers play. */
  async toHear(stationId: string, id: string): Promise<string> {
    const { state } = await this.one(stationId, id);
    if (state !== 'ready') throw new PlainError(404, 'This sound is not ready to be heard.');
    return this.path(id, 'm4a');
  }

  /** Where a sound lies as programmes are sent, as an FLV without a picture; null: there is none to be had, for whatever reason. */
  async toSend(stationId: string, id: string | null): Promise<string | null> {
    const path = id === null || !(await this.rows.existsBy({ id, stationId, state: 'ready' })) ? null : this.path(id, 'flv');
    return path !== null && existsSync(path) ? path : null;
  }

  /** Measured, then brought to the loudness of a programme: both by the one reader that may meet files of strangers. */
  private async make(id: string, run: RunFilm): Promise<void> {
    const measured = await run(['-map', '0:a:0', '-t', String(SOUND_MAX_MS / 1000 + 1), '-threads', '1', '-af', MEASURE, '-f', 'null', '/dev/null']);
    const { lengthMs, integrated, truePeakDb } = readMeasure(measured.output);
    const trouble =
      measured.tooMuch ||
      (lengthMs === 0 && `There is no sound in that file that can be read. ${TAKEN.kinds}`) ||
      (lengthMs > SOUND_MAX_MS && `It is longer than ${SOUND_MAX_MS / 60_000} minutes. Choose a shorter one.`) ||
      (integrated < NOTHING_BELOW && 'There is nothing to hear in it. Choose another.');
    if (trouble) return this.failed(id, trouble, measured.complaint);
    const gainDb = Math.round(gainTo({ integrated, truePeakDb }) * 10) / 10;
    const as = (end: (typeof ENDS)[number]) => [
      '-map',
      '0:a:0',
      '-map_metadata',
      '-1',
      '-threads',
      '1',
      '-af',
      `volume=${gainDb}dB`,
      ...SOUND,
      this.path(id, `new.${end}`),
    ];
    const made = await run([...as('flv'), ...as('m4a'), '-progress', 'pipe:1']);
    // What ffmpeg complains of on the way may be harmless; what is missing at the end is not.
    const whole = Math.abs(made.lengthMs - lengthMs) < MAY_DIFFER_MS && ENDS.every((end) => existsSync(this.path(id, `new.${end}`)));
    if (!whole) return this.failed(id, made.tooMuch || `It could not be read to its end. ${TAKEN.kinds}`, made.complaint);
    for (const end of ENDS) {
      await syncPath(this.path(id, `new.${end}`));
      await rename(this.path(id, `new.${end}`), this.path(id, end));
    }
    await this.become(id, { state: 'ready', lengthMs, cameAt: Math.round(integrated * 10) / 10, gainDb });
  }

  private async failed(id: string, words: string, complaint: string): Promise<void> {
    if (complaint) this.log.warn(complaint);
    const full = (await this.disk.look()).state === 'none';
    await this.clear(id);
    await this.become(id, { state: 'failed', words: full ? 'The disk of the server is full. Free some room, then add the sound again.' : words });
  }

  /** Only what is being made ready becomes anything; of what was taken out meanwhile nothing is left. */
  private async become(id: string, columns: Partial<Clip>): Promise<void> {
    const { affected } = await this.rows.update({ id, state: 'making' }, columns);
    const clip = affected ? await this.rows.findOneBy({ id }) : null;
    if (clip) this.bus.tell({ kind: 'library', stationId: clip.stationId });
    else await this.clear(id);
  }

  private async one(stationId: string, id: string): Promise<Clip> {
    const clip = await this.rows.findOneBy({ id, stationId });
    if (!clip) throw new PlainError(404, 'This sound is not in the library any more. Choose another.');
    return clip;
  }

  /** Tells of a sound where it is used: coming shows, and what makes shows. */
  private async uses(stationId: string): Promise<(id: string) => string[]> {
    const [shows, series, templates] = await Promise.all([
      this.showRows.inState(stationId, ['draft', 'placed', 'onAir', 'interrupted']),
      this.seriesRows.atStation(stationId),
      this.templateRows.atStation(stationId),
    ]);
    const used = [
      ...shows.filter(({ seriesId }) => seriesId === null).map(({ title, breakMusicId }) => ({ breakMusicId, words: `“${title}”` })),
      ...shows.filter(({ seriesId }) => seriesId !== null).map(({ title, breakMusicId }) => ({ breakMusicId, words: `the series “${title}”` })),
      ...series.map(({ pattern }) => ({ breakMusicId: pattern.breakMusicId, words: `the series “${pattern.title}”` })),
      ...templates.map(({ name, pattern }) => ({ breakMusicId: pattern.breakMusicId, words: `the template “${name}”` })),
    ];
    return (id) => [...new Set(used.filter(({ breakMusicId }) => breakMusicId === id).map(({ words }) => words))];
  }

  private async clear(id: string): Promise<void> {
    await Promise.all(['incoming', 'new.flv', 'new.m4a', 'flv', 'm4a'].map((end) => rm(this.path(id, end), { force: true })));
  }

  private path(id: string, end: string): string {
    return join(this.settings.picturesDir, `${id}.clip.${end}`);
  }
}

const UNMEASURED = { cameAt: null, gainDb: 0 };
/** EBU R 128 by ffmpeg, told with each block of a tenth of a second. */
const MEASURE = 'aformat=sample_rates=48000:channel_layouts=stereo,ebur128=metadata=1:peak=true,ametadata=mode=print:file=-';

/** What ffmpeg's `ebur128` said last: of the whole. */
export function readMeasure(output: string): { lengthMs: number; integrated: number; truePeakDb: number } {
  const last = (key: RegExp) => Number([...output.slice(-4_000).matchAll(key)].at(-1)?.[1] ?? NaN);
  const peak = Math.max(...[0, 1].map((channel) => last(new RegExp(`true_peaks_ch${channel}=([\\d.]+)`, 'g')) || 0));
  const integrated = last(/r128\.I=(-?[\d.]+)/g);
  const seconds = last(/pts_time:([\d.]+)/g);
  return {
    // The last block begins a tenth before the end.
    lengthMs: Number.isNaN(seconds) ? 0 : Math.round(seconds * 1_000) + 100,
    integrated: Number.isNaN(integrated) ? SILENCE_LUFS : integrated,
    truePeakDb: peak > 0 ? 20 * Math.log10(peak) : SILENCE_LUFS,
  };
}
