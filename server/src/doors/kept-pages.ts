// Public pages that cost much to make and are the same for everybody: made once, kept for some seconds, and made anew
// when something changes. An ordinary proxy cache can stand before them.
import { createHash } from 'node:crypto';
import type { Request, Response } from 'express';

/** How long a page may be behind what was changed elsewhere. */
const FRESH_MS = 10_000;
const MOST_PAGES = 200;

interface Page {
  body: string;
  etag: string;
  at: number;
}

export class KeptPages {
  private readonly pages = new Map<string, Promise<Page>>();

  constructor(private readonly now: () => number = Date.now) {}

  /** Something changed that may stand on any of them. */
  drop(): void {
    this.pages.clear();
  }

  /** Sends the page of this name; `make` is asked only where it is not kept. Errors of `make` are thrown, and not kept. */
  async send(request: Request, response: Response, name: string, type: string, make: () => Promise<string>): Promise<void> {
    const { body, etag } = await this.page(name, make);
    response.setHeader('cache-control', `public, max-age=${FRESH_MS / 1_000}`);
    response.setHeader('etag', etag);
    response.setHeader('content-type', type);
    // RFC 9110, section 13.1.2.
    if (request.headers['if-none-match']?.split(/\s*,\s*/).includes(etag)) return void response.status(304).end();
    response.send(body);
  }

  private async page(name: string, make: () => Promise<string>): Promise<Page> {
    const kept = this.pages.get(name);
    const known = kept && (await kept.catch(() => null));
    if (known && this.now() - known.at < FRESH_MS && this.pages.get(name) === kept) return known;
    // Whoever comes while it is being made waits for the same one.
    const making = this.pages.get(name) !== kept ? this.pages.get(name) : undefined;
    if (making) return making;
    const page = make().then((body) => ({ body, etag: `"${createHash('sha256').update(body).digest('base64url').slice(0, 22)}"`, at: this.now() }));
    this.pages.set(name, page);
    page.catch(() => this.pages.get(name) === page && this.pages.delete(name));
    if (this.pages.size > MOST_PAGES) this.pages.delete(this.pages.keys().next().value!);
    return page;
  }
}
