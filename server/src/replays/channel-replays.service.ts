// What channels show of a show once it is over: asked for here, brought there piece by piece, and said to stand once the network has confirmed it.
import type { ReplayPlace, ReplayWish } from '@lantern/contract';
import { MINUTE_MS, sayAfterwards, writeVtt } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { stat } from 'node:fs/promises';
import { DataSource } from 'typeorm';
import { ChannelAccessService, placeName, wordsOfNetworkError } from '../channels/access.service';
import type { Channel } from '../channels/channel.entities';
import { NetworkRefusal, NetworkSilence, type FilmsThere } from '../channels/connectors/connector';
import { RuleBookService } from '../channels/rule-book.service';
import { CutsService } from '../cutting/cuts.service';
import { ReplaysService, type Replay } from '../cutting/replays.service';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { together } from '../foundation/together';
import { JobsService, NotDone } from '../jobs/jobs.service';
import { AiringRows } from '../shows/airing-rows';
import { OF_AIRINGS, RemovalService } from '../shows/removal.service';
import type { Airing, Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { ShowsService } from '../shows/shows.service';
import { sendFilm } from './send-film';
import { ReplayRow } from './replay.entities';

const KIND = 'replay';
const HIDING = 'replay hidden';
const FRESH = { revision: 0, shows: 'own', cutId: null, state: 'stands', sent: 0, bytes: 0, trouble: '', hiddenAt: null } as const;

@Injectable()
export class ChannelReplaysService {
  constructor(
    private readonly database: DataSource,
    private readonly jobs: JobsService,
    private readonly airings: AiringRows,
    private readonly showRows: ShowRows,
    private readonly shows: ShowsService,
    private readonly access: ChannelAccessService,
    private readonly ruleBook: RuleBookService,
    private readonly cuts: CutsService,
    private readonly replays: ReplaysService,
    private readonly bus: Bus,
    private readonly clock: Clock,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'replays', where: OF_AIRINGS });
    jobs.takeUp({
      ...{ kind: KIND, atOnce: 2, triesMax: 8, waitMs: (tries: number) => MINUTE_MS * Math.min(30, 2 ** (tries - 1)) },
      run: (airingId) => this.bring(airingId),
      gaveUp: async (airingId, trouble) => void (await this.note(airingId, { state: 'failed', trouble })),
      words: async (airingId) => `Bring what is shown afterwards to ${await this.place(airingId)}`,
    });
    jobs.takeUp({
      ...{ kind: HIDING, atOnce: 2, triesMax: 3 },
      run: (subject) => this.hide(subject),
      words: async (subject) => `Hide the recording on ${await this.place(hidingOf(subject).airingId)}`,
    });
  }

  private get rows() {
    return this.database.getRepository(ReplayRow);
  }

  private async place(airingId: string): Promise<string> {
    const found = await this.find(airingId);
    return found ? placeName(found.channel) : 'a channel that was taken out';
  }

  private async find(airingId: string): Promise<{ airing: Airing; channel: Channel; show: Show } | null> {
    const airing = await this.airings.byId(airingId);
    const show = airing && (await this.showRows.byId(airing.showId));
    if (!show) return null;
    const found = (await this.shows.airingsOf(show)).find((each) => each.airing.id === airingId);
    return found ? { ...found, show } : null;
  }

  /** What each channel shows, or is to show. */
  async of(show: Show): Promise<ReplayPlace[]> {
    const airings = await this.shows.airingsOf(show);
    return Promise.all(
      airings
        .filter(({ airing }) => airing.placing === 'placed')
        .map(async ({ airing, channel }): Promise<ReplayPlace> => {
          const { revision, shows, cutId, state, sent, bytes, trouble, hiddenAt } = (await this.rows.findOneBy({ airingId: airing.id })) ?? FRESH;
          const cut = cutId === null ? null : await this.cuts.cut(show, cutId).catch(() => null);
          return {
            ...{ airingId: airing.id, channelName: channel.name, network: placeName(channel), watchUrl: airing.watchUrl ?? channel.watchUrl },
            words: sayAfterwards(this.ruleBook.rules(channel)),
            canChange: this.films(channel) !== null && airing.remoteId !== null,
            ...{ revision, shows, state, sent, bytes, trouble, hiddenAt },
            cutId,
            cutName: shows === 'film' ? (cut?.name ?? (cutId === null ? 'the whole recording' : 'a cut that was removed')) : null,
          };
        }),
    );
  }

  private films(channel: Channel): FilmsThere | null {
    return this.access.connectorOf(channel)?.films ?? null;
  }

  /** Has a channel show something else from now on. */
  async wish(show: Show, airingId: string, { base, shows, cutId, hiddenAt }: ReplayWish): Promise<void> {
    const found = await this.find(airingId);
    if (!found || found.show.id !== show.id) throw new PlainError(404, 'The show does not go out on this channel.');
    const { channel, airing } = found;
    if (show.state !== 'over') throw new PlainError(409, 'What is shown afterwards is chosen once the show is over.');
    if (!this.films(channel) || airing.remoteId === null)
      throw new PlainError(409, `${placeName(channel)} lets nobody change from here what it shows afterwards. Look after it there.`);
    if (hiddenAt !== null && hiddenAt <= this.clock.now()) throw new PlainError(422, 'This day has passed. Choose a later one, or hide it now.');
    if (shows === 'film' && cutId && !(await this.cuts.cut(show, cutId)).made)
      throw new PlainError(409, 'This cut has not been made yet. Make it and watch it first.');
    await together(this.database, async (entities) => {
      const before = (await entities.findOneBy(ReplayRow, { airingId })) ?? { ...FRESH, airingId };
      if (before.revision !== base) throw new PlainError(409, 'Somebody else has chosen for this channel meanwhile. Look at theirs first.');
      const fresh = { state: 'asked' as const, sent: 0, bytes: 0, trouble: '' };
      await entities.upsert(ReplayRow, { airingId, revision: base + 1, shows, cutId: shows === 'film' ? (cutId ?? null) : null, hiddenAt, ...fresh }, [
        'airingId',
      ]);
      await this.jobs.add(show.stationId, KIND, airingId, this.clock.now(), entities);
      if (hiddenAt !== null) await this.jobs.add(show.stationId, HIDING, `${airingId} ${hiddenAt}`, hiddenAt, entities);
    });
    this.bus.tell({ kind: 'recording', showId: show.id });
  }

  private async note(airingId: string, columns: Partial<Omit<ReplayRow, 'airingId'>>, revision?: number): Promise<boolean> {
    const { affected } = await this.rows.update({ airingId, ...(revision !== undefined && { revision }) }, columns);
    const airing = await this.airings.byId(airingId);
    if (airing) this.bus.tell({ kind: 'recording', showId: airing.showId });
    return affected !== 0;
  }

  private async hide(subject: string): Promise<void> {
    const { airingId, hiddenAt } = hidingOf(subject);
    const row = await this.rows.findOneBy({ airingId });
    const found = await this.find(airingId);
    // It was put off or left meanwhile.
    if (!row || !found || row.hiddenAt !== hiddenAt) return;
    await together(this.database, async (entities) => {
      await entities.update(ReplayRow, { airingId }, { revision: row.revision + 1, shows: 'nothing', cutId: null, state: 'asked', hiddenAt: null });
      await this.jobs.add(found.show.stationId, KIND, airingId, this.clock.now(), entities);
    });
  }

  /** Brings a channel to show what was asked for. Called again after a kill, it goes on where it was. */
  private async bring(airingId: string): Promise<void> {
    const row = await this.rows.findOneBy({ airingId });
    const found = await this.find(airingId);
    if (!row || !found || row.state === 'stands') return;
    const { airing, channel, show } = found;
    const films = this.films(channel);
    if (!films || airing.remoteId === null) return;
    const access = this.access.of(channel);
    const eventId = airing.remoteId;
    try {
      let filmId: string | null = null;
      if (row.shows === 'film') {
        const replay = await this.replayOf(show, row);
        const { size } = await stat(replay.path);
        // The same file is the same film there, however often this begins anew.
        const once = `${airingId}:${replay.file}:${size}`;
        const onSent = (sent: number) => this.note(airingId, { sent, bytes: size }, row.revision);
        const film = await sendFilm(films, access, { eventId, path: replay.path, bytes: size, once, onSent });
        // Something else was asked for meanwhile: that is the next job's.
        if (!film) return;
        filmId = film.id;
        await films.setCaptions(access, filmId, replay.language, replay.captions.length ? writeVtt(replay.captions) : '');
      }
      await films.show(access, eventId, row.shows, filmId);
      const there = await films.shown(access, eventId);
      if (there.shows !== row.shows || (filmId !== null && there.filmId !== filmId))
        throw new NotDone(`${placeName(channel)} shows something else than was asked for.`);
      await this.note(airingId, { state: 'stands', trouble: '' }, row.revision);
    } catch (error) {
      const words = error instanceof NotDone ? error.message : wordsOfNetworkError(error, channel, this.access.connectorOf(channel), 'by itself');
      await this.note(airingId, { trouble: words }, row.revision);
      throw error instanceof NotDone ? error : new NotDone(words, error instanceof NetworkRefusal, error instanceof NetworkSilence ? error.retryAfterMs : null);
    }
  }

  private async replayOf(show: Show, { cutId }: ReplayRow): Promise<Replay> {
    if (cutId !== null) {
      const cut = await this.cuts.cut(show, cutId).catch(() => null);
      if (!cut?.made) throw new NotDone('The cut was removed. Choose another, or the whole recording.', true);
      return this.replays.ofCut(show, cut);
    }
    const replay = await this.replays.whole(show);
    if (!replay) throw new NotDone('There is no recording of this show.', true);
    return replay;
  }
}

/** Which airing is to be hidden, and when: another day is another job. */
function hidingOf(subject: string): { airingId: string; hiddenAt: number } {
  const [airingId = '', hiddenAt] = subject.split(' ');
  return { airingId, hiddenAt: Number(hiddenAt) };
}
