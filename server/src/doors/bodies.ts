// What a request may bring: little by default, more on the few paths that need it, and only after it is known who
// asks. Bounds on size, number and depth come before any rule looks at what a stranger sent.
import { CALENDAR_MAX_BYTES, CAPTIONS_TEXT_MAX, CONTACTS_TEXT_MAX, PACK_MAX_BYTES, THUMBNAIL_MAX_BYTES } from '@lantern/contract';
import { json, raw, type NextFunction, type Request, type RequestHandler, type Response } from 'express';
import { PlainError } from '../foundation/errors';
import type { PeopleService } from '../people/people.service';
import { fromOwnPages, sessionToken } from '../foundation/session-cookie';

/** Enough for any form that a visitor fills in, and for most of what people of the station send. */
export const SMALL_BODY_BYTES = 20_000;
/** What JSON adds to a long text at the most, beside the rest of a request. */
const withinJson = (bytes: number) => 2 * bytes + 20_000;

/** Paths on which signed-in people send more. */
const LARGE: { method: string; path: RegExp; bytes: number }[] = [
  { method: 'POST', path: /^\/api\/shows$/, bytes: 1_000_000 },
  { method: 'PATCH', path: /^\/api\/shows\/[^/]+$/, bytes: 1_000_000 },
  { method: 'POST', path: /^\/api\/calendar$/, bytes: withinJson(CALENDAR_MAX_BYTES) },
  { method: 'POST', path: /^\/api\/contacts\/table$/, bytes: withinJson(CONTACTS_TEXT_MAX) },
  { method: 'POST', path: /^\/api\/shows\/[^/]+\/invitations\/contacts$/, bytes: 60_000 },
  { method: 'PUT', path: /^\/api\/shows\/[^/]+\/(thumbnail|waiting)$/, bytes: THUMBNAIL_MAX_BYTES + 100_000 },
  { method: 'PUT', path: /^\/api\/shows\/[^/]+\/captions$/, bytes: withinJson(CAPTIONS_TEXT_MAX) },
  { method: 'PUT', path: /^\/api\/shows\/[^/]+\/chapters$/, bytes: 100_000 },
  { method: 'POST', path: /^\/api\/artwork$/, bytes: THUMBNAIL_MAX_BYTES + 100_000 },
  { method: 'PUT', path: /^\/api\/me\/picture$/, bytes: THUMBNAIL_MAX_BYTES + 100_000 },
  { method: 'POST', path: /^\/api\/looks\/packs(\/open)?$/, bytes: PACK_MAX_BYTES + 100_000 },
];
/** Films are taken as they come, by whoever handles them, and never held whole. */
const STREAMED = /^\/api\/(shows\/[^/]+\/(trailer|late\/[0-9]+)|door\/own-sound\/[0-9]+|clips|uplink)$/;

/** So many large bodies are held at once; the next waits its turn. */
const LARGE_AT_ONCE = 4;
const LARGE_WAITING = 40;

const DEEPEST = 8;
const MOST_KEYS = 200;
const MOST_ITEMS = 1_000;
const MOST_PARTS = 3_000;

export function bodies(people: PeopleService): RequestHandler[] {
  const turns = new Turns(LARGE_AT_ONCE, LARGE_WAITING);
  const small = parsers(SMALL_BODY_BYTES);
  const large = new Map(LARGE.map((each) => [each, parsers(each.bytes)]));
  const read = async (request: Request, response: Response, next: NextFunction): Promise<void> => {
    const path = request.path;
    if (STREAMED.test(path)) return next();
    const found = LARGE.find((each) => each.method === request.method && each.path.test(path));
    if (!found || Number(request.headers['content-length'] ?? Infinity) <= SMALL_BODY_BYTES) return parse(small, request, response, next);
    // Nothing of it is read before it is known that somebody of the station sends it.
    const mine = fromOwnPages(request) && (await people.personOf(sessionToken(request)));
    if (!mine) {
      response.setHeader('connection', 'close');
      return next(new PlainError(401, 'You are not signed in, or your sign-in has run out. Sign in again.'));
    }
    await turns.take();
    // Whoever gave up while waiting has no end of their own any more that could give the turn back.
    if (response.closed || request.destroyed) return turns.giveBack();
    response.once('close', () => turns.giveBack());
    parse(large.get(found)!, request, response, next, LARGE_MAY_TAKE_MS);
  };
  return [
    (request, response, next) => {
      read(request, response, next).catch(next);
    },
    (request: Request, _response: Response, next: NextFunction) => {
      // Nothing said is the same as an empty object: all of it may be left out, or its rules say what is missing.
      request.body ??= {};
      next(Buffer.isBuffer(request.body) || isBounded(request.body) ? undefined : new PlainError(400, 'This has more parts than anything that is sent here.'));
    },
  ];
}

/** JSON, or bytes: a file that lies about its type is still a file, and is looked at by its handler. */
function parsers(limit: number): RequestHandler[] {
  const isJson = (request: { headers: Record<string, unknown> }) => /^application\/json/.test(String(request.headers['content-type'] ?? ''));
  return [
    json({ limit, strict: true, type: isJson as never }),
    raw({ limit, type: ((request: Request) => !isJson(request) && request.headers['content-length'] !== '0') as never }),
  ];
}

/** A body that does not come to its end in this time is not waited for. */
const SMALL_MAY_TAKE_MS = 20_000;
const LARGE_MAY_TAKE_MS = 300_000;

function parse([first, second]: RequestHandler[], request: Request, response: Response, next: NextFunction, mayTakeMs = SMALL_MAY_TAKE_MS): void {
  // Without a body there is no end of one to wait for, and the answer takes as long as it takes.
  if (request.headers['content-length'] === undefined && request.headers['transfer-encoding'] === undefined) return next();
  const timer = setTimeout(() => request.destroy(), mayTakeMs);
  const read = () => clearTimeout(timer);
  request.once('end', read).once('close', read);
  void first!(request, response, (error?: unknown) => (error ? next(error) : void second!(request, response, next)));
}

/** Whether a value that came as JSON has no more parts than any request has. Looks at no more of them than that. */
export function isBounded(value: unknown): boolean {
  const waiting: [unknown, number][] = [[value, 0]];
  let parts = 0;
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const [part, depth] = next;
    if (typeof part !== 'object' || part === null) continue;
    const inner = Array.isArray(part) ? part : Object.values(part);
    if (depth >= DEEPEST || inner.length > (Array.isArray(part) ? MOST_ITEMS : MOST_KEYS)) return false;
    parts += inner.length;
    if (parts > MOST_PARTS) return false;
    for (const each of inner as unknown[]) waiting.push([each, depth + 1]);
  }
  return true;
}

class Turns {
  private taken = 0;
  private readonly waiting: (() => void)[] = [];

  constructor(
    private readonly most: number,
    private readonly mostWaiting: number,
  ) {}

  take(): Promise<void> {
    if (this.taken < this.most) {
      this.taken += 1;
      return Promise.resolve();
    }
    if (this.waiting.length >= this.mostWaiting) throw new PlainError(503, 'Many files are being sent at once. Try again in a moment.');
    return new Promise((go) => this.waiting.push(go));
  }

  giveBack(): void {
    const next = this.waiting.shift();
    if (next) next();
    else this.taken -= 1;
  }
}
