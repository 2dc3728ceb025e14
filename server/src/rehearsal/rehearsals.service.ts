// Rehearsals: a show is run whole, on the way that it takes on the evening, and reaches nobody. Each is a show of its own that stands on no channel
// and in no list: what has no airing has nowhere to go.
import type { RehearsalView } from '@lantern/contract';
import { DAY_MS, instant, MINUTE_MS, ownValues } from '@lantern/core';
import { Inject, Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { randomBytes, randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { DataSource } from 'typeorm';
import type { Subscription } from 'rxjs';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { letGo } from '../foundation/let-go';
import { RegularWork } from '../foundation/regular-work';
import { SETTINGS, type Settings } from '../foundation/settings';
import { together, TurnByTurn } from '../foundation/together';
import { recordingFolder } from '../media/stretch';
import type { Person } from '../people/people.entities';
import { BLANK_SHOW } from '../shows/blank';
import type { Show } from '../shows/show.entities';
import { ShowRows, type OwnColumns } from '../shows/show-rows';
import { ShowsService } from '../shows/shows.service';
import { Thumbnails, waitingOf } from '../shows/thumbnails';

const KEPT_MS = 7 * DAY_MS;
/** Of one show; the oldest makes way. */
const MOST_KEPT = 6;
/** So long after its start nobody comes any more. */
const FORGOTTEN_MS = 60 * MINUTE_MS;
const SWEEP_EVERY_MS = 60 * MINUTE_MS;
/** Its start is so far ahead when it is made: time to look around, and for the count. */
const BEGINS_AFTER_MS = 3 * MINUTE_MS;
/** What concerns the public has no place in it, whatever the sheet says. */
const UNHEARD = {
  ...{ announcements: [], said: [], posted: {}, reminders: false, houseReplay: false, ownSounds: false, embedSites: [], ticked: [], toLook: [] },
  houseVisibility: 'invited people' as const,
};

@Injectable()
export class RehearsalsService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('rehearsals', SWEEP_EVERY_MS, () => this.sweep());
  private readonly turns = new TurnByTurn();
  private heard: Subscription | null = null;

  constructor(
    private readonly database: DataSource,
    private readonly rows: ShowRows,
    private readonly shows: ShowsService,
    private readonly thumbnails: Thumbnails,
    private readonly bus: Bus,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  onApplicationBootstrap(): void {
    this.work.start();
    this.heard = this.bus.on('show').subscribe(({ showId }) =>
      letGo(
        'having a rehearsal follow its show',
        this.turns.run(showId, () => this.follow(showId)),
      ),
    );
  }

  onApplicationShutdown(): void {
    this.work.stop();
    this.heard?.unsubscribe();
  }

  /** Throws away what is old enough, now. */
  now(): Promise<void> {
    return this.work.now();
  }

  async list(stationId: string, showId: string): Promise<RehearsalView[]> {
    await this.shows.whole(stationId, showId);
    return (await this.rows.rehearsalsOf(showId)).map(viewOf);
  }

  /** Makes a rehearsal ready. A second press, and a second person, find the one that is ready or runs. */
  async begin(person: Person, showId: string): Promise<RehearsalView> {
    const { show } = await this.shows.whole(person.stationId, showId);
    if (show.rehearsalOf !== null) throw new PlainError(409, 'This is a rehearsal already.');
    if (show.pictureFrom === 'encoder')
      throw new PlainError(
        409,
        'An encoder sends this show straight to its channels: nothing of it passes here that could be rehearsed. Choose the stage or an outside line under Camera.',
      );
    if (show.state === 'onAir' || show.state === 'interrupted') throw new PlainError(409, 'This show is on air. It can be rehearsed before, or after.');
    return this.turns.run(showId, async () => {
      const open = (await this.rows.rehearsalsOf(showId)).find(({ state }) => state !== 'over');
      // One that was made ready long ago and never begun makes way.
      const stale = open?.state === 'placed' && open.startsAt < this.clock.now() - FORGOTTEN_MS;
      if (open && !stale) return viewOf(open);
      if (open) await this.remove(open);
      for (const old of (await this.rows.rehearsalsOf(showId)).slice(MOST_KEPT - 1)) await this.remove(old);
      return viewOf(await this.make(person, show));
    });
  }

  private async make(person: Person, of: Show): Promise<Show> {
    const now = this.clock.now();
    const rehearsal: Show = {
      ...BLANK_SHOW,
      ...this.followed(of),
      ...{ id: randomUUID(), stationId: of.stationId, rehearsalOf: of.id },
      ...{ slug: randomBytes(9).toString('base64url'), short: randomBytes(9).toString('base64url') },
      ...{ state: 'placed' as const, startsAt: instant(Math.ceil((now + BEGINS_AFTER_MS) / MINUTE_MS) * MINUTE_MS) },
      ...{ changedBy: person.name, changedAt: now, madeAt: now },
      ...{ thumbnail: null, waiting: null },
    };
    try {
      // The files come first, so that no row tells of a picture that is not there.
      Object.assign(rehearsal, await this.shows.copiedPictures(picturesOf(of), rehearsal));
      await this.rows.add(rehearsal);
    } catch (error) {
      await this.forgetFiles(rehearsal);
      throw error;
    }
    this.bus.tell({ kind: 'show', showId: rehearsal.id });
    this.bus.tell({ kind: 'show', showId: of.id });
    return rehearsal;
  }

  /** What was put right on the sheet meanwhile is put right in its rehearsal. */
  private async follow(showId: string): Promise<void> {
    const [open] = (await this.rows.rehearsalsOf(showId)).filter(({ state }) => state !== 'over');
    const show = open && (await this.rows.byId(showId));
    if (!open || !show || open.version === show.version) return;
    await this.rows.setRehearsed(open.id, { ...this.followed(show), ...(await this.shows.copiedPictures(picturesOf(show), open)) });
    this.bus.tell({ kind: 'show', showId: open.id });
  }

  private followed(show: Show): Omit<OwnColumns, 'thumbnail' | 'waiting' | 'changedAt' | 'changedBy'> {
    const { zone, lengthMs, version } = show;
    return { ...ownValues(show), ...UNHEARD, zone, lengthMs, version };
  }

  /** Those that are old enough, and those of shows that are gone, are thrown away with all that was recorded. */
  private async sweep(): Promise<void> {
    const now = this.clock.now();
    for (const rehearsal of await this.rows.rehearsalsMadeBefore(now)) {
      const old = rehearsal.madeAt < now - KEPT_MS || !(await this.rows.byId(rehearsal.rehearsalOf!));
      if (old && rehearsal.state !== 'onAir' && rehearsal.state !== 'interrupted') await this.remove(rehearsal);
    }
  }

  /** The files first: a row without them is swept once more, files without a row would lie there for ever. */
  private async remove(rehearsal: Show): Promise<void> {
    await this.forgetFiles(rehearsal);
    await together(this.database, () => this.rows.remove(rehearsal.id));
    // Once more: a card may have been finished between the two. One that is finished later takes itself away.
    await this.forgetFiles(rehearsal);
    this.bus.tell({ kind: 'show', showId: rehearsal.rehearsalOf! });
  }

  private async forgetFiles(show: Pick<Show, 'id'>): Promise<void> {
    await this.thumbnails.forget(show);
    await this.thumbnails.forget(waitingOf(show));
    await rm(recordingFolder(this.settings, show.id), { recursive: true, force: true });
  }
}

function viewOf({ id, state, madeAt, onAirSince, endedAt }: Show): RehearsalView {
  const now = state === 'over' ? 'over' : state === 'placed' ? 'ready' : 'running';
  return { id, state: now, madeAt, onAirSince, endedAt, until: madeAt + KEPT_MS };
}

const picturesOf = ({ id, thumbnail, waiting }: Show) => ({ id, picture: thumbnail, waiting });
