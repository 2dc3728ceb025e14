// Requests to networks, with time limits and every kind of bad answer turned into one of three outcomes.
import { AccessEnded, NetworkRefusal, NetworkSilence, type RequestOptions } from './connector';

const DEFAULT_TIMEOUT_MS = 8_000;
const LARGEST_ANSWER = 1_000_000;

export interface RawReply {
  status: number;
  body: unknown;
}

/** One request, without retry. `readRefusal` takes reason and text from the network's own error shape. */
export async function ask(url: string, token: string | null, options: RequestOptions): Promise<RawReply> {
  const { method = 'GET', body, headers = {}, timeoutMs = DEFAULT_TIMEOUT_MS } = options;
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
      signal: AbortSignal.timeout(timeoutMs),
    });
    text = await response.text();
  } catch (error) {
    const slow = (error as { name?: string } | null)?.name === 'TimeoutError';
    throw new NetworkSilence(slow ? `no answer within ${timeoutMs / 1000} s` : 'it could not be reached');
  }
  if (text.length > LARGEST_ANSWER) throw new NetworkSilence('its answer was far too long');
  if (!text) return { status: response.status, body: null };
  try {
    return { status: response.status, body: JSON.parse(text) };
  } catch {
    throw new NetworkSilence('its answer could not be read');
  }
}

/** Turns a reply into its body, or into the error that its status stands for. */
export function bodyOrError<T>(reply: RawReply): T {
  if (reply.status < 300) return reply.body as T;
  if (reply.status === 401) throw new AccessEnded('access was withdrawn');
  if (reply.status >= 500 || reply.status === 429) throw new NetworkSilence(reply.status === 429 ? 'it is busy' : 'it is in trouble');
  const { reason, text } = refusalIn(reply.body);
  throw new NetworkRefusal(reason, text, reply.status);
}

function refusalIn(body: unknown): { reason: string; text: string } {
  const record = (body ?? {}) as { error?: { reason?: unknown; text?: unknown }; refused?: unknown; because?: unknown };
  const reason = record.error?.reason ?? record.refused;
  const text = record.error?.text ?? record.because;
  return {
    reason: typeof reason === 'string' ? reason : 'unknown',
    text: typeof text === 'string' ? text.slice(0, 300) : 'It gave no reason.',
  };
}
