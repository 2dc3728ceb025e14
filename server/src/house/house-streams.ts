// Streams of changes for all who wait for a show (WHATWG HTML, section 9.2, server-sent events). What is for
// everybody is made once and handed round in turns, so that ten thousand who wait stop nobody's picture.
import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import type { HouseMessage, HousePoll, HouseView } from '@lantern/contract';
import { setImmediate as breathe } from 'node:timers/promises';
import type { Request, Response } from 'express';
import type { Subscription } from 'rxjs';
import { Clock } from '../foundation/clock';
import { InvitationsService } from '../invitations/invitations.service';
import { PlainError } from '../foundation/errors';
import { HouseAudience } from '../air/house-audience';
import { HouseTalkService } from '../mailbag/house-talk.service';
import { PollsService } from '../polls/polls.service';
import { ShowRows } from '../shows/show-rows';
import { HouseViewsService } from './house-views.service';
import { VisitorsService, type Admitted } from './visitors.service';
import { letGo } from '../foundation/let-go';

/** So many are told before anything else gets its turn. */
const AT_ONCE = 100;
const MOST_PER_SHOW = 10_000;
/** Whoever takes nothing of what is sent is let go, and asks anew. */
const BACKLOG_BYTES = 64_000;
/** A stream on which nothing is said is closed by proxies, and a visitor who has gone is noticed by what does not arrive. */
const BREATH_EVERY_MS = 20_000;

interface Audience {
  waiting: Map<Response, Request>;
  changes: Subscription;
  last: HouseView | null;
  /** What is handed round at this moment, and what waits until that is done: only the newest counts. */
  telling: boolean;
  next: HouseView | null;
}

@Injectable()
export class HouseStreams implements OnApplicationShutdown {
  private readonly log = new Logger('streams');
  private readonly audiences = new Map<string, Audience>();
  private readonly timer = setInterval(() => {
    for (const { waiting } of this.audiences.values()) for (const response of waiting.keys()) send(response, ':\n\n');
  }, BREATH_EVERY_MS).unref();

  constructor(
    private readonly visitors: VisitorsService,
    private readonly views: HouseViewsService,
    private readonly counted: HouseAudience,
    private readonly talk: HouseTalkService,
    private readonly polls: PollsService,
    private readonly showRows: ShowRows,
    private readonly invitations: InvitationsService,
    private readonly clock: Clock,
  ) {}

  onApplicationShutdown(): void {
    clearInterval(this.timer);
    for (const { waiting, changes } of this.audiences.values()) {
      changes.unsubscribe();
      for (const response of waiting.keys()) response.end();
    }
    this.audiences.clear();
  }

  /** Whoever was invited and had the page open while the show was on air has come. */
  private async noteCame({ show: { id }, invitation }: Admitted, openedAt: number): Promise<void> {
    const show = invitation && (await this.showRows.byId(id));
    if (!show || show.onAirSince === null || openedAt > (show.endedAt ?? Infinity)) return;
    await this.invitations.came(invitation, this.clock.now());
  }

  /** Opens a stream for a visitor who may see the show. Throws as for a page that there is not. */
  async open(slug: string, request: Request, response: Response): Promise<void> {
    const admitted = await this.visitors.admit(request, slug);
    const first = await this.views.view(admitted);
    let audience = this.audiences.get(slug);
    if (audience && audience.waiting.size >= MOST_PER_SHOW) throw new PlainError(503, 'Very many people wait for this show. The page looks again by itself.');
    // Before the page can ask what was said until now, so that nothing falls between the two.
    const newest = await this.talk.newest(admitted.show.id);
    if (request.socket.destroyed) return;
    response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no', connection: 'close' });
    response.write(eventOf(first));
    if (!audience) {
      audience = {
        waiting: new Map(),
        changes: undefined as never,
        last: null,
        telling: false,
        next: null,
      };
      this.audiences.set(slug, audience);
      const all = audience;
      const { show } = admitted;
      audience.changes = this.views.changes(admitted).subscribe({
        next: (view) => letGo('telling visitors', this.tell(slug, all, view)),
        error: (error: unknown) => this.close(slug, all, error),
      });
      const error = (trouble: unknown) => this.close(slug, all, trouble);
      // With the one goes the other.
      const said = (news: readonly HouseMessage[]) => letGo('telling visitors what was said', this.tellBeside(slug, all, 'said', news));
      audience.changes.add(this.talk.news(show.id, newest).subscribe({ next: said, error }));
      const poll = (news: HousePoll | null) => letGo('telling visitors of a poll', this.tellBeside(slug, all, 'poll', news));
      audience.changes.add(this.polls.news(show, () => this.showRows.mustBe(show.id)).subscribe({ next: poll, error }));
    }
    const mine = audience;
    mine.waiting.set(response, request);
    this.counted.set(slug, mine.waiting.size);
    const openedAt = this.clock.now();
    response.once('close', () => {
      letGo('noting who came', this.noteCame(admitted, openedAt));
      mine.waiting.delete(response);
      this.counted.set(slug, mine.waiting.size);
      if (mine.waiting.size) return;
      mine.changes.unsubscribe();
      if (this.audiences.get(slug) === mine) this.audiences.delete(slug);
    });
    // What changed between the first look and being among those who are told.
    if (mine.last && JSON.stringify({ ...mine.last, now: 0, invitation: null }) !== JSON.stringify({ ...first, now: 0, invitation: null })) {
      await this.tellOne(slug, mine, response, request, mine.last);
    }
  }

  private async tell(slug: string, audience: Audience, view: HouseView): Promise<void> {
    audience.last = view;
    audience.next = view;
    if (audience.telling) return;
    audience.telling = true;
    try {
      for (let now: HouseView | null = audience.next; now; now = audience.next) {
        audience.next = null;
        await this.tellAll(slug, audience, now);
      }
    } catch (error) {
      this.close(slug, audience, error);
    } finally {
      audience.telling = false;
    }
  }

  private async tellAll(slug: string, audience: Audience, view: HouseView): Promise<void> {
    // Where the page is for anybody, nobody has to be asked who they are.
    const open = await this.visitors.isOpen(slug);
    const event = eventOf(view);
    let told = 0;
    for (const [response, request] of [...audience.waiting]) {
      if (open && !hasPass(request)) send(response, event);
      else await this.tellOne(slug, audience, response, request, view);
      if (++told % AT_ONCE === 0) await breathe();
    }
  }

  /** Each piece once, in order: unlike of how the show stands, the newest does not say what came before. */
  private async tellBeside(slug: string, audience: Audience, kind: 'said' | 'poll', news: readonly HouseMessage[] | HousePoll | null): Promise<void> {
    const event = `event: ${kind}\ndata: ${JSON.stringify(news)}\n\n`;
    const open = await this.visitors.isOpen(slug);
    let told = 0;
    for (const [response, request] of [...audience.waiting]) {
      if (open || (await this.isAdmitted(slug, request))) send(response, event);
      if (++told % AT_ONCE === 0) await breathe();
    }
  }

  private async isAdmitted(slug: string, request: Request): Promise<boolean> {
    return this.visitors.admit(request, slug).then(
      () => true,
      (error: unknown) => {
        if (!(error instanceof PlainError)) throw error;
        return false;
      },
    );
  }

  /** Whoever may not see it any more is told no more: the stream ends, and asking anew is answered as for everybody else. */
  private async tellOne(slug: string, audience: Audience, response: Response, request: Request, view: HouseView): Promise<void> {
    try {
      const { invitation } = await this.visitors.admit(request, slug);
      send(response, eventOf({ ...view, invitation: invitation && { name: invitation.name, answer: invitation.answer } }));
    } catch (error) {
      audience.waiting.delete(response);
      response.end();
      if (!(error instanceof PlainError)) this.log.warn(error instanceof Error ? error.message : String(error));
    }
  }

  private close(slug: string, audience: Audience, error: unknown): void {
    this.log.warn(error instanceof Error ? error.message : String(error));
    if (this.audiences.get(slug) === audience) this.audiences.delete(slug);
    audience.changes.unsubscribe();
    for (const response of audience.waiting.keys()) response.end();
  }
}

const eventOf = (view: HouseView): string => `data: ${JSON.stringify(view)}\n\n`;

/** Whoever came by an invitation of their own is told what they answered. */
const hasPass = (request: Request): boolean => /lantern_pass_/.test(request.headers.cookie ?? '') || typeof request.query.pass === 'string';

function send(response: Response, event: string): void {
  if (response.writableLength > BACKLOG_BYTES) return void response.destroy();
  response.write(event);
}
