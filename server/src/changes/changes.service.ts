// One stream of changes per station to its pages (WHATWG HTML, section 9.2, server-sent events), so that sheets, almanac and reports
// hear what changed instead of asking for it again and again. It says what changed, never what it is: that is asked for as ever.
import type { StationChanges } from '@lantern/contract';
import { Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import type { Response } from 'express';
import type { Subscription } from 'rxjs';
import { Bus, type BusEvent } from '../foundation/bus';
import { PlainError } from '../foundation/errors';
import { letGo } from '../foundation/let-go';
import { PeopleService } from '../people/people.service';
import { ShowRows } from '../shows/show-rows';

/** What happens within so long is told in one message. */
const GATHERED_FOR_MS = 200;
/** A stream on which nothing is said is closed by proxies; and the session may have run out. */
const BREATH_EVERY_MS = 10_000;
/** On air something changes all the time: pages that are not the stage hear of it now and then. */
const AIR_EVERY_MS = 5_000;
const BACKLOG_BYTES = 64_000;
const MOST_PER_STATION = 200;
const MOST_KNOWN = 5_000;

/** What pages hear of. */
type Change = Exclude<BusEvent, { kind: 'session ended' | 'outside line closed' | 'guest' }>;

interface Page {
  response: Response;
  session: string;
  token: string;
}

@Injectable()
export class ChangesService implements OnApplicationBootstrap, OnApplicationShutdown {
  /** By station. */
  private readonly pages = new Map<string, Set<Page>>();
  private readonly waiting = new Map<string, StationChanges>();
  /** Whose show it is. */
  private readonly stationOf = new Map<string, string>();
  /** When pages last heard how a show stands on air. */
  private readonly airToldAt = new Map<string, number>();
  private heard: Subscription | null = null;
  private timer: NodeJS.Timeout | null = null;
  private breath: NodeJS.Timeout | null = null;

  constructor(
    private readonly showRows: ShowRows,
    private readonly bus: Bus,
    private readonly people: PeopleService,
  ) {}

  onApplicationBootstrap(): void {
    this.heard = this.bus
      .on('show', 'air', 'recording', 'questions', 'messages', 'polls', 'library', 'team', 'channels', 'jobs')
      .subscribe((event) => letGo('telling pages of a change', this.note(event)));
    this.heard.add(this.bus.on('session ended').subscribe(({ session }) => this.endOf((page) => page.session === session)));
    this.breath = setInterval(() => letGo('pages that listen', this.breathe()), BREATH_EVERY_MS);
  }

  onApplicationShutdown(): void {
    this.heard?.unsubscribe();
    if (this.timer) clearTimeout(this.timer);
    if (this.breath) clearInterval(this.breath);
    this.endOf(() => true);
  }

  /** Has a page hear what changes from now on. */
  open(stationId: string, session: string, token: string, response: Response): void {
    const pages = this.pages.get(stationId) ?? new Set<Page>();
    if (pages.size >= MOST_PER_STATION) throw new PlainError(503, 'Very many pages of this station are open. This one looks for changes by itself.');
    this.pages.set(stationId, pages);
    response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no', connection: 'close' });
    response.write('event: begun\ndata: {}\n\n');
    const page = { response, session, token };
    pages.add(page);
    response.once('close', () => {
      pages.delete(page);
      if (!pages.size && this.pages.get(stationId) === pages) this.pages.delete(stationId);
    });
  }

  private async note(event: Change): Promise<void> {
    if (!this.pages.size) return;
    const stationId = 'stationId' in event ? event.stationId : await this.station(event.showId);
    // Of a show that is gone nobody knows any more whose it was: all are told, and none learns more than that they look again.
    for (const each of stationId === null ? this.pages.keys() : [stationId]) this.gather(each, event);
  }

  private gather(stationId: string, event: Change): void {
    if (!this.pages.has(stationId)) return;
    if (event.kind === 'air') {
      const last = this.airToldAt.get(event.showId) ?? 0;
      if (Date.now() - last < AIR_EVERY_MS) return;
      if (this.airToldAt.size >= MOST_KNOWN) this.airToldAt.clear();
      this.airToldAt.set(event.showId, Date.now());
    }
    const changes = this.waiting.get(stationId) ?? {
      shows: [],
      air: [],
      recordings: [],
      questions: [],
      messages: [],
      polls: [],
      channels: false,
      library: false,
      jobs: false,
      team: false,
    };
    this.waiting.set(stationId, changes);
    const among = (ids: string[], id: string) => void (ids.includes(id) || ids.push(id));
    if (event.kind === 'show') among(changes.shows, event.showId);
    else if (event.kind === 'air') among(changes.air, event.showId);
    else if (event.kind === 'recording') among(changes.recordings, event.showId);
    else if (event.kind === 'questions') among(changes.questions, event.showId);
    else if (event.kind === 'messages') among(changes.messages, event.showId);
    else if (event.kind === 'polls') among(changes.polls, event.showId);
    else changes[event.kind] = true;
    this.timer ??= setTimeout(() => this.tell(), GATHERED_FOR_MS);
  }

  private tell(): void {
    this.timer = null;
    for (const [stationId, changes] of this.waiting) {
      const message = `data: ${JSON.stringify(changes)}\n\n`;
      for (const page of this.pages.get(stationId) ?? []) send(page, message);
    }
    this.waiting.clear();
  }

  private async station(showId: string): Promise<string | null> {
    const known = this.stationOf.get(showId);
    if (known !== undefined) return known;
    const stationId = await this.showRows.stationOf(showId);
    if (this.stationOf.size >= MOST_KNOWN) this.stationOf.clear();
    if (stationId) this.stationOf.set(showId, stationId);
    return stationId;
  }

  private async breathe(): Promise<void> {
    for (const pages of this.pages.values()) {
      for (const page of pages) {
        send(page, 'event: here\ndata: {}\n\n');
        if (!(await this.people.personOf(page.token))) page.response.end();
      }
    }
  }

  private endOf(which: (page: Page) => boolean): void {
    for (const pages of this.pages.values()) for (const page of pages) if (which(page)) page.response.end();
  }
}

function send({ response }: Page, message: string): void {
  // Whoever takes nothing of what is sent is let go, and asks anew.
  if (response.writableLength > BACKLOG_BYTES) return void response.destroy();
  response.write(message);
}
