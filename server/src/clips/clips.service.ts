// Clips: films and sounds, taken as whatever file the host has, kept as loud as a programme, in the form in which programmes are sent.
import { CLIP_LEAST_MS, CLIP_MAX_BYTES, CLIP_MAX_MS, type ClipChange, type ClipView } from '@lantern/contract';
import { gainTo, PROGRAMME, SILENCE_LUFS, type ClipInShow } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { DiskSpace } from '../foundation/disk-space';
import { FieldRefusal, PlainError } from '../foundation/errors';
import { letGo } from '../foundation/let-go';
import { SETTINGS, type Settings } from '../foundation/settings';
import { addRow, changeRow } from '../foundation/together';
import { ForeignFilms, type Incoming, type Made, type Taking } from '../foreign/foreign-films';
import { syncPath } from '../media/stretch';
import { SeriesRows, TemplateRows } from '../shows/series-rows';
import { ShowRows } from '../shows/show-rows';
import { Clip } from './clip.entities';

const MOST_CLIPS = 200;
const TAKEN: Taking = {
  what: 'clip',
  mostBytes: CLIP_MAX_BYTES,
  readers: ['wav', 'mp3', 'mov', 'ogg', 'flac', 'matroska'],
  kinds: 'Choose an MP4, MOV, WebM, MKV, WAV, MP3, M4A, OGG or FLAC file.',
};
/** What is kept of each: for programmes, and for browsers to play. */
const ENDS = { sound: ['flv', 'm4a'], film: ['flv', 'mp4'] } as const;
type End = 'flv' | 'm4a' | 'mp4';
/** By so much what was made may differ in length from what was measured, in ms. */
const MAY_DIFFER_MS = 1_000;
/** Quieter than this there is nothing to hear, in LUFS. */
const NOTHING_BELOW = -60;
/** Programmes are sent with sound like this: a change between sources is none of form. */
const SOUND = ['-c:a', 'aac', '-b:a', '128k', '-ar', '48000', '-ac', '2'];
/** Square pixels, at most as large as the programme, thirty a second, a key frame each second: whoever begins in the middle waits for no more. */
const PICTURE = [
  '-vf',
  `scale=iw*sar:ih,setsar=1,scale='min(${PROGRAMME.width},iw)':'min(${PROGRAMME.height},ih)':force_original_aspect_ratio=decrease:force_divisible_by=2,fps=30,format=yuv420p`,
  ...[
    '-c:v',
    'libx264',
    '-preset',
    'veryfast',
    '-crf',
    '20',
    '-maxrate',
    '5M',
    '-bufsize',
    '5M',
    '-g',
    '30',
    '-keyint_min',
    '30',
    '-sc_threshold',
    '0',
    '-bf',
    '0',
  ],
  // What is sent on has its configuration once, at the head.
  ...['-flags:v', '+global_header', '-flags:a', '+global_header'],
];

@Injectable()
export class ClipsService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('clips');
  /** Those that are being made ready, each with what ends that. */
  private readonly making = new Map<string, { end: AbortController; madeMs: number }>();

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
    for (const { end } of this.making.values()) end.abort();
  }

  async list(stationId: string): Promise<ClipView[]> {
    const clips = await this.rows.find({ where: { stationId }, order: { addedAt: 'DESC' } });
    if (!clips.length) return [];
    const uses = await this.uses(stationId);
    return clips.map(({ id, kind, name, rights, state, words, lengthMs, inMs, outMs, cameAt, gainDb, addedAt }) => ({
      ...{ id, kind, name, rights, state, words, lengthMs, inMs, outMs, cameAt, gainDb, addedAt },
      made: state === 'making' && lengthMs > 0 ? Math.min(1, (this.making.get(id)?.madeMs ?? 0) / lengthMs) : null,
      url: state === 'ready' ? `/api/clips/${id}/look` : null,
      airUrl: state === 'ready' ? `/api/clips/${id}/air.flv` : null,
      usedBy: uses(id),
    }));
  }

  /** Takes a clip as it comes in. Answers once it is here; making it ready goes on afterwards. Throws what is wrong with it. */
  async take(stationId: string, name: string, file: Incoming, rights = ''): Promise<void> {
    if ((await this.rows.countBy({ stationId })) >= MOST_CLIPS)
      throw new PlainError(409, `The library holds ${MOST_CLIPS} clips. Take out some that are not used.`);
    const id = randomUUID();
    const taken = await this.films.take(file, this.path(id, 'incoming'), TAKEN);
    const clip: Clip = { id, stationId, kind: 'sound', name: name.trim() || 'Untitled', rights, state: 'making', words: '', ...UNMEASURED, addedAt: 0 };
    const added = addRow(this.database.manager, Clip, { ...clip, addedAt: this.clock.now() });
    const work = { end: new AbortController(), madeMs: 0 };
    this.making.set(id, work);
    letGo(
      'making a clip ready',
      taken
        .inTurn(async (run) => {
          await added;
          await this.make(id, (args, onMade) => run(args, work.end.signal, onMade));
        })
        .finally(() => this.making.delete(id)),
    );
    await added;
    this.bus.tell({ kind: 'library', stationId });
  }

  async change(stationId: string, id: string, { name, rights, ...change }: ClipChange): Promise<void> {
    const { lengthMs, state, ...was } = await this.one(stationId, id);
    const { inMs = was.inMs, outMs = was.outMs } = change;
    const endsAt = outMs === null || outMs >= lengthMs ? null : outMs;
    if (state === 'ready' && (endsAt ?? lengthMs) - inMs < CLIP_LEAST_MS)
      throw new FieldRefusal(endsAt === null ? 'inMs' : 'outMs', 'Nothing would be left of it: it has to end at least half a second after it begins.');
    await changeRow(this.database.manager, Clip, { id }, { name: name.trim(), rights: rights.trim(), inMs, outMs: endsAt });
    this.bus.tell({ kind: 'library', stationId });
  }

  /** Takes a clip out; what is being made ready is made no further. Refused where it is used. */
  async remove(stationId: string, id: string): Promise<void> {
    await this.one(stationId, id);
    const used = (await this.uses(stationId))(id);
    if (used.length) throw new PlainError(409, `It is used by ${used.join(', ')}. Take it out there first.`);
    await this.rows.delete({ id });
    this.making.get(id)?.end.abort();
    await this.clear(id);
    this.bus.tell({ kind: 'library', stationId });
  }

  /** Where the file lies that browsers play, and what it is. */
  async toLookAt(stationId: string, id: string): Promise<{ path: string; type: string }> {
    const { kind } = await this.ready(stationId, id);
    return kind === 'film' ? { path: this.path(id, 'mp4'), type: 'video/mp4' } : { path: this.path(id, 'm4a'), type: 'audio/mp4' };
  }

  /** Where the FLV lies that stages play. */
  async toPlay(stationId: string, id: string): Promise<string> {
    await this.ready(stationId, id);
    return this.path(id, 'flv');
  }

  private async ready(stationId: string, id: string): Promise<Clip> {
    const clip = await this.one(stationId, id);
    if (clip.state !== 'ready') throw new PlainError(404, 'This clip is not ready to be played.');
    return clip;
  }

  /** Where a sound lies as programmes are sent, as an FLV without a picture; null: there is none to be had, for whatever reason. */
  async toSend(stationId: string, id: string | null): Promise<string | null> {
    const path = id === null || !(await this.rows.existsBy({ id, stationId, kind: 'sound', state: 'ready' })) ? null : this.path(id, 'flv');
    return path !== null && existsSync(path) ? path : null;
  }

  /** Looked at, measured, then brought to the shape and the loudness of a programme: all by the one reader that may meet files of strangers. */
  private async make(id: string, run: (args: readonly string[], onMade?: (ms: number) => void) => Promise<Made>): Promise<void> {
    // A picture of its own, not the one that lies in a sound for its cover.
    const looked = await run(['-map', '0:V:0', '-frames:v', '1', '-threads', '1', '-progress', 'pipe:1', '-f', 'null', '/dev/null']);
    const kind: ClipView['kind'] = /^frame=[1-9]/m.test(looked.output) ? 'film' : 'sound';
    const measured = await run(['-map', '0:a:0', '-t', String(CLIP_MAX_MS / 1000 + 1), '-threads', '1', '-af', MEASURE, '-f', 'null', '/dev/null']);
    const { lengthMs: soundMs, integrated, truePeakDb } = readMeasure(measured.output);
    const tooLong = `It is longer than ${CLIP_MAX_MS / 60_000} minutes. Choose a shorter one.`;
    const trouble =
      looked.tooMuch ||
      measured.tooMuch ||
      (soundMs > CLIP_MAX_MS && tooLong) ||
      (kind === 'sound' && soundMs === 0 && `There is nothing in that file that can be read. ${TAKEN.kinds}`) ||
      (kind === 'sound' && integrated < NOTHING_BELOW && 'There is nothing to hear in it. Choose another.');
    if (trouble) return this.failed(id, trouble, measured.complaint);
    const heard = integrated >= NOTHING_BELOW;
    const gainDb = heard ? Math.round(gainTo({ integrated, truePeakDb }) * 10) / 10 : 0;
    await this.become(id, { kind, lengthMs: soundMs });
    const made = await run([...this.formsOf(id, kind, gainDb), '-progress', 'pipe:1'], (madeMs) => {
      const work = this.making.get(id);
      if (work) work.madeMs = madeMs;
    });
    if (made.lengthMs > CLIP_MAX_MS) return this.failed(id, tooLong, '');
    // What ffmpeg complains of on the way may be harmless; what is missing at the end is not.
    const whole = kind === 'film' ? made.lengthMs > 0 : Math.abs(made.lengthMs - soundMs) < MAY_DIFFER_MS;
    if (!whole || !ENDS[kind].every((end) => existsSync(this.path(id, `new.${end}`))))
      return this.failed(id, made.tooMuch || `It could not be read to its end. ${TAKEN.kinds}`, made.complaint);
    for (const end of ENDS[kind]) {
      await syncPath(this.path(id, `new.${end}`));
      await rename(this.path(id, `new.${end}`), this.path(id, end));
    }
    await this.become(id, { state: 'ready', lengthMs: made.lengthMs, cameAt: heard ? Math.round(integrated * 10) / 10 : null, gainDb });
  }

  /** What ffmpeg makes of the file: both forms at once, encoded once. */
  private formsOf(id: string, kind: ClipView['kind'], gainDb: number): string[] {
    const film = kind === 'film';
    // Between the outputs of `tee` stands an upright line; these characters have a meaning there.
    const into = (end: End) => this.path(id, `new.${end}`).replace(/[\\'|]/g, '\\$&');
    return [
      ...(film ? ['-map', '0:V:0', '-map', '0:a:0?', ...PICTURE] : ['-map', '0:a:0', '-flags:a', '+global_header']),
      ...['-t', String(CLIP_MAX_MS / 1000 + 1), '-map_metadata', '-1', '-threads', '1', '-af', `volume=${gainDb}dB`, ...SOUND],
      ...['-f', 'tee', `[f=flv]${into('flv')}|[f=mp4:movflags=+faststart]${into(film ? 'mp4' : 'm4a')}`],
    ];
  }

  private async failed(id: string, words: string, complaint: string): Promise<void> {
    if (complaint) this.log.warn(complaint);
    const full = (await this.disk.look()).state === 'none';
    await this.clear(id);
    await this.become(id, { state: 'failed', words: full ? 'The disk of the server is full. Free some room, then add the clip again.' : words });
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
    if (!clip) throw new PlainError(404, 'This clip is not in the library any more. Choose another.');
    return clip;
  }

  /** Tells of a clip where it is used: coming shows, and what makes shows. */
  private async uses(stationId: string): Promise<(id: string) => string[]> {
    const [shows, series, templates] = await Promise.all([
      this.showRows.inState(stationId, ['draft', 'placed', 'onAir', 'interrupted']),
      this.seriesRows.atStation(stationId),
      this.templateRows.atStation(stationId),
    ]);
    const used: { of: Uses; words: string }[] = [
      ...shows.map((show) => ({ of: show, words: show.seriesId === null ? `“${show.title}”` : `the series “${show.title}”` })),
      ...series.map(({ pattern }) => ({ of: pattern, words: `the series “${pattern.title}”` })),
      ...templates.map(({ name, pattern }) => ({ of: pattern, words: `the template “${name}”` })),
    ];
    return (id) => [...new Set(used.filter(({ of }) => uses(of, id)).map(({ words }) => words))];
  }

  private async clear(id: string): Promise<void> {
    const ends = ['incoming', ...Object.values(ENDS).flatMap((of) => of.flatMap((end) => [end, `new.${end}`]))];
    await Promise.all(ends.map((end) => rm(this.path(id, end), { force: true })));
  }

  private path(id: string, end: string): string {
    return join(this.settings.picturesDir, `${id}.clip.${end}`);
  }
}

interface Uses {
  breakMusicId: string | null;
  clips: readonly ClipInShow[];
}
const uses = ({ breakMusicId, clips }: Uses, id: string): boolean => breakMusicId === id || clips.some(({ from, item }) => from === 'clip' && item === id);

const UNMEASURED = { lengthMs: 0, inMs: 0, outMs: null, cameAt: null, gainDb: 0 };
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
