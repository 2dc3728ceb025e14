// Requests to the server. Every failure becomes a ServerError with words for people.
import { NOW_HEADER, type ErrorReply } from '@lantern/contract';
import { noteServerNow } from './clock';

export class ServerError extends Error {
  constructor(
    /** The HTTP status; 0 when the server could not be reached. */
    readonly status: number,
    readonly words: string,
    readonly fields: Record<string, string> = {},
    /** What has to be done before asking again. */
    readonly needs: ErrorReply['needs'] = undefined,
  ) {
    super(words);
  }
}

const UNREACHABLE = 'The server does not answer. Check that it runs and that this device is online, then try again.';

async function request<T>(method: string, path: string, body?: object | Blob): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      headers: body && !(body instanceof Blob) ? { 'content-type': 'application/json' } : body ? { 'content-type': 'application/octet-stream' } : {},
      body: body instanceof Blob ? body : body && JSON.stringify(body),
    });
  } catch {
    throw new ServerError(0, UNREACHABLE);
  }
  const now = Number(response.headers.get(NOW_HEADER));
  if (now) noteServerNow(now);
  const text = await response.text();
  const reply = text ? tryParse(text) : null;
  if (response.ok) return reply as T;
  const error = (reply ?? {}) as Partial<ErrorReply>;
  throw new ServerError(response.status, error.words ?? UNREACHABLE, error.fields, error.needs);
}

function tryParse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

export const server = {
  get: <T>(path: string) => request<T>('GET', path),
  post: <T>(path: string, body: object = {}) => request<T>('POST', path, body),
  put: <T>(path: string, body: object | Blob) => request<T>('PUT', path, body),
  patch: <T>(path: string, body: object) => request<T>('PATCH', path, body),
  delete: (path: string) => request<void>('DELETE', path),
};

/** Words for any error, also for one that is our own mistake. */
export function wordsOf(error: unknown): string {
  return error instanceof ServerError ? error.words : 'Something went wrong on this page. Reload it and try again.';
}
