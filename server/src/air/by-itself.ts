// Shows that go on air at their time by themselves, where a person has said so from a stage.
import type { AirView } from '@lantern/contract';
import { beginsByItself, may, sayNotBegun, type Instant } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { PlainError, Refused } from '../foundation/errors';
import { RegularWork } from '../foundation/regular-work';
import { SETTINGS, type Settings } from '../foundation/settings';
import { OutboxService } from '../mail/outbox.service';
import type { Person } from '../people/people.entities';
import { PeopleService } from '../people/people.service';
import type { Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { ShowsService } from '../shows/shows.service';
import type { StartsBy } from './air.entities';
import { AirService } from './air.service';
import { StageRows } from './stage-rows';

const LOOK_EVERY_MS = 500;

@Injectable()
export class ByItself implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('by itself');
  private readonly work = new RegularWork('shows that begin by themselves', LOOK_EVERY_MS, () => this.look());

  constructor(
    private readonly air: AirService,
    private readonly stages: StageRows,
    private readonly shows: ShowsService,
    private readonly showRows: ShowRows,
    private readonly people: PeopleService,
    private readonly outbox: OutboxService,
    private readonly bus: Bus,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
  }

  /** Has a show begin by itself; `tab`: that tab's stage has it then. Whoever says so last is who it is. */
  async want(person: Pick<Person, 'id' | 'stationId'>, showId: string, tab: string | null): Promise<AirView> {
    const { show } = await this.shows.whole(person.stationId, showId);
    if (show.state !== 'placed') throw new Refused('air: stands nowhere');
    if (show.startsAt <= this.clock.now()) throw new Refused('air: its time has come');
    return this.set(show, { personId: person.id, tab });
  }

  /** Leaves it to a press. */
  async leave(stationId: string, showId: string): Promise<AirView> {
    const { show } = await this.shows.whole(stationId, showId);
    return this.set(show, null);
  }

  private async set({ id, stationId }: Pick<Show, 'id' | 'stationId'>, startsBy: StartsBy | null): Promise<AirView> {
    await this.stages.setStartsBy(id, startsBy);
    this.bus.tell({ kind: 'air', showId: id });
    return this.air.view(stationId, id);
  }

  private async look(): Promise<void> {
    for (const { showId, startsBy } of await this.stages.toBegin()) {
      const show = await this.showRows.byId(showId);
      // What goes wrong with one keeps no other from beginning.
      if (show && startsBy) await this.lookAt(show, startsBy).catch((error: Error) => this.log.error(`${showId}: ${error.message}`, error.stack));
    }
  }

  private async lookAt(show: Show, startsBy: StartsBy): Promise<void> {
    const when = beginsByItself(show.startsAt as Instant, this.clock.now());
    if (when === 'not yet') return;
    // Begun by a press, withdrawn, or over: there is nothing left to begin.
    if (show.state !== 'placed') await this.stages.setStartsBy(show.id, null);
    else if (when === 'too late') await this.giveUp(show, 'Nobody could begin it at its time: the server was not running, or could not.');
    else await this.begin(show, startsBy);
  }

  private async begin(show: Show, { personId, tab }: StartsBy): Promise<void> {
    const person = await this.people.byId(personId);
    if (!person || !may(person.role, 'go on air')) return this.giveUp(show, 'Whoever told it to may not go on air any more.');
    try {
      await this.air.begin(person, show.id, tab);
    } catch (error) {
      if (!(error instanceof PlainError)) throw error;
      // What is only away is waited for, until it is too late.
      if (error.status === 503) return this.log.warn(error.words);
      await this.giveUp(show, error.words);
    }
  }

  /** Told to all who could begin it by hand. */
  private async giveUp(show: Show, why: string): Promise<void> {
    const url = `${this.settings.publicUrl}/shows/${show.id}/stage`;
    const { subject, text } = sayNotBegun({ title: show.title, why, url });
    for (const { email } of await this.people.whoMay(show.stationId, 'go on air')) {
      await this.outbox.post({ stationId: show.stationId, to: email, subject, text, about: `not begun ${show.id} ${show.startsAt}` });
    }
    await this.set(show, null);
  }
}
