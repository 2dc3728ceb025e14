// Requests to networks, with time limits, bounded retries, and every kind of bad answer turned into one
// of three outcomes.
import 'reflect-metadata';
import { plainToInstance } from 'class-transformer';
import { validateSync, type ValidationError } from 'class-validator';
import { AccessEnded, NetworkRefusal, NetworkSilence, type RefusalReader, type ReplyContract, type RequestOptions } from './connector';

const DEFAULT_TIMEOUT_MS = 8_000;
const LARGEST_ANSWER = 1_000_000; // bytes
const TRIES = 3;
const FIRST_WAIT_MS = 250;
/** No new try begins after so long: somebody is waiting for the answer. */
const PATIENCE_MS = 12_000;

export interface RawReply {
  status: number;
  body: unknown;
  retryAfterMs: number | null;
}

/** One request, without retry. Throws NetworkSilence where no readable answer came. */
export async function ask(url: string, token: string | null, options: Omit<RequestOptions, 'reply'>): Promise<RawReply> {
  const { method = 'GET', body, headers = {}, timeoutMs = DEFAULT_TIMEOUT_MS, signal } = options;
  const isBytes = Buffer.isBuffer(body);
  let response: Response;
  let text: string;
  try {
    response = await fetch(url, {
      method,
      headers: {
        accept: 'application/json',
        ...(token ? { authorization: `Bearer ${token}` } : {}),
        ...(body ? { 'content-type': isBytes ? 'image/jpeg' : 'application/json' } : {}),
        ...headers,
      },
      body: body ? (isBytes ? new Uint8Array(body) : JSON.stringify(body)) : undefined,
      redirect: 'error',
      signal: AbortSignal.any([AbortSignal.timeout(timeoutMs), ...(signal ? [signal] : [])]),
    });
    text = await boundedText(response);
  } catch (error) {
    if (error instanceof NetworkSilence) throw error;
    const slow = (error as { name?: string } | null)?.name === 'TimeoutError';
    throw new NetworkSilence(slow ? `no answer within ${timeoutMs / 1000} s` : 'it could not be reached');
  }
  const reply = { status: response.status, body: null, retryAfterMs: readRetryAfter(response.headers.get('retry-after')) };
  if (!text) return reply;
  try {
    return { ...reply, body: JSON.parse(text) };
  } catch {
    throw new NetworkSilence('its answer could not be read');
  }
}

/** Gives up as soon as more came than anybody reads, instead of keeping what a network goes on sending. */
async function boundedText(response: Response): Promise<string> {
  const pieces: Uint8Array[] = [];
  let bytes = 0;
  for await (const piece of response.body ?? []) {
    bytes += (piece as Uint8Array).byteLength;
    if (bytes > LARGEST_ANSWER) throw new NetworkSilence('its answer was far too long');
    pieces.push(piece as Uint8Array);
  }
  return Buffer.concat(pieces).toString('utf8');
}

/** Turns a reply into what its contract promises, or into the error that its status stands for. */
export function bodyOrError<T>(reply: RawReply, readRefusal: RefusalReader, contract: ReplyContract<T>): T {
  if (reply.status < 300) return decoded(reply.body, contract);
  if (reply.status === 401) throw new AccessEnded('access was withdrawn');
  if (reply.status === 429) throw new NetworkSilence('it is busy', true, reply.retryAfterMs);
  if (reply.status >= 500) throw new NetworkSilence('it is in trouble', reply.retryAfterMs !== null, reply.retryAfterMs);
  const { reason, text } = readRefusal(reply.body) ?? { reason: 'unknown', text: 'It gave no reason.' };
  throw new NetworkRefusal(reason, text.slice(0, 300), reply.status);
}

/** The body as its contract says. Throws NetworkSilence, which names the first field that is wrong, but never what it holds. */
export function decoded<T>(body: unknown, contract: ReplyContract<T>): T {
  if (contract === 'nothing') {
    if (body !== null) throw new NetworkSilence('it answered something else than was agreed');
    return undefined as T;
  }
  if (typeof body !== 'object' || body === null || Array.isArray(body)) throw new NetworkSilence('it answered something else than was agreed');
  let reply: T;
  let wrong: ValidationError[];
  try {
    reply = plainToInstance(contract, body);
    wrong = validateSync(reply as object, { forbidUnknownValues: true, stopAtFirstError: true });
  } catch {
    // Such as a body nested deeper than can be walked.
    throw new NetworkSilence('its answer could not be read');
  }
  if (wrong[0]) throw new NetworkSilence(`it answered something else than was agreed (${pathOf(wrong[0])})`);
  return reply;
}

/** The way to the field that is wrong, by the names of the contract: `items.0.lineId`. */
const pathOf = ({ property, children }: ValidationError): string => (children?.[0] ? `${property}.${pathOf(children[0])}` : property);

/**
 * Tries `once` again while no answer comes, with doubling, spread waits or the one that the network
 * asked for. A request that may not be repeated is tried again only when the network surely did nothing.
 */
export async function patiently<T>(
  { repeatable = false, tries = TRIES, method = 'GET' }: Pick<RequestOptions, 'repeatable' | 'tries' | 'method'>,
  once: () => Promise<T>,
  pause: (ms: number) => Promise<void> = (ms) => new Promise((done) => setTimeout(done, ms)),
  dice: () => number = Math.random,
): Promise<T> {
  const began = Date.now();
  for (let tried = 1; ; tried++) {
    try {
      return await once();
    } catch (error) {
      if (!(error instanceof NetworkSilence) || tried >= tries) throw error;
      if (!(repeatable || method === 'GET' || error.notDone)) throw error;
      const waitMs = error.retryAfterMs ?? FIRST_WAIT_MS * 2 ** (tried - 1) * (0.8 + 0.4 * dice());
      if (Date.now() - began + waitMs > PATIENCE_MS) throw error;
      await pause(waitMs);
    }
  }
}

/** Seconds, or a date (RFC 9110, section 10.2.3), as ms from now; null for none or nonsense. */
function readRetryAfter(header: string | null): number | null {
  if (!header) return null;
  if (/^\d+$/.test(header)) return Number(header) * 1000;
  const at = Date.parse(header);
  return Number.isNaN(at) ? null : Math.max(0, at - Date.now());
}

/** Reads a field that should be a text. */
export const textIn = (body: unknown, field: string): string | null => {
  const value = (body as Record<string, unknown> | null)?.[field];
  return typeof value === 'string' ? value : null;
};
