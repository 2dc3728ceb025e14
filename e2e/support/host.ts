// A host who uses the product's interface without a browser, to bring a journey quickly to its point.
import type {
  ChannelIdentity,
  ChannelView,
  LinesOfChannel,
  LinkChoices,
  LinkStarted,
  PlaceResult,
  RevealedKey,
  ShowDraft,
  ShowReport,
  ShowView,
} from '@lantern/contract';
import { BLANK_SHEET, instant, wallTimeOf, type NetworkId } from '@lantern/core';
import type { BrowserContext, Page } from '@playwright/test';
import type { Product } from './product';

export const OWNER = { stationName: 'Alderfell Sky Club', name: 'Maren Tolliver', email: 'maren@alderfell.example', password: 'lantern-light' };
export const ZONE = 'Europe/Dublin';
const GRID_MS = 300_000;

export class Reply<T> {
  constructor(
    readonly status: number,
    readonly body: T,
  ) {}
}

export class Host {
  cookie = '';

  constructor(private readonly product: Product) {}

  async ask<T>(method: string, path: string, body?: object | Buffer): Promise<Reply<T>> {
    const bytes = Buffer.isBuffer(body);
    const reply = await fetch(`${this.product.url}${path}`, {
      method,
      headers: { cookie: this.cookie, ...(body ? { 'content-type': bytes ? 'application/octet-stream' : 'application/json' } : {}) },
      body: body ? (bytes ? new Uint8Array(body) : JSON.stringify(body)) : undefined,
      redirect: 'manual',
    });
    const cookie = reply.headers.get('set-cookie');
    if (cookie) this.cookie = cookie.split(';')[0]!;
    const text = await reply.text();
    if (reply.status >= 300 && reply.status < 400) return new Reply(reply.status, reply.headers.get('location') as T);
    return new Reply(reply.status, (text.startsWith('{') || text.startsWith('[') ? JSON.parse(text) : text) as T);
  }

  async must<T>(method: string, path: string, body?: object | Buffer): Promise<T> {
    const reply = await this.ask<T>(method, path, body);
    if (reply.status >= 400) throw new Error(`${method} ${path}: ${reply.status} ${JSON.stringify(reply.body)}`);
    return reply.body;
  }

  /** Opens the station on a new server. */
  async setUp(): Promise<void> {
    await this.must('POST', '/api/set-up', { ...OWNER, code: this.product.setUpCode, zone: ZONE });
  }

  /** Grants access as a person does, up to the choice of the account; answers with the link's identifier. */
  async beginLink(network: NetworkId): Promise<string> {
    const { consentUrl } = await this.must<LinkStarted>('POST', '/api/channels/links', { network });
    const consent = await fetch(consentUrl, {
      method: 'POST',
      redirect: 'manual',
      body: new URLSearchParams({ name: 'maren', password: 'lantern-light', answer: 'allow' }),
    });
    const back = new URL(consent.headers.get('location')!);
    const page = await this.must<string>('GET', `${back.pathname}${back.search}`);
    return page.split('/').at(-1)!;
  }

  async link(network: NetworkId, identityId: string): Promise<ChannelView> {
    const linkId = await this.beginLink(network);
    await this.must<LinkChoices>('GET', `/api/channels/links/${linkId}`);
    return this.must<ChannelView>('POST', `/api/channels/links/${linkId}`, { identityId });
  }

  /** The key of a channel's first line, asked for as a person may: with the password. */
  async keyOf(channelId: string): Promise<{ lineId: string; key: string }> {
    const { lines } = await this.must<LinesOfChannel>('GET', `/api/channels/${channelId}/lines`);
    await this.must('POST', '/api/session/password', { password: OWNER.password });
    const { key } = await this.must<RevealedKey>('POST', `/api/lines/${lines[0]!.id}/reveal`, { purpose: 'show' });
    return { lineId: lines[0]!.id, key };
  }

  draftOf(startsAt: number, channels: ChannelIdentity[], change: Partial<ShowDraft> = {}): ShowDraft {
    return {
      ...BLANK_SHEET,
      title: 'Dusk Report',
      description: 'What to look for tonight from the fell.',
      ...wallTimeOf(instant(startsAt), ZONE),
      zone: ZONE,
      lengthMin: 40,
      channelIds: channels.map(({ id }) => id),
      ...change,
    };
  }

  /** Links an account by the pages, as a person does. */
  static async linkByPages(page: Page, network: string, account: RegExp): Promise<void> {
    await page.getByRole('button', { name: `Link an account on ${network}` }).click();
    await page.getByLabel(`Your name on ${network}`).fill('maren');
    await page.getByLabel('Password').fill('lantern-light');
    await page.getByRole('button', { name: 'Allow' }).click();
    await page.getByRole('radio', { name: account }).first().check();
    await page.getByRole('button', { name: 'Make it a channel' }).click();
  }

  /** A station with both demo channels and a show placed on them, and the clock just past its start. */
  async showAtItsStart(): Promise<ShowView> {
    await this.setUp();
    return this.placedAtItsStart([await this.link('reelmoor', 'rm-alderfell'), await this.link('townfold', 'tf-alderfell')]);
  }

  /** Another show, on these channels, and the clock just past its start. */
  async placedAtItsStart(channels: ChannelIdentity[]): Promise<ShowView> {
    const startsAt = soonestStart(this.product.now());
    const show = await this.must<ShowView>('POST', '/api/shows', this.draftOf(startsAt, channels));
    const placed = await this.must<PlaceResult>('POST', `/api/shows/${show.id}/place`);
    this.product.travelTo(startsAt + 2_000);
    return placed.show;
  }

  /** A show of this station that was on air on a channel of its own, and is wrapped up. */
  async overShow(): Promise<{ id: string }> {
    const hall = await this.must<ChannelView>('POST', '/api/channels/typed-in', { name: 'Hall', address: 'rtmp://127.0.0.1:9/hall', key: 'hall-key-1' });
    const show = await this.must<ShowView>(
      'POST',
      '/api/shows',
      this.draftOf(soonestStart(this.product.now() + 3 * 3_600_000), [hall], { title: 'Committee Stream' }),
    );
    for (const action of ['place', 'air', 'wrap']) await this.must('POST', `/api/shows/${show.id}/${action}`);
    return show;
  }

  report(showId: string): Promise<ShowReport> {
    return this.must<ShowReport>('GET', `/api/shows/${showId}/report`);
  }

  /** Lets a browser go on as this host. */
  async lendTo(context: BrowserContext): Promise<void> {
    const [name, value] = this.cookie.split('=');
    await context.addCookies([{ name: name!, value: value!, url: this.product.url, httpOnly: true, sameSite: 'Lax' }]);
  }
}

/** The soonest start that both networks take: 15 minutes ahead, on a full five minutes. */
export function soonestStart(now: number): number {
  return Math.ceil((now + 16 * 60_000) / GRID_MS) * GRID_MS;
}
