// Requests to the server. Every failure becomes a ServerError with words for people.
import { NOW_HEADER, type ErrorReply } from '@lantern/contract';
import { noteServerNow } from './clock';
import { signedInAgain } from './session';

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

/** Silence for so long is no answer. Files are sent as long as it takes. */
const MAY_TAKE_MS = 30_000;

async function request<T>(method: string, path: string, body?: object | Blob): Promise<T> {
  try {
    return await requestOnce<T>(method, path, body);
  } catch (error) {
    // The session has run out in the middle of the work: the password is asked for in place, and then it goes on.
    if (!(error instanceof ServerError) || error.status !== 401 || path === '/api/session' || !(await signedInAgain())) throw error;
    return requestOnce<T>(method, path, body);
  }
}

async function requestOnce<T>(method: string, path: string, body?: object | Blob): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      headers: body && !(body instanceof Blob) ? { 'content-type': 'application/json' } : body ? { 'content-type': 'application/octet-stream' } : {},
      body: body instanceof Blob ? body : body && JSON.stringify(body),
      ...(!(body instanceof Blob) && { signal: AbortSignal.timeout(MAY_TAKE_MS) }),
    });
  } catch {
    throw new ServerError(0, UNREACHABLE);
  }
  const now = Number(response.headers.get(NOW_HEADER));
  if (now) noteServerNow(now);
  let text: string;
  try {
    text = await response.text();
  } catch {
    throw new ServerError(0, UNREACHABLE);
  }
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
  delete: <T = void>(path: string) => request<T>('DELETE', path),
};

/** Words for any error, also for one that is our own mistake. */
export function wordsOf(error: unknown): string {
  return error instanceof ServerError ? error.words : 'Something went wrong on this page. Reload it and try again.';
}
