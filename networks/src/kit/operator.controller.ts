// The operator's page: faults, access, limits, the facts of accounts, and events changed behind
// everybody's back. For demonstrations and tests; the stand-ins listen on this machine only.
import { Body, Controller, Get, Header, HttpCode, Inject, Post, Query, Res } from '@nestjs/common';
import { ApiExcludeController } from '@nestjs/swagger';
import type { Response } from 'express';
import { DataSource } from 'typeorm';
import { now } from './clock';
import { Grant, type EventRow, type Network } from './entities';
import { Events } from './events';
import { FAULTS, Faults, type Fault } from './faults';
import { Ingest } from './ingest';
import { LIMIT_NAMES, LimitBook, unitOf } from './limits';
import { networkOf } from './oauth.controller';
import { Messages } from './messages';
import { Shares } from './shares';
import { operatorPage } from './operator-page';
import { NETWORK_LOOKS } from './looks';
import { Refusal } from './refusal';
import { SETTINGS, type Settings } from './settings';
import { DAY_MS } from './standing';
import { Visits } from './visits';

/** More at once is no flood but a stand-in that stands still. */
const MOST_WRITTEN = 1_000;
const LONG_AGO_MS = 40 * DAY_MS;

@ApiExcludeController()
@Controller('operator')
export class OperatorController {
  constructor(
    private readonly database: DataSource,
    private readonly faults: Faults,
    private readonly ingest: Ingest,
    private readonly events: Events,
    private readonly limits: LimitBook,
    private readonly visits: Visits,
    private readonly messages: Messages,
    private readonly shares: Shares,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  /** What all stand-ins together have been asked to change, and the encoders that came. */
  @Get('visits')
  counted(): { changes: number; encoders: number } {
    return { changes: this.visits.changes, encoders: this.ingest.came };
  }

  @Get()
  @Header('content-type', 'text/html; charset=utf-8')
  async page(@Query('network') name: string | undefined): Promise<string> {
    const network = name === undefined ? 'reelmoor' : networkOf(name);
    const events = await this.events.all({ network });
    const shares = new Map<string, Awaited<ReturnType<Shares['of']>>>();
    for (const event of events) shares.set(event.id, await this.shares.of(event));
    return operatorPage({
      shares,
      network,
      fault: this.faults.of(network),
      limits: { names: this.limits.names(network), inForce: await this.limits.inForce(network), changes: await this.limits.changes(network) },
      accounts: await this.events.accounts({ network }),
      events: events.filter(({ state }) => state === 'planned' || state === 'public'),
    });
  }

  @Post('faults')
  @HttpCode(200)
  set(@Body() body: { network?: string; fault?: string }, @Res() response: Response): void {
    const network = networkOf(body.network);
    if (!FAULTS.includes(body.fault as Fault)) throw new Refusal(400, 'unknown-fault', `Faults are: ${FAULTS.join(', ')}.`);
    this.faults.set(network, body.fault as Fault);
    if (body.fault === 'down' || body.fault === 'refuse') this.ingest.drop({ network });
    back(response, network);
  }

  @Post('drop')
  @HttpCode(200)
  drop(@Body() body: { network?: string }, @Res() response: Response): void {
    const network = networkOf(body.network);
    this.ingest.drop({ network });
    back(response, network);
  }

  /** `withdrawn`: all that was granted is gone. `stale`: tokens run out now. `expired`: so does the right to fresh ones. */
  @Post('access')
  @HttpCode(200)
  async access(@Body() body: { network?: string; becomes?: string }, @Res() response: Response): Promise<void> {
    const network = networkOf(body.network);
    const grants = this.database.getRepository(Grant);
    if (body.becomes === 'withdrawn') await grants.delete({ network });
    else if (body.becomes === 'stale') await grants.update({ network }, { expiresAt: now() - 1 });
    else if (body.becomes === 'expired') await grants.update({ network }, { expiresAt: now() - LONG_AGO_MS });
    else throw new Refusal(400, 'unknown-access', 'Access becomes withdrawn, stale or expired.');
    back(response, network);
  }

  /** Changes a limit from `inDays` days on; announced, or behind everybody's back. */
  @Post('limits')
  @HttpCode(200)
  async changeLimit(
    @Body() body: { network?: string; limit?: string; value?: string; inDays?: string; announced?: string },
    @Res() response: Response,
  ): Promise<void> {
    const network = networkOf(body.network);
    const limit = LIMIT_NAMES.find((each) => each === body.limit);
    if (!limit || !this.limits.names(network).includes(limit)) throw new Refusal(400, 'unknown-limit', `Limits are: ${this.limits.names(network).join(', ')}.`);
    const value = Number(body.value) * unitOf(limit);
    if (!(value >= 0)) throw new Refusal(400, 'bad-value', 'Say how much.');
    await this.limits.change(network, limit, value, now() + Number(body.inDays || 0) * DAY_MS, body.announced !== 'no');
    back(response, network);
  }

  @Post('limits/as-at-first')
  @HttpCode(200)
  async forgetLimits(@Body() body: { network?: string }, @Res() response: Response): Promise<void> {
    const network = networkOf(body.network);
    await this.limits.forgetChanges(network);
    back(response, network);
  }

  /** Sets facts of an account that its network's conditions look at. */
  @Post('accounts')
  @HttpCode(200)
  async setAccount(@Body() body: Record<string, string | undefined>, @Res() response: Response): Promise<void> {
    const [account] = await this.events.accounts({ id: body.account ?? '' });
    if (!account) throw new Refusal(404, 'unknown-account', 'There is no such account.');
    if (body.phoneVerified) account.phoneVerified = body.phoneVerified === 'yes';
    if (body.askedDaysAgo) account.askedAt = body.askedDaysAgo === 'never' ? null : now() - Number(body.askedDaysAgo) * DAY_MS;
    if (body.role === 'owner' || body.role === 'editor' || body.role === 'reader') account.role = body.role;
    if (body.groupAllows) account.groupAllows = body.groupAllows === 'yes';
    if (body.openedDaysAgo) account.openedAt = now() - Number(body.openedDaysAgo) * DAY_MS;
    if (body.connections) account.connections = Number(body.connections);
    if (body.followers) account.followers = Number(body.followers);
    await this.events.saveAccount(account);
    back(response, account.network);
  }

  /** A show that was here before anybody looked: over, without a recording. Answers with where it stands. */
  @Post('past')
  @HttpCode(201)
  async past(@Body() body: Record<'account' | 'title' | 'text' | 'from' | 'to', string | undefined>): Promise<{ id: string; page: string }> {
    const [account] = await this.events.accounts({ id: body.account ?? '' });
    const [publicAt, endedAt] = [Number(body.from), Number(body.to)];
    if (!account || !body.title || !(publicAt < endedAt) || endedAt > now())
      throw new Refusal(400, 'past', 'Say which account, what it was called, and from when to when it was public.');
    const [line] = await this.events.lines(account.id);
    const once = `past ${publicAt} ${endedAt}`;
    const event =
      (await this.events.earlier(account.id, once)) ??
      (await this.events.make({
        ...{ network: account.network, accountId: account.id, title: body.title, text: body.text ?? '', startsAt: publicAt, lengthMs: endedAt - publicAt },
        ...{ visibility: 'everyone', lineId: (line ?? (await this.events.makeLine(account.network, account.id, 'Past', false))).id, beginsBy: 'picture' },
        ...{ delaySeconds: 10, state: 'over', publicAt, endedAt, idempotencyKey: once },
      }));
    return { id: event.id, page: `${this.settings.publicUrl}${NETWORK_LOOKS[event.network].eventPath}/${event.id}` };
  }

  /** Has people write beneath an event, all at once. */
  @Post('messages')
  @HttpCode(200)
  async write(@Body() body: { network?: string; event?: string; words?: string; count?: string }, @Res() response: Response): Promise<void> {
    const network = networkOf(body.network);
    const event = await this.events.find(network, body.event ?? '');
    const count = Math.min(MOST_WRITTEN, Math.max(1, Number(body.count) || 1));
    const standing = this.events.rulesOf(network).mayWrite(event) === 'members' ? 'member' : 'follower';
    const words = body.words?.trim() || 'hello';
    for (let at = 0; at < count; at++) {
      const writer = `Viewer ${at + 1}`;
      await this.messages.write(event, { writerId: `by-${writer}`, writer, standing, text: count > 1 ? `${words} ${at + 1}` : words });
    }
    back(response, network);
  }

  /** Answers for whoever was asked to share an event. */
  @Post('shares')
  @HttpCode(200)
  async share(@Body() body: { network?: string; event?: string; place?: string; answer?: string }, @Res() response: Response): Promise<void> {
    const network = networkOf(body.network);
    const event = await this.events.find(network, body.event ?? '');
    await this.shares.answer(event.id, body.place ?? '', body.answer === 'accepted' ? 'accepted' : 'declined');
    back(response, network);
  }

  /** Changes an event as somebody at its account would, on the network's own pages. */
  @Post('events')
  @HttpCode(200)
  async editEvent(
    @Body() body: { network?: string; event?: string; title?: string; text?: string; minutesLater?: string; adverts?: string; what?: string },
    @Res() response: Response,
  ): Promise<void> {
    const network = networkOf(body.network);
    const event = await this.events.find(network, body.event ?? '');
    if (body.what === 'forget') await this.events.forget(event);
    else if (body.what === 'end') await this.events.finish(event);
    else await this.events.save(edited(event, body));
    back(response, network);
  }
}

function edited(event: EventRow, { title, text, minutesLater, adverts }: { title?: string; text?: string; minutesLater?: string; adverts?: string }): EventRow {
  if (adverts === 'yes' || adverts === 'no') event.chosen = { ...event.chosen, adverts: adverts === 'yes' };
  if (title) event.title = title;
  if (text) event.text = text;
  event.startsAt += Number(minutesLater || 0) * 60_000;
  return event;
}

function back(response: Response, network: Network): void {
  response.redirect(303, `/operator?network=${network}`);
}
