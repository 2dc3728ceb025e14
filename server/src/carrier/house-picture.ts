// The picture of house pages that are for everybody, served beside where it is packed: a planning server that is started anew, or busy, keeps
// nobody from watching. What is not for everybody is served by the planning server, which knows who may see it.
import type { IncomingMessage, ServerResponse } from 'node:http';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { letGo } from '../foundation/let-go';
import { readPlaylist } from '../media/playlist';
import type { Carrier } from './carrier';

const PATH = /^\/live\/([\w-]{1,200})\/(live\.m3u8|\d+-\d+\.ts)(?:\?.*)?$/;
/** The newest parts of some shows: each is asked for by all who watch, within a few seconds. */
const MOST_PARTS = 96;
/** So many answers at once, and whoever takes longer over one is let go: pictures come before those who watch here. */
const MOST_ANSWERS = 1_500;
const ANSWER_MAY_TAKE_MS = 20_000;

export class HousePicture {
  private readonly parts = new Map<string, Promise<Buffer>>();
  private answering = 0;

  constructor(private readonly carrier: Pick<Carrier, 'openFolder'>) {}

  /** Answers a request for a playlist or a part of it (HLS, RFC 8216). False: it is for something else. */
  answer(request: IncomingMessage, response: ServerResponse): boolean {
    const [, slug, part] = PATH.exec(request.url ?? '') ?? [];
    if (slug === undefined || part === undefined) return false;
    // Anybody's page may show what is for everybody (Fetch standard, CORS protocol).
    response.setHeader('access-control-allow-origin', '*');
    response.setHeader('cross-origin-resource-policy', 'cross-origin');
    if (request.method !== 'GET' && request.method !== 'HEAD') this.end(response, 405);
    else if (this.answering >= MOST_ANSWERS) this.end(response, 503);
    else letGo('the picture of a house page', this.send(slug, part, request.method === 'HEAD', response));
    return true;
  }

  private async send(slug: string, part: string, headOnly: boolean, response: ServerResponse): Promise<void> {
    this.answering += 1;
    const late = setTimeout(() => response.destroy(), ANSWER_MAY_TAKE_MS);
    response.once('close', () => {
      this.answering -= 1;
      clearTimeout(late);
    });
    const folder = this.carrier.openFolder(slug);
    try {
      if (folder === null) return this.end(response, 404);
      const playlist = part.endsWith('.m3u8');
      const bytes = await (playlist ? readPlaylist(join(folder, part)) : this.part(join(folder, part)));
      response.writeHead(200, {
        'content-type': playlist ? 'application/vnd.apple.mpegurl' : 'video/mp2t',
        'content-length': bytes.length,
        'cache-control': playlist ? 'no-store' : 'public, max-age=60',
      });
      response.end(headOnly ? undefined : bytes);
    } catch {
      // Not there yet, or any more.
      if (response.headersSent) response.destroy();
      else this.end(response, 404);
    }
  }

  /** Read once for all who ask. */
  private part(path: string): Promise<Buffer> {
    let bytes = this.parts.get(path);
    if (!bytes) {
      bytes = readFile(path);
      this.parts.set(path, bytes);
      bytes.catch(() => this.parts.delete(path));
      if (this.parts.size > MOST_PARTS) this.parts.delete(this.parts.keys().next().value!);
    }
    return bytes;
  }

  private end(response: ServerResponse, status: number): void {
    response.writeHead(status, { 'cache-control': 'no-store', ...(status === 503 && { 'retry-after': '2' }) });
    response.end();
  }
}
