// The public pages themselves, and what other programs read of them.
import { instant, summaryOf, writeAtom, writeCalendar } from '@lantern/core';
import { Controller, Get, Inject, Param, Post, Query, Req, Res } from '@nestjs/common';
import { ReminderRequest } from '@lantern/contract';
import { SkipThrottle, Throttle } from '@nestjs/throttler';
import { validate } from 'class-validator';
import type { Request, Response } from 'express';
import { KeptPages } from '../doors/kept-pages';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { InvitationsService } from '../invitations/invitations.service';
import type { Station } from '../people/people.entities';
import { Public } from '../people/signed-in';
import { RemindersService } from '../reminders/reminders.service';
import { SubscriptionsService } from '../reminders/subscriptions.service';
import { AiringsService } from '../shows/airings.service';
import type { Show } from '../shows/show.entities';
import { isCalledOff } from '../shows/show-facts';
import { nothingPage, PageTemplate, showPage, stationPage, wordsPage } from './house-html';
import { HouseViewsService } from './house-views.service';
import { FEW, NOTHING_HERE, VisitorsService, type Admitted } from './visitors.service';
import { Bus } from '../foundation/bus';
import { ShowRows } from '../shows/show-rows';
import { Stations } from '../people/stations';

const MOST_SHOWS = 200;

@Public()
@SkipThrottle()
@Controller()
export class PagesController {
  private readonly template: PageTemplate;
  private readonly kept = new KeptPages();

  constructor(
    private readonly stations: Stations,
    private readonly showRows: ShowRows,
    private readonly visitors: VisitorsService,
    private readonly views: HouseViewsService,
    private readonly airings: AiringsService,
    private readonly reminders: RemindersService,
    private readonly subscriptions: SubscriptionsService,
    private readonly invitations: InvitationsService,
    private readonly clock: Clock,
    bus: Bus,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    this.template = new PageTemplate(settings.webDir);
    bus.on('show', 'air', 'recording').subscribe(() => this.kept.drop());
  }

  @Get('on/:slug')
  async show(@Req() request: Request, @Param('slug') slug: string, @Query('pass') pass: unknown, @Res() response: Response): Promise<void> {
    const admitted = await this.admitted(request, slug);
    if (typeof pass === 'string' && admitted?.invitation) {
      this.visitors.keepPass(response, slug, pass);
      return response.redirect(303, `/on/${slug}`);
    }
    response.setHeader('cache-control', 'no-store');
    if (!admitted) return this.send(response.status(404), nothingPage(NOTHING_HERE));
    const { show, station } = admitted;
    const listed = show.houseVisibility === 'everyone';
    const oembedUrl = listed && show.embedSites.length ? `${this.settings.publicUrl}/oembed?url=${encodeURIComponent(this.airings.houseUrl(show))}` : null;
    const facts = await this.views.publicShow(show, station);
    this.send(response, showPage(await this.views.view(admitted), facts, { listed, oembedUrl, embedded: false }));
  }

  /** The short address: it never changes, and leads to the page while that is for everyone. */
  @Get('s/:short')
  async short(@Param('short') short: string, @Res() response: Response): Promise<void> {
    const show = await this.showRows.byShort(short);
    if (!show || (show.state === 'draft' && !isCalledOff(show)) || show.houseVisibility !== 'everyone')
      return this.send(response.status(404), nothingPage(NOTHING_HERE));
    response.redirect(302, this.airings.houseUrl(show, 'short address'));
  }

  /** The page within a page of another site, where the show's host allows that site. */
  @Get('embed/:slug')
  async embed(@Req() request: Request, @Param('slug') slug: string, @Res() response: Response): Promise<void> {
    const admitted = await this.admitted(request, slug);
    const sites = admitted?.show.embedSites ?? [];
    response.removeHeader('x-frame-options'); // It knows one site only; the policy below is what browsers go by.
    response.setHeader(
      'content-security-policy',
      `${String(response.getHeader('content-security-policy') ?? '').replace(/;?frame-ancestors[^;]*/, '')};frame-ancestors ${["'self'", ...sites].join(' ')}`,
    );
    response.setHeader('cache-control', 'no-store');
    if (!admitted || !sites.length) return this.send(response.status(404), nothingPage('This show is not to be shown within other sites.'));
    const facts = await this.views.publicShow(admitted.show, admitted.station);
    this.send(response, showPage(await this.views.view(admitted), facts, { listed: false, oembedUrl: null, embedded: true }));
  }

  /** oEmbed 1.0, section 2: how another site shows the page, from its address. */
  @Get('oembed')
  async oembed(@Req() request: Request, @Query('url') url: unknown, @Query('format') format: unknown): Promise<object> {
    if (format !== undefined && format !== 'json') throw new PlainError(501, 'Only JSON is spoken here.');
    const slug = typeof url === 'string' && url.startsWith(`${this.settings.publicUrl}/on/`) ? url.slice(`${this.settings.publicUrl}/on/`.length) : '';
    const admitted = await this.admitted(request, slug);
    if (!admitted || admitted.show.houseVisibility !== 'everyone' || !admitted.show.embedSites.length) throw new PlainError(404, NOTHING_HERE);
    const { title, stationName, pictureUrl } = await this.views.publicShow(admitted.show, admitted.station);
    const src = `${this.settings.publicUrl}/embed/${slug}`;
    return {
      ...{ version: '1.0', type: 'video', title, provider_name: stationName, width: 640, height: 360 },
      ...(pictureUrl && { thumbnail_url: pictureUrl, thumbnail_width: 1280, thumbnail_height: 720 }),
      html: `<iframe src="${src}" width="640" height="360" allow="autoplay; fullscreen" title="Show" style="border:0"></iframe>`,
    };
  }

  @Get('at/:slug')
  async station(@Param('slug') slug: string, @Req() request: Request, @Res() response: Response): Promise<void> {
    const station = await this.stations.bySlug(slug);
    if (!station) return this.send(response.status(404), nothingPage('There is no station at this address.'));
    await this.kept.send(request, response, `page ${slug}`, 'text/html; charset=utf-8', () => this.stationHtml(station));
  }

  private async stationHtml(station: Station): Promise<string> {
    const shows = await Promise.all((await this.listed(station)).map(async (show) => ({ show, facts: await this.views.publicShow(show, station) })));
    const rows = shows.map(({ show, facts: { title, url, startsAt, zone, state, pictureUrl } }) => {
      const thumbnailUrl = pictureUrl && pictureUrl.slice(this.settings.publicUrl.length);
      return { title, url, startsAt, zone, state, thumbnailUrl, thumbnailAlternative: show.thumbnailAlternative };
    });
    return this.template.fill(stationPage({ name: station.name, url: this.views.stationUrl(station) }, rows));
  }

  /** From the form on the station's page, which works without script. */
  @SkipThrottle({ default: false })
  @Throttle(FEW)
  @Post('at/:slug/subscribe')
  async subscribe(@Param('slug') slug: string, @Req() request: Request, @Res() response: Response): Promise<void> {
    const station = await this.known(slug);
    const email = new URLSearchParams(Buffer.isBuffer(request.body) ? request.body.toString('utf8') : '').get('email') ?? '';
    const [wrong] = await validate(Object.assign(new ReminderRequest(), { email }));
    if (wrong) {
      const words = `${Object.values(wrong.constraints ?? {})[0] ?? 'This address cannot be taken.'} Go back and write it another way.`;
      return this.send(response.status(400), wordsPage('This address cannot be taken', words));
    }
    await this.subscriptions.ask(station, email);
    this.send(response.status(202), wordsPage('Look into your mail', 'Confirm there, and you will hear of new shows.'));
  }

  @Get('at/:slug/feed.atom')
  async feed(@Param('slug') slug: string, @Req() request: Request, @Res() response: Response): Promise<void> {
    const station = await this.known(slug);
    await this.kept.send(request, response, `feed ${slug}`, 'application/atom+xml; charset=utf-8', () => this.feedXml(station));
  }

  private async feedXml(station: Station): Promise<string> {
    const pageUrl = this.views.stationUrl(station);
    const entries = (await this.listed(station)).map(async (show) => {
      const { title, description, url, startsAt, zone } = await this.views.publicShow(show, station);
      return { id: `urn:uuid:${show.id}`, title, text: summaryOf(description, 1_000), url, startsAt, zone, changedAt: instant(show.changedAt) };
    });
    return writeAtom({ name: station.name, selfUrl: `${pageUrl}/feed.atom`, pageUrl, entries: await Promise.all(entries) }, this.clock.now());
  }

  @Get('at/:slug/calendar.ics')
  async calendar(@Param('slug') slug: string, @Req() request: Request, @Res() response: Response): Promise<void> {
    const station = await this.known(slug);
    await this.kept.send(request, response, `calendar ${slug}`, 'text/calendar; charset=utf-8', () => this.calendarText(station));
  }

  private async calendarText(station: Station): Promise<string> {
    const events = (await this.listed(station)).map(async (show) => {
      const { title, description, url, startsAt, lengthMs, zone } = await this.views.publicShow(show, station);
      return {
        ...{ uid: `${show.id}@noble-lantern`, title, text: summaryOf(description, 500), url, startsAt, lengthMs, zone, repeat: null, insteadOf: null },
        ...{ sequence: show.version, changedAt: instant(show.changedAt), status: isCalledOff(show) ? ('CANCELLED' as const) : ('CONFIRMED' as const) },
      };
    });
    return writeCalendar(station.name, await Promise.all(events), this.clock.now());
  }

  /** Only a person presses the button: programs that look into mails follow every link in them. */
  @Get('reminders/:what/:secret')
  ask(@Param('what') what: string, @Param('secret') secret: string, @Res() response: Response): void {
    response.setHeader('cache-control', 'no-store');
    // The address holds a secret that no other site may learn; without any referrer the button's request would name no origin.
    response.setHeader('referrer-policy', 'same-origin');
    if (what === 'confirm') {
      this.send(
        response,
        wordsPage('Be reminded?', 'Press the button, and you hear from us before the show.', {
          path: `/reminders/confirm/${encodeURIComponent(secret)}`,
          label: 'Yes, remind me',
        }),
      );
    } else if (what === 'leave') {
      this.send(
        response,
        this.invitations.isLeaving(secret)
          ? wordsPage('Hear no more?', 'Press the button, and nothing more is written to you about this show. Your invitation stays.', {
              ...{ path: `/reminders/leave/${encodeURIComponent(secret)}`, label: 'Write to me no more' },
            })
          : wordsPage('Hear no more?', 'Press the button, and your address is forgotten.', {
              ...{ path: `/reminders/leave/${encodeURIComponent(secret)}`, label: 'Forget my address' },
            }),
      );
    } else this.send(response.status(404), nothingPage(NOTHING_HERE));
  }

  @Post('reminders/confirm/:secret')
  async confirm(@Param('secret') secret: string, @Res() response: Response): Promise<void> {
    const show = await this.reminders.confirm(secret);
    if (!show && (await this.subscriptions.confirm(secret)))
      return this.send(response.status(200), wordsPage('You will hear of new shows', 'We write when a show is planned that is for everyone.'));
    if (!show)
      return this.send(
        response.status(404),
        wordsPage('This link is used up', 'It was not confirmed within two days, or you have left. Ask anew on the show’s page.'),
      );
    this.send(response.status(200), wordsPage('You will be reminded', `We write a day and an hour before “${show.title}”, and when it starts.`));
  }

  @Post('reminders/leave/:secret')
  async leave(@Param('secret') secret: string, @Res() response: Response): Promise<void> {
    if (this.invitations.isLeaving(secret)) {
      await this.invitations.leave(secret);
      return this.send(response.status(200), wordsPage('You will hear no more of this', 'Your invitation stays: its link leads to the show.'));
    }
    await this.reminders.leave(secret);
    await this.subscriptions.leave(secret);
    this.send(response.status(200), wordsPage('Your address is forgotten', 'You will hear no more of this.'));
  }

  private async admitted(request: Request, slug: string): Promise<Admitted | null> {
    return this.visitors.admit(request, slug).catch((error: unknown) => {
      if (error instanceof PlainError) return null;
      throw error;
    });
  }

  /** Shows that anybody may find, in order of time. */
  private listed({ id }: Station): Promise<Show[]> {
    return this.showRows.public(id, MOST_SHOWS);
  }

  private async known(slug: string): Promise<Station> {
    const station = await this.stations.bySlug(slug);
    if (!station) throw new PlainError(404, 'There is no station at this address.');
    return station;
  }

  private send(response: Response, parts: Parameters<PageTemplate['fill']>[0]): void {
    response.type('html').send(this.template.fill(parts));
  }
}
