// Renders a part of a page against answers of a server that are given one by one.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, type RenderResult } from '@testing-library/react';
import type { ReactElement } from 'react';
import { MemoryRouter } from 'react-router';

/** What came to the server. */
export interface Asked {
  method: string;
  path: string;
  body: unknown;
}

type Answer = (asked: Asked) => { status?: number; body?: unknown } | Promise<{ status?: number; body?: unknown }>;

/** A server that answers as the last answer that was set for a request says, and notes all that came. No answer: it cannot be reached. */
export class Answers {
  readonly asked: Asked[] = [];
  private readonly answers = new Map<string, Answer>();

  constructor() {
    global.fetch = (async (path: string, { method = 'GET', body }: RequestInit = {}) => {
      const asked = { method, path: String(path), body: typeof body === 'string' ? JSON.parse(body) : undefined };
      this.asked.push(asked);
      const answer = this.answers.get(`${method} ${asked.path}`);
      if (!answer) throw new TypeError('Failed to fetch');
      const { status = 200, body: told } = await answer(asked);
      return { ok: status < 400, status, headers: new Headers(), text: async () => (told === undefined ? '' : JSON.stringify(told)) } as Response;
    }) as typeof fetch;
  }

  to(request: string, answer: Answer | null): void {
    if (answer) this.answers.set(request, answer);
    else this.answers.delete(request);
  }

  of(request: string): Asked[] {
    return this.asked.filter(({ method, path }) => `${method} ${path}` === request);
  }
}

export function show(element: ReactElement): RenderResult {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false, gcTime: Infinity } } });
  const around = (inner: ReactElement) => (
    <QueryClientProvider client={queries}>
      <MemoryRouter>{inner}</MemoryRouter>
    </QueryClientProvider>
  );
  const shown = render(around(element));
  return { ...shown, rerender: (next) => shown.rerender(around(next as ReactElement)) };
}
