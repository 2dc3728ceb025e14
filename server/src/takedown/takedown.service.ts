// Where something of a past show stands, and taking it away: from each channel by the outcome that the network confirms, tried again where it is
// silent, and from here only once it is gone from there, where both was asked for.
import type { StandingPlace, TakenFrom } from '@lantern/contract';
import { listed, MINUTE_MS, sayWhatStays, sayWithdrawing } from '@lantern/core';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { ChannelAccessService, placeName, wordsOfNetworkError } from '../channels/access.service';
import type { Channel } from '../channels/channel.entities';
import { NetworkRefusal, NetworkSilence } from '../channels/connectors/connector';
import { RuleBookService } from '../channels/rule-book.service';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { together } from '../foundation/together';
import { JobsService, NotDone } from '../jobs/jobs.service';
import { takesIn } from '../media/own-sound-files';
import { recordingFolder } from '../media/stretch';
import { RecordingRows } from '../recording/recording-rows';
import { AiringRows } from '../shows/airing-rows';
import { OF_AIRINGS, RemovalService } from '../shows/removal.service';
import type { Airing, Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { ShowsService } from '../shows/shows.service';
import { Takedown } from './takedown.entities';

const KIND = 'take away';

@Injectable()
export class TakedownService {
  constructor(
    private readonly database: DataSource,
    private readonly jobs: JobsService,
    private readonly airingRows: AiringRows,
    private readonly showRows: ShowRows,
    private readonly shows: ShowsService,
    private readonly recordings: RecordingRows,
    private readonly access: ChannelAccessService,
    private readonly ruleBook: RuleBookService,
    private readonly removal: RemovalService,
    private readonly bus: Bus,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    removal.takeAlong({ table: 'takedowns', where: OF_AIRINGS });
    jobs.takeUp({
      ...{ kind: KIND, atOnce: 2, triesMax: 10, waitMs: (tries: number) => MINUTE_MS * Math.min(60, 2 ** (tries - 1)) },
      run: (airingId) => this.takeDown(airingId),
      gaveUp: (airingId, trouble) => this.note(airingId, { state: 'failed', trouble }),
      words: async (airingId) => {
        const found = await this.find(airingId);
        return found ? `Take “${found.show.title}” away from ${placeName(found.channel)}` : 'Take a show away that was removed';
      },
    });
  }

  private get rows() {
    return this.database.getRepository(Takedown);
  }

  /** Every place where something of a show stands; the first is here. */
  async of(show: Show): Promise<StandingPlace[]> {
    const airings = await this.shows.airingsOf(show);
    const there = await Promise.all(airings.filter(({ airing }) => airing.placing === 'placed').map(({ airing, channel }) => this.there(airing, channel)));
    return [await this.here(show), ...there];
  }

  private async here(show: Show): Promise<StandingPlace> {
    const { state } = await this.recordings.of(show.id);
    const takes = await takesIn(recordingFolder(this.settings, show.id));
    const counts = await Promise.all(
      (['messages', 'questions', 'registrations', 'invitations'] as const).map(async (table) => {
        const [row] = (await this.database.query(`SELECT COUNT(*) AS count FROM ${table} WHERE showId = ?`, [show.id])) as [{ count: number }];
        return [table, row.count] as const;
      }),
    );
    const what = [
      'the sheet, its figures and notes',
      ...(state === 'ready' ? ['the recording with its cuts and captions'] : []),
      ...(takes.length ? ['the own sound of guests'] : []),
      ...counts.flatMap(([table, count]) => (count ? [`${count} ${table}`] : [])),
      'the house page',
    ];
    return {
      ...{ airingId: null, name: 'Here', what: listed(what, 'and'), state: 'stands', stays: '', trouble: '' },
      does: 'All of it goes. It can be taken back for a day, and is gone for good then.',
    };
  }

  private async there(airing: Airing, channel: Channel): Promise<StandingPlace> {
    const row = await this.rows.findOneBy({ airingId: airing.id });
    const rules = this.ruleBook.rules(channel);
    const can = this.access.connectorOf(channel) !== null && airing.remoteId !== null;
    return {
      ...{ airingId: airing.id, name: placeName(channel), what: can ? 'the event, and what the network keeps with it' : 'whatever stands there' },
      does: can ? sayWithdrawing(rules) : 'Nothing can be taken away there from here: look after it there.',
      state: !can ? 'cannot' : (row?.state ?? 'stands'),
      stays: row?.state === 'gone' ? sayWhatStays(rules) : '',
      trouble: row?.trouble ?? '',
    };
  }

  /** Has it taken away. What is gone from a channel already is not asked for again. */
  async take(show: Show, from: TakenFrom): Promise<void> {
    if (show.state !== 'over') throw new PlainError(409, 'This show is not over. Withdraw it on its sheet, or wrap it up first.');
    if (from === 'here') return void (await this.removal.remove(show, show.id));
    const places = (await this.of(show)).filter(({ airingId, state }) => airingId !== null && state !== 'cannot');
    const wanted = places.filter(({ state }) => state !== 'gone');
    if (!wanted.length && from === 'there') throw new PlainError(409, 'Nothing of it stands on a channel that could be taken away from here.');
    await together(this.database, async (entities) => {
      for (const { airingId } of wanted) {
        await entities.upsert(Takedown, { airingId: airingId!, state: 'asked', trouble: '', thenHere: from === 'everywhere' }, ['airingId']);
        await this.jobs.add(show.stationId, KIND, airingId!, this.clock.now(), entities);
      }
    });
    if (!wanted.length) await this.removal.remove(show, show.id);
    this.bus.tell({ kind: 'show', showId: show.id });
  }

  private async find(airingId: string): Promise<{ airing: Airing; channel: Channel; show: Show } | null> {
    const airing = await this.airingRows.byId(airingId);
    const show = airing && (await this.showRows.byId(airing.showId));
    const found = show && (await this.shows.airingsOf(show)).find((each) => each.airing.id === airingId);
    return show && found ? { ...found, show } : null;
  }

  private async note(airingId: string, columns: Partial<Omit<Takedown, 'airingId'>>): Promise<void> {
    await this.rows.update({ airingId }, columns);
    const airing = await this.airingRows.byId(airingId);
    if (airing) this.bus.tell({ kind: 'show', showId: airing.showId });
  }

  private async takeDown(airingId: string): Promise<void> {
    const row = await this.rows.findOneBy({ airingId });
    const found = await this.find(airingId);
    if (!row || !found) return;
    const { airing, channel, show } = found;
    // Killed between there and here: only here is left to do.
    if (row.state === 'gone') return row.thenHere ? this.goOnHere(show) : undefined;
    const connector = this.access.connectorOf(channel);
    if (!connector || airing.remoteId === null) return;
    const access = this.access.of(channel);
    try {
      // What a network no longer knows is gone.
      await connector.withdraw(access, airing.remoteId).catch((error: unknown) => {
        if (!(error instanceof NetworkRefusal && (error.status === 404 || error.status === 410))) throw error;
      });
      const left = await connector.look?.(access, airing.remoteId);
      if (left && left.state !== 'withdrawn') throw new NotDone(`${placeName(channel)} still has it.`);
    } catch (error) {
      const words = error instanceof NotDone ? error.message : wordsOfNetworkError(error, channel, connector, 'by itself');
      await this.note(airingId, { trouble: words });
      throw error instanceof NotDone ? error : new NotDone(words, error instanceof NetworkRefusal, error instanceof NetworkSilence ? error.retryAfterMs : null);
    }
    await this.note(airingId, { state: 'gone', trouble: '' });
    if (row.thenHere) await this.goOnHere(show);
  }

  /** Gone from everywhere else: from here too. */
  private async goOnHere(show: Show): Promise<void> {
    const places = await this.of(show);
    if (places.some(({ airingId, state }) => airingId !== null && state !== 'gone' && state !== 'cannot')) return;
    // Another channel that was the last at the same moment may have been first.
    if (!(await this.showRows.byId(show.id))) return;
    await this.removal.remove(show, show.id);
  }
}
